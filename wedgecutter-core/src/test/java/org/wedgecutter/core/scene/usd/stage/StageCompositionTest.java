package org.wedgecutter.core.scene.usd.stage;

import static org.assertj.core.api.Assertions.assertThat;
import static org.wedgecutter.core.scene.usd.stage.StageMaker.Feature.*;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.usd.stage.StageMaker.Feature;
import org.wedgecutter.core.testing.Corpus;
import org.wedgecutter.core.testing.ReferenceStage;

/** Stages composed here against the reference implementation's, prim by prim, value by value. */
class StageCompositionTest {
  private static final int STAGES = Corpus.many(15, 200);

  @TempDir Path dir;

  static Stage open(Path file) throws InputException {
    return Stage.open(new Assets(file, List.of()), Map.of());
  }

  /** Returns a stage as lines: prims with their types, properties with all that they have. */
  static List<String> lines(Stage stage) {
    List<String> out = new ArrayList<>();
    lines(stage.root(), out);
    return out;
  }

  private static void lines(StagePrim prim, List<String> out) {
    for (StagePrim child : prim.children()) {
      out.add(child.path() + " " + child.type() + " " + child.fields().get("apiSchemas"));
      child.properties().values().stream()
          .sorted(java.util.Comparator.comparing(StagePrim.Property::name))
          .map(p ->
              "  %s.%s %s = %s %s %s"
                  .formatted(
                      child.path(),
                      p.name(),
                      p.type(),
                      p.value(),
                      rounded(p.samples()),
                      p.targets()))
          .forEach(out::add);
      lines(child, out);
    }
  }

  /** The reference writes samples of layers with an offset as values between such ones. */
  private static List<String> rounded(Map<Double, Object> samples) {
    return samples.entrySet().stream()
        .map(e ->
            e.getValue() instanceof Double d
                ? "%.9g: %.9g".formatted(e.getKey(), d)
                : "%.9g: %s".formatted(e.getKey(), e.getValue()))
        .toList();
  }

  /** Sets of features whose stages compose to the last value as the reference composes them. */
  private static final List<Set<Feature>> EXACT =
      List.of(
          EnumSet.of(SUBLAYERS, REFERENCES, PAYLOADS, VARIANTS, OFFSETS, TARGETS),
          EnumSet.of(SUBLAYERS, OFFSETS),
          EnumSet.of(REFERENCES, SPECIALIZES),
          EnumSet.of(INHERITS, VARIANTS, SPECIALIZES),
          EnumSet.of(INHERITS, REFERENCES, TARGETS),
          EnumSet.of(INHERITS, SUBLAYERS),
          EnumSet.of(INSTANCES, SPECIALIZES, INHERITS),
          EnumSet.of(INSTANCES, REFERENCES));

  /** All at once, where a class is met from several stacks and variants: not all are alike. */
  private static final Set<Feature> DENSE =
      EnumSet.of(SUBLAYERS, REFERENCES, PAYLOADS, INHERITS, SPECIALIZES, VARIANTS, OFFSETS);

  @Test
  void stagesWithArcsOfAllKindsComposeAsTheReferenceComposesThem() throws Exception {
    for (int set = 0; set < EXACT.size(); set++) {
      for (int k = 0; k < STAGES; k++) {
        StageMaker.write(dir.resolve(set + "-" + k), k, EXACT.get(set));
      }
    }
    for (int k = 0; k < STAGES; k++) {
      StageMaker.write(dir.resolve("dense-" + k), k, DENSE);
    }
    Path types = Files.createDirectories(dir.resolve("types"));
    Files.writeString(types.resolve("root.usda"), allTypes());
    ReferenceStage.flatten(dir);
    List<String> wrong = new ArrayList<>();
    int dense = 0;
    int compared = 0;
    try (Stream<Path> folders = Files.list(dir)) {
      for (Path folder : folders.sorted().toList()) {
        List<String> own = lines(open(folder.resolve("root.usda")));
        List<String> text = lines(open(folder.resolve("flat.usda")));
        List<String> crate = lines(open(folder.resolve("flat.usdc")));
        assertThat(crate).as("%s as crate", folder).isEqualTo(text);
        compared += text.size();
        if (!own.equals(text) && folder.getFileName().toString().startsWith("dense")) {
          dense++;
        } else if (!own.equals(text)) {
          wrong.add(folder.getFileName() + first(own, text));
        }
      }
    }
    assertThat(wrong).isEmpty();
    assertThat(compared).as("prims and properties").isGreaterThan(100 * STAGES);
    assertThat(dense).as("of %d stages of everything", STAGES).isLessThanOrEqualTo(STAGES / 5);
  }

  private static String first(List<String> own, List<String> other) {
    for (int k = 0; k < Math.min(own.size(), other.size()); k++) {
      if (!own.get(k).equals(other.get(k))) {
        return "\n ours      %s\n reference %s".formatted(own.get(k), other.get(k));
      }
    }
    return ": %d lines, %d by the reference".formatted(own.size(), other.size());
  }

  /** Values of every type, alone and in lists, short ones and such as the crate form packs. */
  private static String allTypes() {
    StringBuilder out = new StringBuilder("#usda 1.0\ndef \"t\"\n{\n");
    List<String[]> types =
        List.of(
            new String[] {"bool", "true", "false"},
            new String[] {"uchar", "7", "200"},
            new String[] {"int", "-7", "123456"},
            new String[] {"uint", "7", "4000000000"},
            new String[] {"int64", "-7", "1234567890123"},
            new String[] {"uint64", "7", "1234567890123"},
            new String[] {"half", "0.5", "-3"},
            new String[] {"float", "0.1", "3e20"},
            new String[] {"double", "0.1", "-1e-200"},
            new String[] {"timecode", "5", "0.25"},
            new String[] {"string", "\"a b\"", "\"\""},
            new String[] {"token", "\"up\"", "\"down\""},
            new String[] {"asset", "@a/b.png@", "@c.usd@"},
            new String[] {"int2", "(1, -2)", "(300, 4)"},
            new String[] {"int3", "(1, 2, 3)", "(1, 2, 300)"},
            new String[] {"int4", "(1, 2, 3, 4)", "(1, 2, 3, 400)"},
            new String[] {"half2", "(1, 2)", "(0.5, 2)"},
            new String[] {"half3", "(1, 2, 3)", "(0.5, 2, 3)"},
            new String[] {"half4", "(1, 2, 3, 4)", "(0.5, 2, 3, 4)"},
            new String[] {"float2", "(1, 2)", "(0.1, 2)"},
            new String[] {"point3f", "(1, 2, 3)", "(0.1, 2, 3)"},
            new String[] {"float4", "(1, -2, 3, 4)", "(0.1, 2, 3, 4)"},
            new String[] {"double2", "(1, 2)", "(0.1, 2)"},
            new String[] {"color3d", "(1, 2, 3)", "(0.1, 2, 3)"},
            new String[] {"double4", "(1, 2, 3, 4)", "(0.1, 2, 3, 4)"},
            new String[] {"quath", "(1, 0, 0, 0)", "(0.5, 0.25, 0, 1)"},
            new String[] {"quatf", "(1, 0, 0, 0)", "(0.5, 0.25, 0, 1)"},
            new String[] {"quatd", "(1, 0, 0, 0)", "(0.5, 0.25, 0, 1)"},
            new String[] {"matrix2d", "((1, 0), (0, 2))", "((1, 0.5), (0, 2))"},
            new String[] {
              "matrix3d", "((1, 0, 0), (0, 2, 0), (0, 0, 3))", "((1, 0, 0), (9, 2, 0), (0, 0, 3))"
            },
            new String[] {
              "matrix4d",
              "((1, 0, 0, 0), (0, 2, 0, 0), (0, 0, 1, 0), (0, 0, 0, 1))",
              "((1, 0, 0, 0), (0, 2, 0, 0), (0, 0, 1, 0), (5, 6.5, 7, 1))"
            });
    int n = 0;
    for (String[] t : types) {
      String both = t[1] + ", " + t[2];
      String many = String.join(", ", Collections.nCopies(20, both));
      out.append("%s a%d = %s\n%s b%d = %s\n".formatted(t[0], n, t[1], t[0], n, t[2]));
      out.append("%s[] c%d = [%s]\n%s[] d%d = [%s]\n".formatted(t[0], n, both, t[0], n, many));
      out.append("%s[] e%d = []\n".formatted(t[0], n));
      out.append(
          "%s f%d.timeSamples = { 1: %s, 2.5: None, 4: %s }\n".formatted(t[0], n, t[1], t[2]));
      n++;
    }
    List<String> whole = new ArrayList<>();
    List<String> fractions = new ArrayList<>();
    for (int k = 0; k < 500; k++) {
      whole.add(String.valueOf(k * k * (k % 3 - 1)));
      fractions.add(String.valueOf(Math.sin(k)));
    }
    out.append("int[] run = ").append(whole).append("\nfloat[] runs = ").append(whole);
    out.append("\nint64[] wide = ").append(whole).append("\ndouble[] sines = ").append(fractions);
    return out.append("\n}\n").toString();
  }
}

package org.wedgecutter.core.scene.usd.stage;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.Set;

/**
 * Makes small stages of several layers with arcs of all kinds, at random from a seed: everything
 * has few names, so that opinions meet.
 */
final class StageMaker {
  private static final List<String> TOPS = List.of("A", "B", "C", "D");
  private static final List<String> CLASSES = List.of("_k", "_l");
  private static final List<String> NAMES = List.of("x", "y", "z");
  private static final List<String> EDITS = List.of("", "prepend ", "append ", "delete ");

  /** What a stage may have. */
  enum Feature {
    SUBLAYERS,
    REFERENCES,
    PAYLOADS,
    INHERITS,
    SPECIALIZES,
    VARIANTS,
    INSTANCES,
    OFFSETS,
    TARGETS
  }

  private final Random random;
  private final Set<Feature> features;
  private final int files;

  private StageMaker(Random random, Set<Feature> features) {
    this.random = random;
    this.features = features;
    files = 2 + random.nextInt(4);
  }

  /** Writes a stage: root.usda and layers beside it. */
  static void write(Path folder, long seed, Set<Feature> features) throws IOException {
    StageMaker maker = new StageMaker(new Random(seed), features);
    Files.createDirectories(folder);
    for (int k = 0; k < maker.files; k++) {
      Files.writeString(folder.resolve(name(k)), maker.layer(k));
    }
  }

  private static String name(int k) {
    return k == 0 ? "root.usda" : "l" + k + ".usda";
  }

  private boolean chance(Feature feature, double p) {
    return features.contains(feature) && chance(p);
  }

  private boolean chance(double p) {
    return random.nextDouble() < p;
  }

  private <T> T any(List<T> list) {
    return list.get(random.nextInt(list.size()));
  }

  private String layer(int k) {
    StringBuilder out = new StringBuilder("#usda 1.0\n(\n");
    if (chance(0.8)) {
      out.append("  defaultPrim = \"").append(any(TOPS)).append("\"\n");
    }
    if (chance(Feature.OFFSETS, 0.3)) {
      out.append("  timeCodesPerSecond = ").append(any(List.of(24, 48, 12))).append('\n');
    }
    if (k < files - 1 && chance(Feature.SUBLAYERS, 0.6)) {
      List<String> subs = new ArrayList<>();
      for (int j = k + 1; j < files; j++) {
        if (chance(0.5)) {
          subs.add("@./" + name(j) + "@" + (chance(Feature.OFFSETS, 0.4) ? offset() : ""));
        }
      }
      out.append("  subLayers = [").append(String.join(", ", subs)).append("]\n");
    }
    out.append(")\n");
    for (String top : TOPS) {
      if (chance(0.75)) {
        prim(out, top, "/" + top, k, 0, "");
      }
    }
    for (String name : CLASSES) {
      if (chance(0.6)) {
        out.append(any(List.of("class", "over", "def"))).append(" \"").append(name).append("\"");
        if (name.equals("_k") && chance(Feature.INHERITS, 0.3)) {
          out.append(" (\n  prepend inherits = </_l>\n)");
        }
        out.append("\n{\n");
        properties(out, "/" + name, "  ");
        out.append("  def \"x\"\n  {\n");
        properties(out, "/" + name + "/x", "    ");
        out.append("  }\n}\n");
      }
    }
    return out.toString();
  }

  private String offset() {
    return String.format(
        Locale.ROOT, " (offset = %d; scale = %d)", random.nextInt(5), 1 + random.nextInt(3));
  }

  private void prim(
      StringBuilder out, String name, String path, int file, int depth, String indent) {
    out.append(indent).append(any(List.of("def", "def", "over", "def")));
    if (chance(0.4)) {
      out.append(any(List.of(" Scope", " Xform", " Mesh")));
    }
    out.append(" \"").append(name).append("\"");
    metadata(out, path, file, depth, indent);
    out.append('\n').append(indent).append("{\n");
    body(out, path, file, depth, indent + "  ");
    out.append(indent).append("}\n");
  }

  private void body(StringBuilder out, String path, int file, int depth, String indent) {
    properties(out, path, indent);
    if (depth < 3 && chance(Feature.VARIANTS, 0.3)) {
      out.append(indent).append("variantSet \"v\" = {\n");
      for (String name : List.of("one", "two")) {
        out.append(indent).append('"').append(name).append('"');
        metadata(out, path, file, 3, indent);
        out.append(" {\n");
        body(out, path, file, 3, indent + "  ");
        if (chance(0.5)) {
          prim(out, "x", path + "/x", file, 3, indent + "  ");
        }
        out.append(indent).append("}\n");
      }
      out.append(indent).append("}\n");
    }
    for (String name : NAMES) {
      if (depth < 3 && chance(0.4 / (depth + 1))) {
        prim(out, name, path + "/" + name, file, depth + 1, indent);
      }
    }
  }

  private void metadata(StringBuilder out, String path, int file, int depth, String indent) {
    List<String> lines = new ArrayList<>();
    if (file < files - 1 && chance(Feature.REFERENCES, 0.3)) {
      lines.add(any(EDITS) + "references = " + references(file));
    } else if (!later(path).equals("/_k") && chance(Feature.REFERENCES, 0.1)) {
      lines.add(any(EDITS) + "references = <" + later(path) + below() + ">");
    }
    if (file < files - 1 && chance(Feature.PAYLOADS, 0.15)) {
      lines.add(any(EDITS) + "payload = " + references(file));
    }
    if (chance(Feature.INHERITS, 0.2)) {
      lines.add(any(EDITS) + "inherits = " + "</" + any(CLASSES) + ">");
    }
    if (chance(Feature.SPECIALIZES, 0.12)) {
      lines.add(any(EDITS) + "specializes = " + "</" + any(CLASSES) + below() + ">");
    }
    if (chance(0.04)) {
      lines.add("active = false");
    }
    if (chance(Feature.INSTANCES, 0.06)) {
      lines.add("instanceable = true");
    }
    if (chance(Feature.VARIANTS, 0.3)) {
      lines.add("variants = { string v = \"" + any(List.of("one", "two")) + "\" }");
    }
    if (chance(Feature.VARIANTS, 0.3)) {
      lines.add("prepend variantSets = \"v\"");
    }
    if (chance(0.2)) {
      lines.add("prepend apiSchemas = [\"" + any(List.of("P", "Q", "R")) + "\"]");
    }
    if (!lines.isEmpty()) {
      out.append(" (\n");
      lines.forEach(l -> out.append(indent).append("  ").append(l).append('\n'));
      out.append(indent).append(')');
    }
  }

  /**
   * Returns a prim that comes later than the one above a path, so that arcs never form a circle.
   */
  private String later(String path) {
    int at = TOPS.indexOf(path.substring(1, 2));
    return at < 0 || at == TOPS.size() - 1
        ? "/_k"
        : "/" + TOPS.get(at + 1 + random.nextInt(TOPS.size() - at - 1));
  }

  private String below() {
    return chance(0.4) ? "/" + any(NAMES) : "";
  }

  private String references(int file) {
    List<String> out = new ArrayList<>();
    for (int k = 1 + random.nextInt(2); k > 0; k--) {
      String asset = "@./" + name(file + 1 + random.nextInt(files - file - 1)) + "@";
      String path = chance(0.5) ? "</" + any(TOPS) + below() + ">" : "";
      String one = asset + path + (chance(Feature.OFFSETS, 0.3) ? offset() : "");
      if (out.stream().noneMatch(o -> o.startsWith(asset))) {
        out.add(one);
      }
    }
    return out.size() == 1 ? out.getFirst() : "[" + String.join(", ", out) + "]";
  }

  private void properties(StringBuilder out, String path, String indent) {
    for (String name : List.of("p", "q")) {
      if (chance(0.5)) {
        out.append(indent).append("double ").append(name).append(" = ");
        out.append(chance(0.1) ? "None" : String.valueOf(random.nextInt(1000))).append('\n');
      }
      if (chance(0.2)) {
        out.append(indent).append("double ").append(name).append(".timeSamples = { ");
        out.append(random.nextInt(5)).append(": ").append(random.nextInt(1000)).append(", ");
        out.append(5 + random.nextInt(5)).append(": ").append(random.nextInt(1000));
        out.append(" }\n");
      }
    }
    if (chance(Feature.TARGETS, 0.3)) {
      out.append(indent).append(any(EDITS)).append("rel r = ");
      out.append("<").append(target(path)).append(">\n");
    }
    if (chance(Feature.TARGETS, 0.2)) {
      out.append(indent).append(any(EDITS)).append("double c.connect = <");
      out.append(target(path)).append(".p>\n");
    }
    if (chance(0.2)) {
      out.append(indent).append("float3[] f = [(1, 2, 3), (").append(random.nextInt(9));
      out.append(", 5.25, -1e-3)]\n");
    }
  }

  private String target(String path) {
    return any(List.of(path, path + "/x", "/" + any(TOPS), "/" + any(TOPS) + "/x", "/_k"));
  }
}

package org.wedgecutter.core.check;

import static org.assertj.core.api.Assertions.assertThat;
import static org.wedgecutter.core.check.MistakeSeeds.all;
import static org.wedgecutter.core.check.MistakeSeeds.base;
import static org.wedgecutter.core.check.MistakeSeeds.cell;
import static org.wedgecutter.core.check.MistakeSeeds.known;
import static org.wedgecutter.core.check.MistakeSeeds.override;
import static org.wedgecutter.core.check.MistakeSeeds.rule;
import static org.wedgecutter.core.check.MistakeSeeds.setting;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Property.Verb;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.Resolver;
import org.wedgecutter.core.scene.Scene;

/** Every mistake of the catalogue is seeded, found, and if it has a fix, mended by it. */
class CatalogueTest {
  private final Scene plain = MistakeSeeds.scene(false);
  private final Map<Mistake, MistakeSeeds.Seed> seeds = MistakeSeeds.seeds();

  private List<Finding> check(Plan plan, Scene scene) {
    Members members = new Members(scene);
    return PlanCheck.check(plan, members, Resolver.resolve(plan, members, 1));
  }

  @Test
  void aPlanWithoutMistakesHasNoFindings() throws Exception {
    assertThat(check(base(), plain)).isEmpty();
  }

  @Test
  void everyKindIsSeeded() {
    assertThat(seeds.keySet()).containsExactlyInAnyOrderElementsOf(kinds());
  }

  /** What only files and traces can tell is seeded by their tests. */
  static EnumSet<Mistake> kinds() {
    return EnumSet.complementOf(
        EnumSet.of(
            Mistake.STALE,
            Mistake.FILE_CHANGED,
            Mistake.FILE_MISSING,
            Mistake.FILE_ALTERED,
            Mistake.FILE_REWRITTEN,
            Mistake.RECORDS_DOUBTED,
            Mistake.INVALID_LIGHT,
            Mistake.PICTURE_MISSING));
  }

  @ParameterizedTest
  @MethodSource("kinds")
  void everyMistakeIsFoundAndMended(Mistake kind) throws Exception {
    MistakeSeeds.Seed seed = Objects.requireNonNull(seeds.get(kind));
    Scene scene = Objects.requireNonNullElse(seed.scene(), plain);
    Plan wrong = seed.mistake().apply(base());
    List<Finding> found = check(wrong, scene).stream().filter(f -> f.kind() == kind).toList();
    assertThat(found).as("found").isNotEmpty();
    Finding first = found.getFirst();
    assertThat(first.severity()).isEqualTo(kind.severity());
    assertThat(first.text()).isNotBlank();
    assertThat(first.advice()).isNotBlank();
    boolean named = !first.layer().isEmpty() || !first.entity().isEmpty();
    boolean ofAll =
        kind.name().startsWith("NAME_")
            || EnumSet.of(
                    Mistake.CAMERA_PLACED,
                    Mistake.LIGHT_NEUTRAL,
                    Mistake.COMPRESSION_LOSSY,
                    Mistake.MATTE_EMPTY,
                    Mistake.SCENE_INCOMPLETE,
                    Mistake.IDS_ROUNDED)
                .contains(kind);
    assertThat(named || ofAll).as("it has a place").isTrue();
    assertThat(first.fix() == null)
        .as("the catalogue tells whether it has a fix")
        .isEqualTo(kind.fix().isEmpty());
    if (first.fix() != null) {
      Plan mended = first.fix().edit().apply(wrong);
      assertThat(mended).as("the fix does something").isNotEqualTo(wrong);
      assertThat(check(mended, scene))
          .as("mended")
          .noneMatch(f -> f.kind() == kind && f.text().equals(first.text()));
    }
  }

  @Test
  void thePageInTheDocumentationIsMadeFromTheCatalogue() throws Exception {
    Path page = Path.of(System.getProperty("user.dir")).resolve("../docs/findings.md");
    assertThat(Files.readString(page))
        .as("regenerate it: ./wedgecutter check --catalogue > docs/findings.md")
        .isEqualTo(Catalogue.page());
  }

  @Test
  void aLightSplitWithoutOverlapIsNoMistake() throws Exception {
    Plan split = Objects.requireNonNull(seeds.get(Mistake.LIGHT_TWICE)).mistake().apply(base());
    List<Finding> found = check(split, plain);
    assertThat(found).noneMatch(f -> f.kind() == Mistake.SEEN_TWICE);
    Plan shared = cell("Set copy", "Lamps", c -> c.withRole(Role.ABSENT)).apply(split);
    assertThat(check(shared, plain))
        .noneMatch(f -> f.kind() == Mistake.LIGHT_TWICE || f.kind() == Mistake.SEEN_TWICE);
  }

  @Test
  void visibilityOverFramesIsToldByFrames() throws Exception {
    CellOverride gone =
        CellOverride.of(Property.VISIBLE_CAMERA, false)
            .with(
                Verb.SET,
                List.of(
                    new CellOverride.Key(1, new Value.Switch(true)),
                    new CellOverride.Key(10, new Value.Switch(false)),
                    new CellOverride.Key(15, new Value.Switch(true))),
                true);
    Plan plan = PlanEdits.override(base(), "Hero", "Hero", gone);
    Members members = new Members(plain);
    List<SeenTable.Span> spans = SeenTable.of(plan, members, Resolver.resolve(plan, members, 1));
    assertThat(spans).hasSize(3);
    assertThat(spans.get(1).first()).isEqualTo(10);
    assertThat(spans.get(1).last()).isEqualTo(14);
    assertThat(spans.get(1).never().size()).isEqualTo(1);
    assertThat(spans.get(0).causes()).isEmpty();
    assertThat(check(plan, plain))
        .anyMatch(f ->
            f.kind() == Mistake.SEEN_NOWHERE
                && "frames 10 to 14".equals(f.message().arguments().get("frames")));
  }

  private List<Sentence> said(UnaryOperator<Plan> edit) throws Exception {
    return check(edit.apply(base()), plain).stream().map(f -> f.message().sentence()).toList();
  }

  @Test
  void overridesOfTheRestAreLookedAtToo() throws Exception {
    UnaryOperator<Plan> black =
        p ->
            PlanEdits.override(
                p,
                "Hero",
                null,
                CellOverride.of(Property.MATERIAL, Verb.SET, new Value.Text("chrom")));
    assertThat(said(black)).contains(Sentence.MATERIAL_UNKNOWN);
    Finding found =
        check(black.apply(base()), plain).stream()
            .filter(f -> f.kind() == Mistake.MATERIAL_UNKNOWN)
            .findFirst()
            .orElseThrow();
    assertThat(found.message().arguments()).containsEntry("collection", "the rest");
    assertThat(found.fix().name()).startsWith("fix: ");
    // what is built in, or in the scene, is known
    for (String known : List.of("clay", plain.materials().getFirst().name())) {
      assertThat(said(override("Hero", "Hero", Property.MATERIAL, Verb.SET, new Value.Text(known))))
          .as(known)
          .doesNotContain(Sentence.MATERIAL_UNKNOWN);
    }
  }

  @Test
  void whatIsOffIsNotLookedAt() throws Exception {
    CellOverride idle =
        CellOverride.of(Property.LIGHT_INTENSITY, Verb.SCALE, new Value.Num(2)).withOn(false);
    assertThat(said(p -> PlanEdits.override(p, "Hero", "Hero", idle))).isEmpty();
    CellOverride same = CellOverride.of(Property.BOUNCES, Verb.ADD, new Value.Num(0)).withOn(false);
    assertThat(said(p -> LayerEdits.setting(p, "Hero", same))).isEmpty();
  }

  @Test
  void whatChangesNothingIsToldAndWhatIsAnExceptionIsNot() throws Exception {
    UnaryOperator<Plan> same = override("Hero", "Hero", Property.METAL, Verb.ADD, new Value.Num(0));
    assertThat(said(same)).contains(Sentence.OVERRIDE_SAME);
    UnaryOperator<Plan> exception =
        p ->
            PlanEdits.override(
                same.apply(p),
                "Hero",
                null,
                CellOverride.of(Property.METAL, Verb.ADD, new Value.Num(0.5)));
    assertThat(said(exception)).doesNotContain(Sentence.OVERRIDE_SAME);
    UnaryOperator<Plan> otherRow =
        all(same, override("Hero", "Set", Property.METAL, Verb.ADD, new Value.Num(0.5)));
    assertThat(said(otherRow)).doesNotContain(Sentence.OVERRIDE_SAME);
    UnaryOperator<Plan> otherProperty =
        all(same, override("Hero", "Set", Property.ROUGHNESS, Verb.ADD, new Value.Num(0.5)));
    assertThat(said(otherProperty)).contains(Sentence.OVERRIDE_SAME);
    assertThat(
            said(
                setting(
                    Property.BOUNCES, new Value.Num(base().requireShot().bounces().surfaces()))))
        .contains(Sentence.SETTING_SAME);
    assertThat(said(setting(Property.SAMPLES, new Value.Num(777))))
        .doesNotContain(Sentence.SETTING_SAME);
    assertThat(
            said(
                all(
                    cell("Hero", "Hero", c -> c.withRole(Role.ABSENT)),
                    override("Hero", "Hero", Property.METAL, Verb.SET, new Value.Num(1)))))
        .contains(Sentence.OVERRIDE_ON_ABSENT);
    assertThat(said(override("Hero", "Lamps", Property.METAL, Verb.SET, new Value.Num(1))))
        .contains(Sentence.OVERRIDE_ON_NOTHING);
  }

  @Test
  void keysAreOutsideOnBothSidesOfTheShotAndNotAtItsEnds() throws Exception {
    int[][] frames = {{-9, 0}, {25, 30}, {0, 1}, {24, 40}, {-9, 40}};
    boolean[] outside = {true, true, false, false, false};
    for (int k = 0; k < frames.length; k++) {
      List<CellOverride.Key> keys =
          List.of(
              new CellOverride.Key(frames[k][0], new Value.Num(0.1)),
              new CellOverride.Key(frames[k][1], new Value.Num(0.3)));
      CellOverride keyed = CellOverride.of(Property.ROUGHNESS, false).with(Verb.SET, keys, false);
      assertThat(
              said(p -> PlanEdits.override(p, "Hero", "Hero", keyed))
                  .contains(Sentence.KEYS_OUTSIDE))
          .as("keys %d to %d", frames[k][0], frames[k][1])
          .isEqualTo(outside[k]);
      CellOverride level =
          CellOverride.of(Property.ENVIRONMENT_LEVEL, false).with(Verb.SET, keys, false);
      assertThat(said(p -> LayerEdits.setting(p, "Hero", level)).contains(Sentence.KEYS_OUTSIDE))
          .isEqualTo(outside[k]);
    }
  }

  @Test
  void theWorstComesFirstAndPathsAreNamed() throws Exception {
    Plan plan =
        all(
                override("Hero", "Hero", Property.METAL, Verb.ADD, new Value.Num(0)),
                cell("Hero", "Hero", c -> c.withRole(Role.HOLDOUT)))
            .apply(base());
    List<Finding> found = check(plan, plain);
    assertThat(found).hasSizeGreaterThan(1);
    assertThat(found).isSortedAccordingTo(Comparator.comparing(Finding::severity));
    assertThat(found.getFirst().kind()).isEqualTo(Mistake.SEEN_NOWHERE);
    Plan gone = known("/hero", "/set/wall").apply(base());
    assertThat(check(gone, plain)).filteredOn(f -> f.kind() == Mistake.ENTITY_NEW).isEmpty();
    Plan loose = all(known("/set/wall"), p -> CollectionEdits.remove(p, "Hero")).apply(base());
    assertThat(check(loose, plain))
        .filteredOn(f -> f.kind() == Mistake.ENTITY_NEW)
        .singleElement()
        .satisfies(f -> assertThat(f.text()).contains("/hero").doesNotContain("/set/wall"));
  }

  @Test
  void aRowThatOnlyTheShotOrACatcherUsesIsUsed() throws Exception {
    UnaryOperator<Plan> unused = rule("Boxes", "path:/set/box*");
    assertThat(said(unused)).contains(Sentence.ROW_UNUSED);
    List<UnaryOperator<Plan>> uses =
        List.of(
            p -> p.withShot(p.requireShot().with(s -> s.links = Map.of("/lamp", "Boxes"))),
            p -> p.withOutput(p.output().withLightGroups(List.of("Boxes"))));
    for (UnaryOperator<Plan> use : uses) {
      assertThat(said(all(unused, use))).doesNotContain(Sentence.ROW_UNUSED);
    }
  }

  @Test
  void aLayerThatIsStillIsToldUnlessSomethingInItIsKeyed() throws Exception {
    UnaryOperator<Plan> still = cell("Set", "Hero", c -> c.withRole(Role.ABSENT));
    assertThat(said(still)).contains(Sentence.LAYER_STILL);
    List<CellOverride.Key> keys =
        List.of(
            new CellOverride.Key(1, new Value.Num(0.1)),
            new CellOverride.Key(9, new Value.Num(0.3)));
    CellOverride rough = CellOverride.of(Property.ROUGHNESS, false).with(Verb.SET, keys, false);
    CellOverride level =
        CellOverride.of(Property.ENVIRONMENT_LEVEL, false).with(Verb.SET, keys, false);
    assertThat(said(all(still, p -> PlanEdits.override(p, "Set", "Set", rough))))
        .doesNotContain(Sentence.LAYER_STILL);
    assertThat(said(all(still, p -> PlanEdits.override(p, "Set", null, rough))))
        .doesNotContain(Sentence.LAYER_STILL);
    assertThat(
            said(
                all(
                    still,
                    p ->
                        p.withLayers(
                            p.layers().stream()
                                .map(l ->
                                    l.name().equals("Set") ? l.withSettings(List.of(level)) : l)
                                .toList()))))
        .doesNotContain(Sentence.LAYER_STILL);
    // the hero stands still from second 2 on
    UnaryOperator<Plan> late =
        p -> p.withShot(p.requireShot().with(s -> s.frames = FrameRange.parse("60-80")));
    assertThat(said(late)).contains(Sentence.LAYER_STILL);
    for (double shutter : new double[] {0, 0.5}) {
      UnaryOperator<Plan> open =
          p ->
              p.withShot(
                  p.requireShot()
                      .with(s -> {
                        s.frames = FrameRange.parse("49-80");
                        s.shutter = shutter;
                      }));
      assertThat(said(open).contains(Sentence.LAYER_STILL))
          .as("the shutter of %s opens while it moves", shutter)
          .isEqualTo(shutter == 0);
    }
    assertThat(
            said(
                all(
                    still,
                    p -> p.withShot(p.requireShot().with(s -> s.frames = FrameRange.parse("60"))))))
        .as("one frame")
        .doesNotContain(Sentence.LAYER_STILL);
  }
}

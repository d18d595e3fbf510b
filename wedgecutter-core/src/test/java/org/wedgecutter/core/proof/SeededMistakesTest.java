package org.wedgecutter.core.proof;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.cut.Preset;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.plan.CatcherOptions;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Property.Verb;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.testing.Corpus;
import org.wedgecutter.core.testing.ShotFolder;

/** One mistake each in plans that rejoin: its cause is named, and named first. */
class SeededMistakesTest {
  @TempDir private static Path dir;
  private static LoadedShot shot;
  private static LoadedShot onPlate;

  @BeforeAll
  static void load() throws Exception {
    shot = ShotFolder.load(dir.resolve("plain"));
    onPlate = ShotFolder.loadWithPlate(dir.resolve("plate"));
  }

  /** Plans that rejoin exactly. */
  enum Base {
    HELD_OUT,
    SHADOW_APART,
    REFLECTION_APART,
    PLATE;

    LoadedShot shot() {
      return this == PLATE ? onPlate : shot;
    }

    Plan plan() {
      return switch (this) {
        case PLATE -> onPlate.plan();
        case HELD_OUT -> shot.plan();
        case SHADOW_APART ->
            Preset.SHADOW_APART.apply(shot.plan(), shot.members(), Set.of("Front"));
        case REFLECTION_APART ->
            Preset.REFLECTION_APART.apply(shot.plan(), shot.members(), Set.of("Front"));
      };
    }
  }

  private record Seed(Base base, UnaryOperator<Plan> mistake, Mistake expected) {}

  private static UnaryOperator<Plan> role(String layer, String row, Role role) {
    return p -> PlanEdits.cell(p, layer, row, c -> c.withRole(role));
  }

  private static UnaryOperator<Plan> off(String layer, String row, Property property) {
    return p -> PlanEdits.override(p, layer, row, CellOverride.of(property, false));
  }

  private static UnaryOperator<Plan> set(String layer, String row, Property property, Value value) {
    return p -> PlanEdits.override(p, layer, row, CellOverride.of(property, Verb.SET, value));
  }

  private static UnaryOperator<Plan> setting(String layer, Property property, Value value) {
    return p -> LayerEdits.setting(p, layer, CellOverride.of(property, Verb.SET, value));
  }

  private static UnaryOperator<Plan> join(String layer, Join join) {
    return p -> LayerEdits.join(p, layer, join);
  }

  private static final Map<String, Seed> SEEDS = new LinkedHashMap<>();

  private static void seed(String name, Base base, Mistake expected, UnaryOperator<Plan> mistake) {
    SEEDS.put(name, new Seed(base, mistake, expected));
  }

  static {
    Base held = Base.HELD_OUT;
    for (String name : List.of("Floor", "Back", "Front")) {
      seed(
          name + " disabled",
          held,
          Mistake.LAYER_NOT_RENDERED,
          p -> LayerEdits.layer(p, name, l -> l.withRender(false)));
      seed(name + " not joined", held, Mistake.LAYER_NOT_JOINED, p -> LayerEdits.unjoin(p, name));
      seed(
          name + " held out of its layer",
          held,
          Mistake.SEEN_NOWHERE,
          role(name, name, Role.HOLDOUT));
      seed(
          name + " with fewer bounces",
          held,
          Mistake.SETTINGS_DIFFER,
          setting(name, Property.BOUNCES, new Value.Num(0)));
    }
    seed("front seen with the back", held, Mistake.SEEN_TWICE, role("Back", "Front", Role.SEEN));
    seed("back seen with the floor", held, Mistake.SEEN_TWICE, role("Floor", "Back", Role.SEEN));
    seed("floor seen with the front", held, Mistake.SEEN_TWICE, role("Front", "Floor", Role.SEEN));
    seed(
        "front unseen with the back",
        held,
        Mistake.PLUS_ON_COMPLETE,
        role("Back", "Front", Role.UNSEEN));
    seed(
        "front unseen with the floor",
        held,
        Mistake.PLUS_ON_COMPLETE,
        role("Floor", "Front", Role.UNSEEN));
    seed("front held out, joined over", held, Mistake.OVER_ON_HELD_OUT, join("Front", Join.OVER));
    seed("back held out, joined over", held, Mistake.OVER_ON_HELD_OUT, join("Back", Join.OVER));
    seed(
        "front casts no shadow on the floor",
        held,
        Mistake.LIGHT_DIFFERS,
        off("Floor", "Front", Property.SHADOW_CASTS));
    seed(
        "back casts no shadow on the floor",
        held,
        Mistake.LIGHT_DIFFERS,
        off("Floor", "Back", Property.SHADOW_CASTS));
    seed(
        "front bounces no light to the floor",
        held,
        Mistake.LIGHT_DIFFERS,
        off("Floor", "Front", Property.VISIBLE_BOUNCE));
    seed(
        "floor receives no shadows",
        held,
        Mistake.LIGHT_DIFFERS,
        off("Floor", "Floor", Property.SHADOW_RECEIVES));
    seed(
        "floor reflects on the back no more",
        held,
        Mistake.LIGHT_DIFFERS,
        off("Back", "Floor", Property.VISIBLE_BOUNCE));
    seed(
        "red floor in its layer alone",
        held,
        Mistake.OVERRIDE_DIFFERS,
        set("Floor", "Floor", Property.BASE_COLOR, new Value.Colour(1, 0, 0)));
    seed(
        "red front in its layer alone",
        held,
        Mistake.OVERRIDE_DIFFERS,
        set("Front", "Front", Property.BASE_COLOR, new Value.Colour(1, 0, 0)));
    seed(
        "glowing back in its layer alone",
        held,
        Mistake.OVERRIDE_DIFFERS,
        set("Back", "Back", Property.EMISSION, new Value.Colour(2, 2, 2)));
    seed(
        "dim sky in one layer",
        held,
        Mistake.SETTINGS_DIFFER,
        setting("Floor", Property.ENVIRONMENT_LEVEL, new Value.Num(0.5)));
    seed(
        "turned sky in one layer",
        held,
        Mistake.SETTINGS_DIFFER,
        setting("Floor", Property.ENVIRONMENT_TURN, new Value.Num(90)));
    seed(
        "other samples",
        held,
        Mistake.SETTINGS_DIFFER,
        setting("Back", Property.SAMPLES, new Value.Num(1)));
    seed(
        "half the size",
        held,
        Mistake.SETTINGS_DIFFER,
        setting("Back", Property.SIZE, new Value.Size(20, 12)));
    seed(
        "held though it turns",
        held,
        Mistake.HELD_NOT_STILL,
        setting("Front", Property.FRAMES, new Value.Text("1")));

    Base apart = Base.SHADOW_APART;
    seed(
        "shadow layer disabled",
        apart,
        Mistake.LAYER_NOT_RENDERED,
        p -> LayerEdits.layer(p, caught(p), l -> l.withRender(false)));
    seed(
        "shadow layer not joined",
        apart,
        Mistake.LAYER_NOT_JOINED,
        p -> LayerEdits.unjoin(p, caught(p)));
    seed(
        "shadow joined by times",
        apart,
        Mistake.WRONG_JOIN,
        p -> LayerEdits.join(p, caught(p), Join.TIMES));
    seed(
        "caster absent where it is caught",
        apart,
        Mistake.LIGHT_DIFFERS,
        p -> PlanEdits.cell(p, caught(p), "Front", c -> c.withRole(Role.ABSENT)));
    seed(
        "another object absent where the shadow is caught",
        apart,
        Mistake.LIGHT_DIFFERS,
        p -> PlanEdits.cell(p, caught(p), "Back", c -> c.withRole(Role.ABSENT)));
    seed(
        "nothing casts where the shadow is caught",
        apart,
        Mistake.CATCHER_IDLE,
        p ->
            PlanEdits.cell(
                p, caught(p), "Front", c -> c.withCatcher(c.catching().withCaster(false))));
    for (String name : List.of("Front", "Back")) {
      seed(
          name + " absent where the plate catches",
          Base.PLATE,
          Mistake.LIGHT_DIFFERS,
          role("Caught", name, Role.ABSENT));
      seed(
          name + " does not cast on the plate",
          Base.PLATE,
          Mistake.LIGHT_DIFFERS,
          p ->
              PlanEdits.cell(p, "Caught", name, c -> c.withCatcher(c.catching().withCaster(null))));
    }
    seed(
        "the caught shadow is not joined",
        Base.PLATE,
        Mistake.LAYER_NOT_JOINED,
        p -> LayerEdits.unjoin(p, "Caught"));
    seed(
        "half the shadow",
        apart,
        Mistake.CATCH_TUNED,
        tuned(new CatcherTuning(0.5, new Value.Colour(0, 0, 0), 1, List.of(), null, List.of())));
    seed("bounce alone", apart, Mistake.CATCH_TUNED, output(CatcherOutput.BOUNCE));
  }

  private static String caught(Plan plan) {
    return plan.layers().stream()
        .filter(l -> l.rest().role() == Role.CATCHER)
        .findFirst()
        .orElseThrow()
        .name();
  }

  private static UnaryOperator<Plan> catching(UnaryOperator<CatcherOptions> edit) {
    return p -> PlanEdits.cell(p, caught(p), null, c -> c.withCatcher(edit.apply(c.catching())));
  }

  private static UnaryOperator<Plan> tuned(CatcherTuning tuning) {
    return catching(c -> c.withTuning(tuning));
  }

  private static UnaryOperator<Plan> output(CatcherOutput output) {
    return catching(c -> c.withOutput(output));
  }

  private static PlanProof prove(Base base, Plan plan) {
    LoadedShot next = base.shot().withPlan(plan);
    FrameRenderer renderer =
        new FrameRenderer(next, FrameRenderer.Settings.of(next, 1, 4, 2, false));
    return PlanProof.prove(next, 2, renderer, p -> {});
  }

  static List<String> names() {
    return List.copyOf(SEEDS.keySet());
  }

  @ParameterizedTest
  @MethodSource("names")
  void theRightCauseComesFirst(String name) {
    Seed seed = SEEDS.get(name);
    Plan plan = seed.mistake.apply(seed.base.plan());
    assertThat(plan).isNotEqualTo(seed.base.plan());
    PlanProof proof = prove(seed.base, plan);
    assertThat(proof.residual().exact()).as("the mistake shows").isFalse();
    assertThat(proof.causes()).as("%s: a cause", name).isNotEmpty();
    Cause first = proof.causes().getFirst();
    assertThat(first.kind()).as("%s", proof.causes()).isEqualTo(seed.expected);
    assertThat(first.share()).isBetween(0.02, 1.0);
    for (int c = 1; c < proof.causes().size(); c++) {
      assertThat(proof.causes().get(c).share())
          .as("largest first")
          .isLessThanOrEqualTo(proof.causes().get(c - 1).share() + 0.02);
    }
    double told = proof.causes().stream().mapToDouble(Cause::share).sum();
    assertThat(told + proof.unexplained()).as("the list adds up").isEqualTo(1, within(0.021));
  }

  /** What the check of a plan says before, and its proof after. */
  @ParameterizedTest
  @MethodSource("names")
  void theCheckKnowsItBefore(String name) {
    Seed seed = SEEDS.get(name);
    LoadedShot wrong = seed.base.shot().withPlan(seed.mistake.apply(seed.base.plan()));
    assertThat(PlanCheck.check(wrong, wrong.resolve(2)))
        .as(name)
        .anyMatch(f -> f.kind() == seed.expected);
  }

  static List<String> someNames() {
    return Corpus.oneIn(3, names());
  }

  /** The files are as they were rendered: their plan is what is wrong. */
  @ParameterizedTest
  @MethodSource("someNames")
  void ofADeliveryThePlansMistakeIsNamedFirst(String name) throws Exception {
    Seed seed = SEEDS.get(name);
    LoadedShot wrong = seed.base.shot().withPlan(seed.mistake.apply(seed.base.plan()));
    Path out = dir.resolve("delivered-" + name.replace(' ', '-'));
    FrameRenderer.Settings settings = FrameRenderer.Settings.of(wrong, 1, 0, 2, false);
    DeliveryOrder order = new DeliveryOrder(out, List.of(), List.of(2), true, settings, false);
    Delivery delivery = new DeliveryRenderer(wrong, order).run((f, p, s) -> {});
    DeliveryProof proof = DeliveryProof.prove(delivery, 2);
    assertThat(proof.exact()).isFalse();
    assertThat(proof.causes()).as(name).isNotEmpty();
    assertThat(proof.causes().getFirst().kind()).as("%s", proof.causes()).isEqualTo(seed.expected);
    double told = proof.causes().stream().filter(Cause::isMeasured).mapToDouble(Cause::share).sum();
    assertThat(told + proof.unexplained()).as("shares add up").isBetween(0.97, 1.03);
  }

  /** Two mistakes at once: what each explains, also where the larger hides the smaller. */
  private static final List<List<String>> PAIRS =
      List.of(
          List.of("Back disabled", "floor receives no shadows"),
          List.of("red floor in its layer alone", "Front not joined"),
          List.of("Floor with fewer bounces", "front held out, joined over"),
          List.of("front unseen with the back", "front unseen with the floor"),
          List.of("front seen with the back", "Back disabled"),
          List.of("half the shadow", "another object absent where the shadow is caught"),
          List.of("shadow joined by times", "caster absent where it is caught"),
          List.of("Front absent where the plate catches", "Back does not cast on the plate"));

  @Test
  void twoMistakesAtATimeAreRecognisedIn95Percent() {
    List<String> names = names();
    List<String> wrong = new ArrayList<>();
    int all = 0;
    for (int a = 0; a < names.size(); a++) {
      for (int b = a + 1; b < names.size(); b++) {
        Seed one = SEEDS.get(names.get(a));
        Seed two = SEEDS.get(names.get(b));
        if (one.base != two.base || (a + b) % Corpus.many(12, 3) != 0) {
          continue;
        }
        Plan first = one.mistake.apply(one.base.plan());
        Plan both = two.mistake.apply(first);
        double together = prove(one.base, both).residual().excess();
        double alone = prove(one.base, first).residual().excess();
        double other = prove(one.base, two.mistake.apply(one.base.plan())).residual().excess();
        // one that undoes or hides the other leaves one mistake
        if (both.equals(first) || together < 1.02 * Math.max(alone, other)) {
          continue;
        }
        all++;
        PlanProof proof = prove(one.base, both);
        List<Mistake> kinds = proof.causes().stream().limit(2).map(Cause::kind).toList();
        if (!kinds.contains(one.expected) || !kinds.contains(two.expected)) {
          wrong.add(
              "%s + %s: %s"
                  .formatted(
                      names.get(a),
                      names.get(b),
                      proof.causes().stream().map(Cause::text).toList()));
        }
      }
    }
    assertThat(all).isGreaterThan(10);
    assertThat(1 - (double) wrong.size() / all)
        .as(String.join("\n", wrong))
        .isGreaterThanOrEqualTo(0.95);
  }

  private static final Map<Property, Value> SETTINGS = new LinkedHashMap<>();

  static {
    SETTINGS.put(Property.BOUNCES, new Value.Num(0));
    SETTINGS.put(Property.BOUNCES_GLASS, new Value.Num(1));
    SETTINGS.put(Property.BOUNCES_MEDIA, new Value.Num(7));
    SETTINGS.put(Property.SEE_THROUGH, new Value.Switch(true));
    SETTINGS.put(Property.SIZE, new Value.Size(20, 24));
    SETTINGS.put(Property.SAMPLES, new Value.Num(1));
    SETTINGS.put(Property.ENVIRONMENT_LEVEL, new Value.Num(0.5));
    SETTINGS.put(Property.ENVIRONMENT_TURN, new Value.Num(90));
  }

  private static void tell(StringBuilder out, String name, Base base, Plan plan) {
    out.append(name).append('\n');
    PlanProof proof = prove(base, plan);
    LoadedShot cut = base.shot().withPlan(plan);
    CauseFixes fixes = new CauseFixes(plan, cut.members(), cut.resolve(2));
    for (Cause c : proof.causes()) {
      var fix = fixes.without(c);
      String after = "you decide";
      if (fix != null) {
        PlanProof mended = prove(base, fix.apply(plan));
        after = mended.residual().exact() ? "then exact" : "then not yet";
      }
      out.append(
          "  %2.0f0 %%  %s  [%s]  %s%n"
              .formatted(c.share() * 10, c.text(), c.layer(), after)
              .replace("\r", ""));
    }
    if (proof.unexplained() > 0.02) {
      out.append(
          "  %2.0f0 %%  unexplained%n".formatted(proof.unexplained() * 10).replace("\r", ""));
    }
  }

  /**
   * What the proof reports of every mistake: the words, the share in tens, and what its fix leaves.
   */
  static String page() {
    StringBuilder out = new StringBuilder();
    SEEDS.forEach((name, seed) -> tell(out, name, seed.base, seed.mistake.apply(seed.base.plan())));
    for (List<String> pair : PAIRS) {
      Seed a = SEEDS.get(pair.get(0));
      Seed b = SEEDS.get(pair.get(1));
      tell(out, String.join(" + ", pair), a.base, b.mistake.apply(a.mistake.apply(a.base.plan())));
    }
    SETTINGS.forEach((property, value) -> {
      Plan plan = setting("Back", property, value).apply(shot.plan());
      out.append(property.word()).append('\n');
      for (Cause c : CauseFinder.find(plan, shot.scene(), shot.withPlan(plan).resolve(1), null)) {
        out.append("  ").append(c.text()).append("  [").append(c.layer()).append("]\n");
      }
    });
    return out.toString();
  }

  @Test
  void everythingThatIsToldIsAsOnThePageThatWasRead() throws Exception {
    String expected =
        new String(
            SeededMistakesTest.class.getResourceAsStream("mistakes.txt").readAllBytes(),
            java.nio.charset.StandardCharsets.UTF_8);
    assertThat(page()).isEqualTo(expected);
  }

  @Test
  void thereAreThirtyOfThem() {
    assertThat(SEEDS).hasSizeGreaterThanOrEqualTo(30);
  }

  @ParameterizedTest
  @EnumSource(Base.class)
  void cleanPlansHaveNoCause(Base base) {
    PlanProof proof = prove(base, base.plan());
    assertThat(proof.residual().exact()).isTrue();
    assertThat(proof.causes()).isEmpty();
  }
}

package org.wedgecutter.core.proof;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Shots;

/**
 * Plans of a few objects that nobody would write down for show: hazes, panes, split lights, chains
 * of catchers, ratios that show something, light of any size. What a plan's check says of each and
 * what its proof says must fit.
 */
class SmallPlansTest {
  /** A plan, and what its proof is to say: null means that it rejoins exactly. */
  private record Case(LoadedShot shot, Mistake expected) {}

  private static final Map<String, Case> CASES = new LinkedHashMap<>();

  private static SceneMaker stage(double light) {
    return new SceneMaker()
        .mesh("/floor", SceneMaker.floor(4, 4), SceneMaker.matte(0.5), 0, -1, 0)
        .mesh("/hero", SceneMaker.box(0.5), SceneMaker.matte(0.7), -0.6, -0.4, 0.5)
        .mesh("/card", SceneMaker.wall(0.6, 0.6), SceneMaker.matte(0.3), 0.8, -0.2, -0.5)
        .mesh("/ball", SceneMaker.sphere(0.3, 8), SceneMaker.matte(0.6), 0.5, -0.6, 1)
        .pointLight("/key", light, 2, 3, 2)
        .camera(0.9, 0, 0.4, 5);
  }

  private static LoadedShot shot(Scene scene, String rows, String layers, String joins) {
    return Shots.of(
        scene,
        "1",
        "\"samples\": 4, \"bounces\": 2",
        "\"collections\": [%s], \"layers\": [%s], \"recipe\": {\"joins\": [%s]}"
            .formatted(rows, layers, joins));
  }

  private static String row(String name, String rule) {
    return "{\"name\": \"%s\", \"rule\": \"%s\"}".formatted(name, rule);
  }

  /** A layer whose cells are {@code ROW=role} with an optional text after it, and its rest. */
  private static String layer(String name, String rest, String... cells) {
    StringBuilder all = new StringBuilder();
    for (String cell : cells) {
      int at = cell.indexOf('=');
      all.append(all.isEmpty() ? "" : ", ")
          .append("\"%s\": %s".formatted(cell.substring(0, at), role(cell.substring(at + 1))));
    }
    return "{\"name\": \"%s\", \"cells\": {%s}, \"rest\": %s}".formatted(name, all, role(rest));
  }

  private static String role(String text) {
    int space = text.indexOf(' ');
    return space < 0
        ? "{\"role\": \"%s\"}".formatted(text)
        : "{\"role\": \"%s\", %s}".formatted(text.substring(0, space), text.substring(space + 1));
  }

  private static String joins(String... layers) {
    return List.of(layers).stream()
        .map(l -> {
          String[] parts = l.split(" ");
          return "{\"layer\": \"%s\", \"join\": \"%s\"}".formatted(parts[0], parts[1]);
        })
        .collect(Collectors.joining(", "));
  }

  private static final String ROWS =
      String.join(
          ", ",
          row("Floor", "floor | kind:environment"),
          row("Hero", "hero"),
          row("Card", "card"),
          row("Ball", "ball"),
          row("Fill", "fill"),
          row("Key", "key"),
          row("Air", "kind:medium"));

  /** A caster that is held out. */
  private static final String CASTS = "Holdout \"catcher\": {\"caster\": true}";

  private static void add(
      String name, Mistake expected, Scene scene, List<String> layers, String joins) {
    CASES.put(name, new Case(shot(scene, ROWS, String.join(", ", layers), joins), expected));
  }

  static {
    Scene plain = stage(30).scene();
    Scene air = stage(30).medium("/air", SceneMaker.everywhere(0.1, 0.8), 1, 1, 1, 0, 0, 0).scene();
    List<String> three =
        List.of(
            layer("Set", "Holdout", "Floor=Seen", "Card=Seen"),
            layer("Hero", "Holdout", "Hero=Seen"),
            layer("Ball", "Holdout", "Ball=Seen"));
    add("held out", null, plain, three, joins("Set plus", "Hero plus", "Ball plus"));
    add(
        "haze held out",
        null,
        air,
        List.of(three.get(0), three.get(1), three.get(2), layer("Air", "Holdout", "Air=Seen")),
        joins("Set plus", "Hero plus", "Ball plus", "Air plus"));
    add(
        "haze unseen in the set and added",
        Mistake.PLUS_ON_COMPLETE,
        air,
        List.of(
            layer("Set", "Holdout", "Floor=Seen", "Card=Seen", "Air=Unseen"),
            three.get(1),
            three.get(2),
            layer("Air", "Holdout", "Air=Seen")),
        joins("Set plus", "Hero plus", "Ball plus", "Air plus"));
    add(
        "haze in no layer",
        Mistake.SEEN_NOWHERE,
        air,
        three,
        joins("Set plus", "Hero plus", "Ball plus"));
    add(
        "a pane of glass",
        null,
        stage(30)
            .mesh(
                "/pane",
                SceneMaker.wall(1, 1),
                SceneMaker.colored(0.2, 0.9, 0.4).with(m -> m.opacity = 0.3f),
                -0.4,
                -0.2,
                1.8)
            .scene(),
        List.of(three.get(0), layer("Rest", "Seen", "Floor=Holdout", "Card=Holdout")),
        joins("Set plus", "Rest plus"));
    // hero, card and ball cast onto the floor one after another
    List<String> chain =
        List.of(
            layer("Floor", "Absent", "Floor=Seen", "Key=Unseen"),
            layer("HeroShadow", "Absent", "Floor=Catcher", "Hero=" + CASTS, "Key=Unseen"),
            layer(
                "CardShadow",
                "Absent",
                "Floor=Catcher",
                "Hero=Holdout",
                "Card=" + CASTS,
                "Key=Unseen"),
            layer("BallShadow", "Holdout", "Floor=Catcher", "Ball=" + CASTS, "Key=Unseen"),
            layer("Things", "Holdout", "Hero=Seen", "Card=Seen", "Ball=Seen"));
    // what the floor shows is cut by all that stands before it, also where that is not there yet
    String cut = "Holdout \"overrides\": [%s]".formatted(off());
    List<String> cutChain =
        List.of(
            layer("Floor", "Holdout", "Floor=Seen", "Hero=" + cut, "Card=" + cut, "Ball=" + cut),
            layer(
                "HeroShadow",
                "Holdout",
                "Floor=Catcher",
                "Hero=" + CASTS,
                "Card=" + cut,
                "Ball=" + cut),
            layer("CardShadow", "Holdout", "Floor=Catcher", "Card=" + CASTS, "Ball=" + cut),
            chain.get(3),
            chain.get(4));
    String chained =
        joins("Floor plus", "HeroShadow plus", "CardShadow plus", "BallShadow plus", "Things plus");
    add("three chained catchers", null, plain, cutChain, chained);
    add(
        "two catchers as if the other were not there",
        Mistake.DOUBLED_SHADOW,
        plain,
        List.of(
            cutChain.get(0),
            cutChain.get(1),
            layer(
                "CardShadow",
                "Holdout",
                "Floor=Catcher",
                "Card=" + CASTS,
                "Hero=" + cut,
                "Ball=" + cut),
            cutChain.get(3),
            cutChain.get(4)),
        chained);
    Scene two = stage(30).pointLight("/fill", 12, -3, 2, 1).scene();
    List<String> split =
        List.of(layer("ByKey", "Seen", "Fill=Absent"), layer("ByFill", "Seen", "Key=Absent"));
    add("lights split", null, two, split, joins("ByKey plus", "ByFill light"));
    add(
        "lights split, alpha added twice",
        Mistake.ALPHA_COUNT,
        two,
        split,
        joins("ByKey plus", "ByFill plus"));
    add(
        "lights split, no alpha at all",
        Mistake.ALPHA_COUNT,
        two,
        split,
        joins("ByKey light", "ByFill light"));
    add(
        "the key is on in both",
        Mistake.LIGHT_TWICE,
        two,
        List.of(split.get(0), layer("ByFill", "Seen")),
        joins("ByKey plus", "ByFill light"));
    add(
        "a ratio with something Seen",
        Mistake.SEEN_IN_RATIO,
        plain,
        List.of(
            layer("Set", "Holdout", "Floor=Seen", "Card=Seen", "Hero=" + cut),
            layer(
                "Shadow",
                "Holdout",
                "Floor=Catcher \"catcher\": {\"output\": \"ratio\"}",
                "Card=Catcher \"catcher\": {\"output\": \"ratio\"}",
                "Hero=Seen"),
            three.get(2)),
        joins("Set plus", "Shadow times", "Ball plus"));
    add(
        "a noise filter in one layer",
        Mistake.SETTINGS_DIFFER,
        plain,
        List.of(
            three.get(0),
            layer("Hero", "Holdout", "Hero=Seen")
                .replace(
                    "\"cells\"",
                    "\"settings\": [{\"property\": \"denoise\", \"verb\": \"set\", \"value\": 1, \"on\": true}], \"cells\""),
            three.get(2)),
        joins("Set plus", "Hero plus", "Ball plus"));
    String red =
        " \"overrides\": [{\"property\": \"material.base-color\", \"verb\": \"set\", \"value\": [1, 0, 0], \"on\": true}]";
    add(
        "one override in all layers",
        Mistake.OVERRIDE_DIFFERS,
        plain,
        List.of(
            layer("Set", "Holdout", "Floor=Seen" + red, "Card=Seen"),
            layer("Hero", "Holdout", "Hero=Seen", "Floor=Holdout" + red),
            layer("Ball", "Holdout", "Ball=Seen", "Floor=Holdout" + red)),
        joins("Set plus", "Hero plus", "Ball plus"));
    add(
        "a catcher without a caster",
        Mistake.CATCHER_IDLE,
        plain,
        List.of(
            layer("Set", "Holdout", "Floor=Seen", "Card=Seen", "Hero=" + cut),
            layer("Shadow", "Holdout", "Floor=Catcher", "Card=Catcher"),
            three.get(1),
            three.get(2)),
        joins("Set plus", "Shadow plus", "Hero plus", "Ball plus"));
    add(
        "an emission that floats cannot hold",
        Mistake.INVALID_LIGHT,
        stage(30)
            .mesh("/lamp", SceneMaker.wall(0.3, 0.3), SceneMaker.glowing(3e38), 0, 0.8, 0)
            .scene(),
        List.of(layer("Set", "Seen", "Hero=Holdout", "Ball=Holdout"), three.get(1), three.get(2)),
        joins("Set plus", "Hero plus", "Ball plus"));
  }

  /** Switches by which a thing takes part in no light. */
  private static String off() {
    return List.of("visible.reflection", "visible.bounce", "visible.transmission", "shadow.casts")
        .stream()
        .map(p ->
            "{\"property\": \"%s\", \"verb\": \"set\", \"value\": false, \"on\": true}"
                .formatted(p))
        .collect(Collectors.joining(", "));
  }

  private static PlanProof prove(LoadedShot shot) {
    FrameRenderer renderer =
        new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 1, 4, 2, false));
    return PlanProof.prove(shot, 1, renderer, p -> {});
  }

  static List<String> names() {
    return List.copyOf(CASES.keySet());
  }

  @ParameterizedTest
  @MethodSource("names")
  void itsProofAndItsCheckAgree(String name) {
    Case of = CASES.get(name);
    PlanProof proof = prove(of.shot);
    List<Finding> findings = PlanCheck.check(of.shot, of.shot.resolve(1));
    List<String> texts = proof.causes().stream().map(Cause::text).toList();
    if (of.expected == null) {
      assertThat(proof.residual().exact()).as("%s: max %s", texts, proof.residual().max()).isTrue();
      assertThat(findings)
          .as("an error that is exact")
          .noneMatch(f -> f.severity() == Mistake.Severity.ERROR);
      return;
    }
    assertThat(proof.residual().exact()).as("it rejoins").isFalse();
    assertThat(proof.causes()).as("a residual without a cause").isNotEmpty();
    assertThat(proof.causes().getFirst().kind()).as("%s", texts).isEqualTo(of.expected);
    if (of.expected != Mistake.INVALID_LIGHT) {
      assertThat(findings).as("found before").anyMatch(f -> f.kind() == of.expected);
      double told =
          proof.causes().stream().filter(Cause::isMeasured).mapToDouble(Cause::share).sum();
      assertThat(told + proof.unexplained()).as("shares add up").isBetween(0.99, 1.01);
    }
  }

  @Test
  void anOverrideOfAllLayersIsOneCause() {
    assertThat(prove(CASES.get("one override in all layers").shot).causes())
        .singleElement()
        .satisfies(c -> {
          assertThat(c.message().sentence()).isEqualTo(Sentence.OVERRIDE_IN_ALL);
          assertThat(c.share()).isGreaterThan(0.99);
        });
  }

  /** The same cut, clean and without the hero's shadow, under light of any size. */
  @ParameterizedTest
  @ValueSource(doubles = {1e-6, 1e-4, 1, 1e3, 1e6})
  void lightOfAnySizeChangesNoVerdict(double light) {
    Scene scene = stage(30 * light).scene();
    String layers =
        String.join(
            ", ",
            layer("Set", "Holdout", "Floor=Seen", "Card=Seen"),
            layer("Hero", "Holdout", "Hero=Seen"),
            layer("Ball", "Holdout", "Ball=Seen"));
    String joins = joins("Set plus", "Hero plus", "Ball plus");
    LoadedShot clean = shot(scene, ROWS, layers, joins);
    assertThat(prove(clean).residual().exact()).isTrue();
    // halves, in which it is written, hold no such light: told before
    assertThat(PlanCheck.check(clean, clean.resolve(1)).stream().map(Finding::kind).toList())
        .as("beyond halves")
        .filteredOn(k -> k == Mistake.HALF_RANGE)
        .hasSize(light < 1e-5 ? 1 : light > 1e5 ? 3 : 0);
    String without =
        layers.replace(
            "\"Card\": {\"role\": \"Seen\"}",
            "\"Card\": {\"role\": \"Seen\"}, \"Hero\": {\"role\": \"Holdout\", \"overrides\": [%s]}"
                .formatted(off()));
    PlanProof proof = prove(shot(scene, ROWS, without, joins));
    assertThat(proof.residual().exact()).isFalse();
    assertThat(proof.residual().beyond()).isGreaterThan(0.01);
    assertThat(proof.causes().getFirst().kind()).isEqualTo(Mistake.LIGHT_DIFFERS);
    assertThat(proof.causes().getFirst().text())
        .as("it says which switches")
        .contains("shadow.casts")
        .contains("visible.bounce");
  }
}

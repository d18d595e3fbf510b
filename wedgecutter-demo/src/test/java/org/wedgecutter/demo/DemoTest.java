package org.wedgecutter.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Objects;
import java.util.stream.Stream;
import org.joml.Vector3f;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.carry.Carry;
import org.wedgecutter.core.carry.PlanCarrier;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.cut.CatcherParts;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.export.LayeredProof;
import org.wedgecutter.core.export.RejoinedFile;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.PictureFiles;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanSchema;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.FrameResidual;
import org.wedgecutter.core.proof.PlanProof;
import org.wedgecutter.core.proof.Residual;
import org.wedgecutter.core.rejoin.Expression;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.core.rejoin.TracedSource;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneFacts;
import org.wedgecutter.core.testing.Corpus;

/** The demo shot as it ships, and the generator that made it. */
class DemoTest {
  private static final Path DEMO = Path.of(System.getProperty("wedgecutter.root"), "demo/orrery");
  private static LoadedShot heldOut;
  private static LoadedShot over;

  @BeforeAll
  static void load() throws Exception {
    heldOut = LoadedShot.load(DEMO.resolve("orrery.wedge"));
    over = LoadedShot.load(DEMO.resolve("orrery-over.wedge"));
  }

  private static FrameRenderer renderer(LoadedShot shot, int samples) {
    return renderer(shot, 0.08, samples);
  }

  private static FrameRenderer renderer(LoadedShot shot, double scale, int samples) {
    return new FrameRenderer(shot, FrameRenderer.Settings.of(shot, scale, samples, 0, false));
  }

  private static PlanProof prove(LoadedShot shot, int frame, int samples) {
    return PlanProof.prove(shot, frame, renderer(shot, samples), p -> {});
  }

  /** Compares without a search for causes. */
  private static Residual residual(LoadedShot shot, int frame, int samples) {
    return FrameResidual.of(shot, frame, renderer(shot, samples)).residual();
  }

  private static RenderedFrame render(LoadedShot shot, int frame, int samples) {
    return renderer(shot, samples).render(frame, l -> true, true, p -> {});
  }

  @Test
  void theGeneratorWritesWhatIsCommitted(@TempDir Path dir) throws Exception {
    Path plate = DEMO.resolveSibling("courtyard/plate.exr");
    Files.createDirectories(dir.resolve("courtyard"));
    Files.copy(plate, dir.resolve("courtyard/plate.exr"));
    GenerateDemo.write(dir);
    try (Stream<Path> files = Files.walk(dir).filter(Files::isRegularFile)) {
      for (Path file : files.toList()) {
        Path own = DEMO.getParent().resolve(dir.relativize(file).toString());
        assertThat(Files.mismatch(file, own))
            .as("first byte of %s that differs", own)
            .isEqualTo(-1);
      }
    }
  }

  /** Painting the textures of the plate's scene takes half a minute, whatever the part. */
  @Test
  void aPartOfThePlateTracedAnewIsThatOfTheWhole() throws Exception {
    assumeTrue(Corpus.isWhole(), "only in a whole run");
    Picture whole = PictureFiles.read(DEMO.resolveSibling("courtyard/plate.exr"));
    Region part = new Region(400, 330, 4, 3);
    Picture again = CourtyardPlate.picture(part);
    for (int p = 0; p < 4 * 3; p++) {
      int at = 4 * ((330 + p / 4) * whole.width() + 400 + p % 4);
      for (int c = 0; c < 3; c++) {
        float v = whole.rgba()[at + c];
        assertThat(again.rgba()[4 * p + c]).isCloseTo(v, within(1e-3f * (1 + v)));
      }
    }
  }

  @Test
  void aPlateHasNoPassesThatACatchersPartsCouldScale() throws Exception {
    LoadedShot courtyard = LoadedShot.load(DEMO.resolveSibling("courtyard/courtyard.wedge"));
    Plan onPlate = CatcherParts.split(courtyard.plan(), courtyard.members(), "Heron on paving");
    Plan onTable = CatcherParts.split(heldOut.plan(), heldOut.members(), "Table shadows");
    assertThat(onPlate.layers()).hasSize(courtyard.plan().layers().size() + 3);
    assertThat(light(onPlate, "Heron on paving shadow")).isEqualTo(Recipe.Light.ALL);
    assertThat(light(onTable, "Table shadows shadow")).isEqualTo(Recipe.Light.DIRECT);
    assertThat(light(onTable, "Table shadows occlusion")).isEqualTo(Recipe.Light.INDIRECT);
  }

  @Test
  void theShadowOnTheTableIsExactInFourPartsOnceTheTableStandsAtTheBack() throws Exception {
    LoadedShot split =
        heldOut.withPlan(
            Expression.written(
                CatcherParts.split(heldOut.plan(), heldOut.members(), "Table shadows")));
    assertThat(residual(split, 1, 2).exact()).isFalse();
    List<Finding> found = PlanCheck.check(split, split.resolve(1));
    assertThat(found).extracting(Finding::kind).containsOnly(Mistake.RATIO_AT_EDGES).hasSize(2);
    Plan mended = split.plan();
    for (Finding f : found) {
      mended = Objects.requireNonNull(f.fix()).edit().apply(mended);
    }
    LoadedShot right = split.withPlan(mended);
    assertThat(PlanCheck.check(right, right.resolve(1))).isEmpty();
    assertThat(residual(right, 1, 2).exact()).isTrue();
  }

  private static Recipe.Light light(Plan plan, String layer) {
    return plan.recipe().joins().stream()
        .filter(s -> s.layer().equals(layer))
        .map(Recipe.Step::light)
        .findFirst()
        .orElseThrow();
  }

  @Test
  void theHeronIsSetIntoThePlateExactly() throws Exception {
    LoadedShot courtyard = LoadedShot.load(DEMO.resolveSibling("courtyard/courtyard.wedge"));
    assertThat(courtyard.scene().unsupported()).isEmpty();
    assertThat(PlanCheck.check(courtyard.plan(), courtyard.members(), courtyard.resolve(1)))
        .isEmpty();
    PlanProof proof = prove(courtyard, 1, 4);
    assertThat(proof.residual().exact()).isTrue();
    assertThat(proof.traced().invalidSamples()).isZero();
    Picture walls = render(courtyard, 1, 4).layer(courtyard.plan().layerIndex("Heron on paving"));
    double darker = 0;
    double lighter = 0;
    for (int i = 0; i < walls.rgba().length; i++) {
      darker += Math.min(0, walls.rgba()[i]);
      lighter += Math.max(0, walls.rgba()[i]);
    }
    assertThat(darker).as("its shadow").isLessThan(-5);
    assertThat(lighter).as("its reflection and the light that it throws").isPositive();
  }

  /** Painters see the shadow that the heron throws on the plate, also by another program. */
  @Test
  void theLayeredFileHoldsWhatTheCatchersCatch(@TempDir Path dir) throws Exception {
    LoadedShot courtyard = LoadedShot.load(DEMO.resolveSibling("courtyard/courtyard.wedge"));
    Delivery delivery =
        new DeliveryRenderer(
                courtyard,
                new DeliveryOrder(
                    dir.resolve("out"),
                    List.of(),
                    List.of(12),
                    false,
                    FrameRenderer.Settings.of(courtyard, 0.125, 4, 0, false),
                    false))
            .run((f, p, s) -> {});
    Path file = dir.resolve("frame.ora");
    RejoinedFile.write(delivery, 12, file);
    LayeredProof proof = LayeredProof.of(file);
    assertThat(proof.layers()).isEqualTo(6);
    // what is left are the edges of the heron, which painters do not add up in light
    assertThat(proof.share()).isLessThan(0.03);
    assertThat(proof.rms()).isLessThan(2);
    assertThat(proof.line()).contains("of 255");
    run(dir, "unzip", "-q", "frame.ora");
    assertThat(Files.readString(dir.resolve("stack.xml")))
        .contains("\"Heron on paving darkens\"", "\"Heron on paving lightens\"");
    Picture merged = shown(dir, "mergedimage.png");
    Picture stacked = shown(dir, "data/layer00.png");
    for (int k = 1; k <= 4; k++) {
      Picture layer = shown(dir, "data/layer0%d.png".formatted(k));
      for (int i = 0; i < stacked.rgba().length; i++) {
        float c = layer.rgba()[i];
        float through = 1 - layer.rgba()[i | 3] + c;
        float[] out = stacked.rgba();
        out[i] = (i & 3) == 3 ? out[i] : Math.min(1, k % 2 == 1 ? out[i] * through : out[i] + c);
      }
    }
    // the plate with both shadows, beside the heron, is the merged picture
    Picture heron = shown(dir, "data/layer05.png");
    int compared = 0;
    int dark = 0;
    for (int i = 0; i < stacked.rgba().length; i++) {
      if (heron.rgba()[i | 3] == 0 && (i & 3) < 3) {
        assertThat(stacked.rgba()[i]).isCloseTo(merged.rgba()[i], within(0.004f));
        compared++;
      }
    }
    Picture plate = shown(dir, "data/layer00.png");
    for (int i = 0; i < stacked.rgba().length; i += 4) {
      dark += merged.rgba()[i] < 0.8f * plate.rgba()[i] ? 1 : 0;
    }
    assertThat(compared).isGreaterThan(12_000);
    assertThat(dark).as("pixels in shadow").isGreaterThan(40);
  }

  /** A PNG as another program reads it: what a screen shows, premultiplied. */
  private static Picture shown(Path dir, String name) throws Exception {
    run(dir, "oiiotool", name, "-d", "float", "-o", "read.exr");
    return PictureFiles.read(dir.resolve("read.exr"));
  }

  @ParameterizedTest
  @ValueSource(ints = {1, 24, 42})
  void noLightIsNegativeOrNoNumberInAnyFrame(int frame) {
    for (LoadedShot shot : List.of(heldOut, over)) {
      FrameRenderer renderer =
          new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 0.05, 2, 0, false));
      assertThat(renderer.render(frame, l -> true, true, p -> {}).invalidSamples()).isZero();
    }
  }

  @Test
  void thePlanIsCarriedToAnotherDeskAndMended() throws Exception {
    Path desk = DEMO.resolveSibling("desk");
    LoadedShot carried = LoadedShot.load(desk.resolve("desk.wedge"));
    assertThat(carried.scene().unsupported()).isEmpty();
    assertThat(PlanCheck.check(carried.plan(), carried.members(), carried.resolve(1))).isEmpty();
    assertThat(residual(carried, 20, 2).exact()).isTrue();
    Carry.Report report =
        PlanCarrier.carry(
                DEMO.resolve("orrery.wedge"), desk.resolve("desk.glb"), desk.resolve("new.wedge"))
            .report();
    assertThat(report.left()).contains("/inkwell/pot", "/inkwell/lid");
    assertThat(report.idle()).isEmpty();
    assertThat(report.rows()).allMatch(r -> r.there() > 0);
  }

  @Test
  void theShotIsSmallEnoughToShip() throws Exception {
    long bytes = 0;
    for (String name : List.of("orrery.glb", "attic.hdr", "orrery.wedge", "orrery-over.wedge")) {
      bytes += Files.size(DEMO.resolve(name));
    }
    assertThat(bytes).isLessThan(10_000_000);
  }

  @Test
  void everythingIsUnderstoodAndSensiblyNamed() {
    Scene scene = heldOut.scene();
    assertThat(scene.unsupported()).isEmpty();
    assertThat(SceneFacts.lights(scene))
        .containsExactly("/room/window/sky (area)", "/lamp/flame (area)", "/lights/sunbeam (spot)");
    assertThat(scene.entities().stream().map(Entity::path))
        .contains(
            "/orrery/pillar",
            "/orrery/great_ring",
            "/table/top",
            "/orrery/arms/arm_verdant/verdant")
        .allMatch(p -> p.matches("(/[a-z0-9_]+)+"));
    assertThat(scene.entities().stream().filter(e -> e.tags().contains("hero")).map(Entity::name))
        .containsExactly("verdant", "moon");
    assertThat(scene.triangles()).isBetween(50_000L, 300_000L);
    assertThat(heldOut.plan().requireShot().frames().frames()).hasSize(48);
  }

  @Test
  void theHeroPassesBehindThePillarAndComesOutInFront() {
    Scene scene = heldOut.scene();
    int hero = scene.entity("/orrery/arms/arm_verdant/verdant").orElseThrow().node();
    float first = 0;
    float last = 0;
    boolean crossesBehind = false;
    float before = Float.NaN;
    for (int frame = 1; frame <= 48; frame++) {
      Vector3f at = scene.pose((frame - 1) / 24.0)[hero].getTranslation(new Vector3f());
      crossesBehind |= at.z < -0.15 && before < 0 && at.x >= 0;
      before = at.x;
      first = frame == 1 ? at.z : first;
      last = at.z;
    }
    assertThat(first).isNegative();
    assertThat(crossesBehind).isTrue();
    assertThat(last).isGreaterThan(0.1f);
  }

  @Test
  void thePlansFollowTheSchemaAndHaveNoErrors() throws Exception {
    for (LoadedShot shot : List.of(heldOut, over)) {
      assertThat(PlanSchema.plan().check(Files.readString(shot.file()))).isEmpty();
      List<Finding> findings = PlanCheck.check(shot.plan(), shot.members(), shot.resolve(1));
      assertThat(findings).allMatch(f -> f.severity() == Mistake.Severity.NOTE);
    }
    assertThat(PlanCheck.check(heldOut.plan(), heldOut.members(), heldOut.resolve(1))).isEmpty();
    assertThat(heldOut.plan().layers()).hasSizeGreaterThanOrEqualTo(5);
  }

  @ParameterizedTest
  @ValueSource(ints = {1, 20, 48})
  void theHeldOutPlanRejoinsExactly(int frame) {
    PlanProof proof = prove(heldOut, frame, 3);
    assertThat(proof.residual().exact()).isTrue();
    assertThat(proof.residual().maxRelative()).isLessThanOrEqualTo(1e-5);
  }

  @Test
  void layersTracedSeparatelyAreTheSameToTheLastBit() {
    for (LoadedShot shot : List.of(heldOut, over)) {
      RenderedFrame shared = rendered(shot, false);
      RenderedFrame alone = rendered(shot, true);
      for (int l = 0; l < shot.plan().layers().size(); l++) {
        assertThat(alone.layer(l).rgba())
            .as(shot.plan().layers().get(l).name())
            .isEqualTo(shared.layer(l).rgba());
      }
      assertThat(alone.uncut().rgba()).isEqualTo(shared.uncut().rgba());
    }
  }

  private static RenderedFrame rendered(LoadedShot shot, boolean separately) {
    return new FrameRenderer(shot, FrameRenderer.Settings.of(shot, 0.06, 2, 0, separately))
        .render(20, l -> true, true, p -> {});
  }

  @Test
  void sixLayersNeedTwoTraces() {
    assertThat(render(heldOut, 1, 1).classes()).hasSize(2);
    ResolvedShot resolved = heldOut.resolve(1);
    assertThat(resolved.layers().get(1).transport())
        .as("the table without what stands on it")
        .isEqualTo(resolved.layers().get(2).catcher().without());
  }

  @Test
  void completeBackgroundsComeCloseAndSayWhyNotExactly() {
    PlanProof proof = PlanProof.prove(over, 20, renderer(over, 0.05, 2), p -> {});
    assertThat(proof.residual().exact()).isFalse();
    assertThat(proof.causes().stream().map(Cause::kind))
        .contains(Mistake.EDGE_COVARIANCE, Mistake.HAZE_APART)
        .doesNotContain(Mistake.SEEN_NOWHERE, Mistake.LIGHT_DIFFERS, Mistake.PLUS_ON_COMPLETE);
    RenderedFrame rendered = render(over, 20, 4);
    double lost = rendered.lostByClamping(over.plan().layerIndex("Table shadows"));
    assertThat(lost).as("reflections that the orrery takes from the table").isPositive();
    double mean = 0;
    double light = 0;
    Recipe recipe = over.plan().enabledRecipe();
    Picture uncut = rendered.uncut();
    Picture rejoined =
        Rejoiner.rejoin(
                recipe, uncut.width(), uncut.height(), new TracedSource(over.plan(), rendered))
            .picture();
    float[] d = Residual.difference(rejoined, uncut).rgba();
    float[] u = uncut.rgba();
    for (int i = 0; i < d.length; i++) {
      if ((i & 3) < 3) {
        mean += Math.abs(d[i]);
        light += u[i];
      }
    }
    assertThat(mean / light)
        .as("share of the light that is not where it should be: edges, and what haze does to light")
        .isLessThan(0.12);
  }

  @Test
  void theHeroLayerShowsTheHeroAlone() {
    ResolvedShot resolved = heldOut.resolve(1);
    int hero = heldOut.plan().layerIndex("Hero");
    assertThat(resolved.layers().get(hero).seen().size()).isEqualTo(2);
    for (Entity e : heldOut.scene().entities()) {
      Role role = resolved.layers().get(hero).decisions().get(e.index()).role();
      assertThat(role).isEqualTo(e.tags().contains("hero") ? Role.SEEN : Role.HOLDOUT);
    }
  }

  @Test
  void anIndependentToolAddsTheFilesUp(@TempDir Path dir) throws Exception {
    Path out = dir.resolve("delivery");
    DeliveryRenderer renderer =
        new DeliveryRenderer(
            heldOut,
            new DeliveryOrder(
                out,
                List.of(),
                List.of(20),
                true,
                FrameRenderer.Settings.of(heldOut, 0.125, 2, 0, false),
                false));
    Delivery delivery = renderer.run((f, p, s) -> {});
    assertThat(DeliveryProof.prove(delivery, 20).residual().exact()).isTrue();
    String add = "oiiotool";
    boolean first = true;
    String uncut = "";
    for (Delivery.Entry e : delivery.files()) {
      run(out, "exrheader", e.path());
      if (e.uncut()) {
        uncut = e.path();
        continue;
      }
      add += " " + e.path() + (first ? "" : " --add");
      first = false;
    }
    run(out, (add + " -d float -o ../sum.exr").split(" "));
    // bright pixels of half files are rounded to one part in 2048 for each layer
    run(
        dir,
        "idiff",
        "-failrelative",
        "0.004",
        "-fail",
        "0.004",
        "-failpercent",
        "0.2",
        "-hardfail",
        "10",
        "sum.exr",
        "delivery/" + uncut);
  }

  private static void run(Path folder, String... command) throws Exception {
    Process process =
        new ProcessBuilder(command).directory(folder.toFile()).redirectErrorStream(true).start();
    String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(process.waitFor()).as("%s%n%s", String.join(" ", command), out).isZero();
  }
}

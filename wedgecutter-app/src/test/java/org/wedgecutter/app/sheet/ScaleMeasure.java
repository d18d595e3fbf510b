package org.wedgecutter.app.sheet;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.function.Supplier;
import javafx.animation.AnimationTimer;
import javafx.application.Platform;
import javafx.scene.layout.BorderPane;
import javafx.stage.Stage;
import org.wedgecutter.app.station.cut.CutRows;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.Resolver;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.ShotFolder;

/**
 * Measures a large sheet: 30 layers, 500 rows, 10,000 entities. Not a test: run it on a quiet
 * machine with a display, as docs/performance.md says.
 */
public final class ScaleMeasure {
  private static final int ENTITIES = 10_000;
  private static final int ROWS = 500;

  private ScaleMeasure() {}

  /** Prints the measures. */
  public static void main(String[] args) throws Exception {
    Scene scene = scene();
    Plan wide = plan(30);
    Plan checked = plan(20);
    for (int warm = 0; warm < 3; warm++) {
      new Members(scene).rows(wide);
      Resolver.resolve(wide, new Members(scene), 1);
    }
    Members members = new Members(scene);
    print("rules of 500 rows, not kept", () -> new Members(scene).rows(wide));
    print("resolve 30 layers", () -> Resolver.resolve(wide, members, 1));
    ResolvedShot resolved = Resolver.resolve(checked, members, 1);
    print("findings, 20 layers", () -> PlanCheck.check(checked, members, resolved));
    int[] row = {0};
    print(
        "edit, resolve, findings, 20 layers",
        () -> {
          Plan next = PlanEdits.cell(checked, "L3", "row" + row[0]++, c -> c.withRole(Role.UNSEEN));
          return PlanCheck.check(next, members, Resolver.resolve(next, members, 1));
        });
    Platform.startup(() -> {});
    CountDownLatch done = new CountDownLatch(1);
    Platform.runLater(() -> window(wide, scene, done));
    done.await();
    Platform.exit();
  }

  private static void print(String what, Supplier<?> work) {
    double[] times = new double[9];
    for (int k = 0; k < times.length; k++) {
      long start = System.nanoTime();
      Object made = work.get();
      times[k] = (System.nanoTime() - start) / 1e6;
      if (made == null) {
        throw new IllegalStateException();
      }
    }
    double first = times[0];
    Arrays.sort(times);
    System.out.printf("%-36s median %.1f ms, first %.1f ms%n", what, times[4], first);
  }

  private static Scene scene() {
    SceneMaker maker = new SceneMaker().camera(1, 0, 0, 5);
    var mesh = SceneMaker.wall(0.1, 0.1);
    var paint = SceneMaker.matte(0.5);
    for (int e = 0; e < ENTITIES - 1; e++) {
      maker.mesh(
          "/set/group%03d/thing%05d".formatted(e % ROWS, e), mesh, paint, e % 100, e / 100, 0);
    }
    return maker.scene();
  }

  private static Plan plan(int layers) throws Exception {
    Plan plan = PlanReader.parse(ShotFolder.PLAN, Path.of("t.wedge"));
    List<CollectionDef> rows = new ArrayList<>();
    for (int r = 0; r < ROWS; r++) {
      rows.add(
          CollectionDef.of(
              "row" + r, RuleParser.parse("path:/set/group%03d/** & !thing0*7".formatted(r))));
    }
    plan = plan.withLayers(List.of()).withCollections(rows);
    plan = plan.withRecipe(plan.recipe().withJoins(List.of()));
    for (int l = 0; l < layers; l++) {
      Map<String, Cell> cells = new LinkedHashMap<>();
      for (int r = 0; r < ROWS; r++) {
        cells.put("row" + r, Cell.of(r % layers == l ? Role.SEEN : Role.HOLDOUT));
      }
      Cell rest = Cell.of(l == 0 ? Role.SEEN : Role.HOLDOUT);
      plan = LayerEdits.add(plan, l, LayerDef.of("L" + l, l, cells, rest), Join.PLUS);
    }
    return plan;
  }

  private static void window(Plan plan, Scene scene, CountDownLatch done) {
    Theme.loadFonts();
    long start = System.nanoTime();
    Members members = new Members(scene);
    CutRows rows = new CutRows(() -> Theme.DARK);
    rows.update(plan, members, Resolver.resolve(plan, members, 1), EntitySet.NONE);
    for (int r = 0; r < 25; r++) {
      rows.toggle("collection:row" + r);
    }
    SheetView sheet = new SheetView(rows);
    List<Column> columns = new ArrayList<>();
    plan.layers()
        .forEach(l -> columns.add(new Column(l.name(), l.hue(), null, true, "plus", 1.5, "")));
    sheet.setColumns(columns);
    Stage stage = new Stage();
    javafx.scene.Scene window = new javafx.scene.Scene(new BorderPane(sheet), 1280, 800);
    Theme.DARK.apply(window);
    stage.setScene(window);
    stage.show();
    new Scroll(sheet, start, done, stage).start();
  }

  /** Scrolls a little at every pulse and takes the time between pulses. */
  private static final class Scroll extends AnimationTimer {
    private static final int WARM = 120;
    private static final int COUNT = 900;
    private final SheetView sheet;
    private final long start;
    private final CountDownLatch done;
    private final Stage stage;
    private final double[] gaps = new double[COUNT];
    private int pulse;
    private long last;

    Scroll(SheetView sheet, long start, CountDownLatch done, Stage stage) {
      this.sheet = sheet;
      this.start = start;
      this.done = done;
      this.stage = stage;
    }

    @Override
    public void handle(long now) {
      long at = System.nanoTime();
      if (pulse == 1) {
        System.out.printf(
            "opens: rules, resolve, rows, window, second pulse: %.2f s%n", (at - start) / 1e9);
      }
      if (pulse >= WARM && pulse < WARM + COUNT) {
        gaps[pulse - WARM] = (at - last) / 1e6;
      }
      last = at;
      pulse++;
      sheet.scrollTo((pulse * 0.7) % 900, (pulse * 3) % 1100);
      if (pulse == WARM + COUNT + 1) {
        Arrays.sort(gaps);
        System.out.printf(
            "pulses while scrolling: median %.1f ms, 95 %% %.1f ms, longest %.1f ms%n",
            gaps[COUNT / 2], gaps[COUNT * 95 / 100], gaps[COUNT - 1]);
        stop();
        stage.close();
        done.countDown();
      }
    }
  }
}

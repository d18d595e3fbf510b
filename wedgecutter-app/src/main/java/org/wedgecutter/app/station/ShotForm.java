package org.wedgecutter.app.station;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.wedgecutter.app.files.ImageFiles;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Entry;
import org.wedgecutter.app.panel.Words;
import org.wedgecutter.core.load.Starting;
import org.wedgecutter.core.plan.Bounces;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.PlacedCamera;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.scene.Projection;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.scene.usd.Variants;

/** The settings of the whole shot, which every layer has unless it overrides them. */
public final class ShotForm extends VBox {
  private static final int LARGEST = 16_384;

  private final Workbench bench;
  private final Label trouble = Entry.trouble("shot-trouble");

  public ShotForm(Workbench bench, Session session) {
    super(2);
    this.bench = bench;
    Plan plan = session.plan();
    Shot s = plan.requireShot();
    getChildren()
        .addAll(
            frame(s),
            camera(s, session.shot().read()),
            light(s),
            surroundings(s),
            plate(plan, s),
            new AddedForm(bench, session),
            trouble);
  }

  private void edit(String what, Consumer<Shot.Draft> change) {
    bench.edit(what + " of the shot", p -> p.withShot(p.requireShot().with(change)));
  }

  private static FlowPane line(Node... parts) {
    FlowPane out = new FlowPane(14, 2, parts);
    out.setAlignment(Pos.CENTER_LEFT);
    return out;
  }

  private HBox whole(String id, String name, long value, long least, long most, Setter<Long> set) {
    return Entry.named(
        name,
        Entry.whole(
            "shot-" + id, value, least, most, name, trouble, x -> edit(name, d -> set.set(d, x))));
  }

  private HBox number(
      String id, String name, double value, double least, double most, Setter<Double> set) {
    return Entry.named(
        name,
        Entry.number(
            "shot-" + id, value, least, most, name, trouble, x -> edit(name, d -> set.set(d, x))));
  }

  private interface Setter<T> {
    void set(Shot.Draft draft, T value);
  }

  private FlowPane frame(Shot s) {
    return line(
        Entry.named(
            "frames",
            new Entry(
                "shot-frames",
                s.frames().text(),
                9,
                "frames of the shot, for example 1-24x2,30",
                trouble,
                t -> {
                  FrameRange next = FrameRange.parse(t);
                  edit("frames", d -> d.frames = next);
                })),
        number("fps", "fps", s.fps(), 0.001, 1000, (d, x) -> d.fps = x),
        new HBox(
            6,
            whole("width", "size (px)", s.width(), 1, LARGEST, (d, x) -> d.width = toInt(x)),
            whole("height", "×", s.height(), 1, LARGEST, (d, x) -> d.height = toInt(x))));
  }

  private FlowPane light(Shot s) {
    Bounces b = s.bounces();
    return line(
        whole("samples", "samples", s.samples(), 1, 1_000_000, (d, x) -> d.samples = toInt(x)),
        whole(
            "bounces",
            "bounces",
            b.surfaces(),
            0,
            64,
            (d, x) -> d.bounces = new Bounces(toInt(x), d.bounces.glass(), d.bounces.media())),
        whole(
            "bounces-glass",
            "refraction bounces",
            b.glass(),
            0,
            64,
            (d, x) -> d.bounces = new Bounces(d.bounces.surfaces(), toInt(x), d.bounces.media())),
        whole(
            "bounces-media",
            "volume bounces",
            b.media(),
            0,
            64,
            (d, x) -> d.bounces = new Bounces(d.bounces.surfaces(), d.bounces.glass(), toInt(x))),
        number(
            "clamp",
            "indirect clamp",
            exact(s.clamp()),
            0,
            1e9,
            (d, x) -> d.clamp = (float) (double) x),
        number(
            "soften",
            "soften caustics",
            exact(s.soften()),
            0,
            1,
            (d, x) -> d.soften = (float) (double) x),
        number("denoise", "denoise", s.denoise(), 0, 1, (d, x) -> d.denoise = x),
        whole("seed", "seed", s.seed(), 0, Integer.MAX_VALUE, (d, x) -> d.seed = x));
  }

  /** The number that was typed, of which the nearest float is kept. */
  private static double exact(float x) {
    return Double.parseDouble(Float.toString(x));
  }

  private static int toInt(long x) {
    return Math.toIntExact(x);
  }

  private FlowPane camera(Shot s, Scene scene) {
    CheckBox through = new CheckBox("thin glass is transparent in alpha");
    through.setId("shot-see-through");
    through.setSelected(s.seeThrough());
    through.setOnAction(e -> edit("see through glass", d -> d.seeThrough = through.isSelected()));
    FlowPane out =
        line(
            Entry.named("camera", chooser(s, scene)),
            number("shutter", "shutter (frames)", s.shutter(), 0, 1, (d, x) -> d.shutter = x),
            through);
    List<Variants.Choice> sets = Variants.sets(scene.variants());
    for (Variants.Choice set : sets.subList(0, Math.min(sets.size(), MOST_SETS))) {
      String of = set.path().substring(1);
      String id = "shot-variant-%s-%s".formatted(of, set.set()).replaceAll("\\W", "-");
      ChoiceBox<String> box = choices(id, set.names());
      box.setValue(set.in(s.variant()));
      box.setOnAction(e -> bench.scenes().use(set.in(s.variant(), box.getValue())));
      out.getChildren().add(Entry.named("%s: %s".formatted(of, set.set()), box));
    }
    if (sets.size() > MOST_SETS) {
      out.getChildren()
          .add(DetailPanel.dim("%d more in the plan's text".formatted(sets.size() - MOST_SETS)));
    }
    if (sets.isEmpty() && !scene.variants().isEmpty()) {
      ChoiceBox<String> box = choices("shot-variant", scene.variants());
      box.setValue(s.variant());
      box.setOnAction(e -> bench.scenes().use(box.getValue()));
      out.getChildren().add(1, Entry.named("materials", box));
    }
    PlacedCamera placed = s.placed();
    if (placed != null) {
      for (int k = 0; k < 3; k++) {
        int axis = k;
        out.getChildren()
            .addAll(
                number(
                    "camera-eye-" + AXES[k],
                    "camera %s (m)".formatted(AXES[k]),
                    placed.eye().get(k),
                    -1e9,
                    1e9,
                    (d, x) -> d.placed = with(placed, axis, x, true)),
                number(
                    "camera-target-" + AXES[k],
                    "target %s (m)".formatted(AXES[k]),
                    placed.target().get(k),
                    -1e9,
                    1e9,
                    (d, x) -> d.placed = with(placed, axis, x, false)));
      }
      out.getChildren()
          .add(
              number(
                  "camera-angle",
                  "angle of view (°)",
                  placed.angle(),
                  1,
                  170,
                  (d, x) -> d.placed = placed.withAngle(x)));
      out.getChildren()
          .addAll(
              number(
                  "camera-roll",
                  "roll (°)",
                  placed.roll(),
                  -360,
                  360,
                  (d, x) -> d.placed = placed.withRoll(x)),
              lens("shift-right", "shift right (heights)", placed, placed.projection().right(), 10),
              lens("shift-up", "shift up (heights)", placed, placed.projection().up(), 10),
              lens("k1", "distortion k1", placed, placed.projection().k1(), 1),
              lens("k2", "k2", placed, placed.projection().k2(), 1));
    }
    return out;
  }

  private HBox lens(String id, String name, PlacedCamera placed, double value, double most) {
    return Entry.named(
        name,
        Entry.number(
            "shot-camera-" + id,
            value,
            -most,
            most,
            name,
            trouble,
            x -> {
              Projection p = placed.projection();
              // refused here, before it is an edit, where the picture would fold
              PlacedCamera next =
                  placed.with(
                      switch (id) {
                        case "shift-right" -> new Projection(x, p.up(), p.k1(), p.k2());
                        case "shift-up" -> new Projection(p.right(), x, p.k1(), p.k2());
                        case "k1" -> new Projection(p.right(), p.up(), x, p.k2());
                        default -> new Projection(p.right(), p.up(), p.k1(), x);
                      });
              edit(name, d -> d.placed = next);
            }));
  }

  /** What stands for the plan's own camera among the names of the scene's. */
  private static final String OWN = "";

  private ChoiceBox<String> chooser(Shot s, Scene scene) {
    ChoiceBox<String> out = new ChoiceBox<>();
    out.setId("shot-camera");
    out.setPrefWidth(110);
    scene.cameras().stream().map(SceneCamera::name).distinct().forEach(out.getItems()::add);
    out.getItems().add(OWN);
    out.setConverter(Words.of(n -> n.isEmpty() ? "the plan's own" : n));
    out.setValue(s.placed() == null ? s.cameraIn(scene).name() : OWN);
    out.setOnAction(e -> {
      String name = out.getValue();
      if (name.isEmpty()) {
        edit("own camera", d -> d.placed = Starting.framing(scene, (double) d.width / d.height));
      } else {
        edit(
            "camera " + name,
            d -> {
              d.camera = name;
              d.placed = null;
            });
      }
    });
    return out;
  }

  private static ChoiceBox<String> choices(String id, List<String> names) {
    ChoiceBox<String> out = new ChoiceBox<>();
    out.setId(id);
    out.setPrefWidth(110);
    out.getItems().add("");
    out.getItems().addAll(names);
    out.setConverter(Words.of(n -> n.isEmpty() ? "as in the file" : n));
    return out;
  }

  /** More sets of variants than a form has room for are chosen in the plan's text. */
  private static final int MOST_SETS = 12;

  private static final String[] AXES = {"x", "y", "z"};

  private static PlacedCamera with(PlacedCamera camera, int axis, double value, boolean eye) {
    List<Double> next = new ArrayList<>(eye ? camera.eye() : camera.target());
    next.set(axis, value);
    try {
      return eye ? camera.placed(next, camera.target()) : camera.placed(camera.eye(), next);
    } catch (IllegalArgumentException e) {
      // the eye would stand in its target: it stays where it is
      return camera;
    }
  }

  private FlowPane surroundings(Shot s) {
    Shot.EnvironmentDef e = s.environment();
    return line(
        image("environment", e.image(), ImageFiles.Use.ENVIRONMENT),
        number(
            "environment-level",
            "level",
            e.level(),
            0,
            1e9,
            (d, x) ->
                d.environment =
                    new Shot.EnvironmentDef(
                        d.environment.image(), d.environment.turn(), x, d.environment.extra())),
        number(
            "environment-turn",
            "environment rotation (°)",
            e.turn(),
            -3600,
            3600,
            (d, x) ->
                d.environment =
                    new Shot.EnvironmentDef(
                        d.environment.image(), x, d.environment.level(), d.environment.extra())));
  }

  private FlowPane plate(Plan plan, Shot s) {
    ChoiceBox<String> standIns = new ChoiceBox<>();
    standIns.setId("shot-stand-ins");
    List<String> names = new ArrayList<>();
    names.add("");
    plan.collections().stream().map(CollectionDef::name).forEach(names::add);
    standIns.getItems().setAll(names);
    standIns.setConverter(Words.of(n -> n.isEmpty() ? "nothing" : n));
    standIns.setValue(s.plate().standIns());
    standIns.setDisable(!s.plate().exists());
    standIns.setOnAction(e ->
        edit(
            "stand-ins of the plate",
            d ->
                d.plate =
                    new Shot.PlateDef(d.plate.image(), standIns.getValue(), d.plate.extra())));
    FlowPane out =
        line(
            image("plate", s.plate().image(), ImageFiles.Use.PLATE),
            Entry.named("stand-in geometry", standIns));
    if (s.plate().exists()) {
      Button away = new Button("Remove plate");
      away.setId("shot-no-plate");
      away.setOnAction(e -> edit("remove plate", d -> d.plate = Shot.PlateDef.NONE));
      Button size = new Button("Use its size for the shot");
      size.setId("shot-plate-size");
      size.setOnAction(e -> bench.images().renderAtPlateSize());
      out.getChildren().addAll(size, away);
    }
    return out;
  }

  private HBox image(String name, String path, ImageFiles.Use use) {
    Button choose = new Button("Choose…");
    choose.setId("shot-choose-" + name);
    choose.setOnAction(e -> bench.images().ask(use));
    Label file = new Label(path.isEmpty() ? "none" : path);
    file.setId("shot-" + name);
    HBox out = new HBox(6, DetailPanel.dim(name), file, choose);
    out.setAlignment(Pos.CENTER_LEFT);
    return out;
  }
}

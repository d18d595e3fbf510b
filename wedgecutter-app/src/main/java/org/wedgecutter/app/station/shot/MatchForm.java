package org.wedgecutter.app.station.shot;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.function.DoubleFunction;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.files.ShotScenes.Addition;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Entry;
import org.wedgecutter.app.panel.Typed;
import org.wedgecutter.core.match.CameraMatch;
import org.wedgecutter.core.plan.CameraMarks;
import org.wedgecutter.core.plan.CameraMarks.At;
import org.wedgecutter.core.plan.CameraMarks.Axis;
import org.wedgecutter.core.plan.PlacedCamera;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Projection;

/** The marks of a photograph as fields, what was found, and what to do with it. */
final class MatchForm extends VBox {
  private static final double FAR = 1e9;
  private static final double LOOSE = 100;

  private final CameraMatcher matcher;
  private final Label trouble = Entry.trouble("match-trouble");

  private final Shot shot;
  private final Label found = told("match-found");
  private final Label open = told("match-open");
  private final Label hint =
      told(
          "match-hint",
          "Add what is known of the picture and drag its ends into place: lines along two axes, the"
              + " origin as a point, and a distance on the ground or the camera's height.");
  private final Button use = new Button("Use this camera");
  private final Button ground = new Button("Add ground as stand-in");
  private final FlowPane uses = line(use, ground);
  private final List<Label> errors = new ArrayList<>();

  MatchForm(CameraMatcher matcher, Shot shot) {
    super(4);
    this.matcher = matcher;
    this.shot = shot;
    CameraMarks marks = shot.marks();
    open.getStyleClass().add("trouble");
    hint.getStyleClass().add("dim");
    use.setId("match-use");
    use.setOnAction(e -> matcher.use());
    ground.setId("match-ground");
    ground.setDisable(shot.placed() == null || !shot.plate().exists());
    ground.setOnAction(
        e -> matcher.bench().scenes().add(Addition.PLATE_GROUND, EntitySet.NONE, Set.of()));
    getChildren().addAll(adding(marks), known(marks), hint, found, open, uses);
    for (int k = 0; k < marks.marks().size(); k++) {
      getChildren().add(mark(k, marks.marks().get(k)));
    }
    getChildren().add(trouble);
    tell(null);
  }

  /**
   * Tells what was found, and leaves the fields as they are: somebody may be typing.
   *
   * @param fit null if nothing is marked, or it is not found yet
   */
  void tell(CameraMatch.@Nullable Fit fit) {
    show(hint, shot.marks().marks().isEmpty());
    show(found, fit != null);
    show(open, fit != null && !fit.open().isEmpty());
    show(uses, fit != null);
    if (fit != null) {
      found.setText(found(fit));
      open.setText("Not determined: " + String.join("; ", fit.open()) + ".");
      use.setDisable(fit.camera().equals(shot.placed()));
    }
    for (int k = 0; k < errors.size(); k++) {
      errors
          .get(k)
          .setText(
              fit != null && k < fit.errors().size()
                  ? "%.2f px off".formatted(fit.errors().get(k))
                  : "");
    }
  }

  private static void show(Node part, boolean on) {
    part.setVisible(on);
    part.setManaged(on);
  }

  private static Label told(String id, String... text) {
    Label out = new Label(String.join("", text));
    out.setId(id);
    out.setWrapText(true);
    return out;
  }

  private static FlowPane line(Node... parts) {
    FlowPane out = new FlowPane(14, 2, parts);
    out.setAlignment(Pos.CENTER_LEFT);
    return out;
  }

  // ---- adding

  private FlowPane adding(CameraMarks marks) {
    // each below the last, so that none covers another
    double down = 0.25 + 0.05 * (marks.marks().size() % 10);
    At from = new At(0.35, down);
    At to = new At(0.65, down);
    FlowPane out = line(DetailPanel.dim("add to the picture"));
    for (Axis axis : Axis.values()) {
      String name = "Line along " + axis.word() + (axis == Axis.Y ? " (up)" : "");
      At end = axis == Axis.Y ? new At(0.35, Math.min(1, down + 0.3)) : to;
      out.getChildren()
          .add(add("line-" + axis.word(), name, new CameraMarks.AxisLine(axis, from, end)));
    }
    out.getChildren()
        .addAll(
            add(
                "horizon",
                "Horizon",
                new CameraMarks.Horizon(new At(0.1, down), new At(0.9, down))),
            add("point", "Point", new CameraMarks.Point(new At(0.5, down), List.of(0.0, 0.0, 0.0))),
            add("distance", "Distance on ground", new CameraMarks.Distance(from, to, 1)));
    return out;
  }

  private Button add(String id, String name, CameraMarks.Mark mark) {
    Button out = new Button(name);
    out.setId("match-add-" + id);
    out.setOnAction(e ->
        matcher.edit(
            "add to the camera match: " + name.toLowerCase(Locale.ROOT), m -> m.with(mark)));
    return out;
  }

  private FlowPane known(CameraMarks marks) {
    CheckBox shift = new CheckBox("solve lens shift");
    shift.setId("match-shift");
    shift.setSelected(marks.solvesShift());
    shift.setOnAction(e ->
        matcher.edit("solve lens shift", m -> m.solving(shift.isSelected(), m.solvesDistortion())));
    CheckBox distortion = new CheckBox("solve lens distortion");
    distortion.setId("match-distortion");
    distortion.setSelected(marks.solvesDistortion());
    distortion.setOnAction(e ->
        matcher.edit(
            "solve lens distortion", m -> m.solving(m.solvesShift(), distortion.isSelected())));
    return line(
        optional(
            "height",
            "camera height (m)",
            "height of the camera above the ground, metres; empty if it is not known",
            marks.cameraHeight(),
            1e-6,
            1e6,
            CameraMarks::withCameraHeight),
        optional(
            "angle",
            "angle of view (°)",
            "vertical angle of view, degrees; empty to solve for it",
            marks.angle(),
            0.1,
            179,
            CameraMarks::withAngle),
        shift,
        distortion);
  }

  private interface OfNumber {
    CameraMarks with(CameraMarks marks, @Nullable Double value);
  }

  private HBox optional(
      String id,
      String caption,
      String hint,
      @Nullable Double value,
      double least,
      double most,
      OfNumber change) {
    return Entry.named(
        caption,
        new Entry(
            "match-" + id,
            value == null ? "" : Typed.text(value),
            5,
            hint,
            trouble,
            t -> {
              Double next = t.isEmpty() ? null : Typed.number(t, least, most);
              matcher.edit(caption + " of the camera match", m -> change.with(m, next));
            }));
  }

  // ---- what was found

  private String found(CameraMatch.Fit fit) {
    PlacedCamera c = fit.camera();
    List<String> parts = new ArrayList<>();
    parts.add("fit error %.2f px of %d × %d".formatted(fit.error(), shot.width(), shot.height()));
    parts.add(
        "angle of view %.2f°%s".formatted(c.angle(), deviation("%.2g°", fit.angleDeviation())));
    parts.add("height %.3g m".formatted(c.eye().get(1)));
    parts.add("direction%s".formatted(deviation("%.2g°", fit.turnDeviation())));
    parts.add("position%s".formatted(deviation("%.2g %%", 100 * fit.eyeDeviation())));
    if (c.roll() != 0) {
      parts.add("roll %.2f°".formatted(c.roll()));
    }
    Projection lens = c.projection();
    if (lens.right() != 0 || lens.up() != 0) {
      parts.add("shift %.4f %.4f".formatted(lens.right(), lens.up()));
    }
    if (lens.isBent()) {
      parts.add("distortion k1 %.4f k2 %.4f".formatted(lens.k1(), lens.k2()));
    }
    return String.join(" · ", parts);
  }

  /** Returns by how much a number may be off; nothing where it is given, or quite open. */
  private static String deviation(String format, double by) {
    return by > 0 && by < LOOSE ? " ± " + format.formatted(by) : by > 0 ? " open" : "";
  }

  // ---- marks

  private FlowPane mark(int number, CameraMarks.Mark mark) {
    List<Node> parts = new ArrayList<>();
    String name = (number + 1) + " " + mark.title();
    Label title = new Label(name);
    title.setMinWidth(110);
    parts.add(title);
    switch (mark) {
      case CameraMarks.Point p -> parts.add(place(number, p));
      case CameraMarks.Distance d ->
          parts.add(
              Entry.named(
                  "length (m)",
                  Entry.number(
                      "match-%d-metres".formatted(number + 1),
                      d.metres(),
                      1e-6,
                      FAR,
                      "length on the ground, metres",
                      trouble,
                      v -> replace(number, new CameraMarks.Distance(d.from(), d.to(), v)))));
      default -> {
        // a line has nothing but its ends, which are dragged
      }
    }
    for (int end = 0; end < mark.ends().size(); end++) {
      parts.add(at(number, mark, end));
    }
    Label off = new Label();
    errors.add(off);
    off.setId("match-%d-error".formatted(number + 1));
    off.getStyleClass().add("number");
    Button remove = new Button("Remove");
    remove.setId("match-%d-remove".formatted(number + 1));
    remove.setOnAction(e ->
        matcher.edit("remove from the camera match: " + mark.title(), m -> m.with(number, null)));
    parts.add(off);
    parts.add(remove);
    return line(parts.toArray(Node[]::new));
  }

  private void replace(int number, CameraMarks.Mark next) {
    matcher.edit("camera match: " + next.title(), m -> m.with(number, next));
  }

  private HBox place(int number, CameraMarks.Point p) {
    return numbers(
        "match-%d-place".formatted(number + 1),
        "x y z (m)",
        p.place(),
        3,
        FAR,
        v -> replace(number, new CameraMarks.Point(p.at(), v)));
  }

  /** An end in pixels, to be typed where dragging is not fine enough. */
  private HBox at(int number, CameraMarks.Mark mark, int end) {
    At at = mark.ends().get(end);
    DoubleFunction<Double> fine = v -> Math.rint(v * 100) / 100;
    return numbers(
        "match-%d-at-%d".formatted(number + 1, end + 1),
        mark.ends().size() == 1 ? "at (px)" : end == 0 ? "from (px)" : "to (px)",
        List.of(fine.apply(at.right() * matcher.width()), fine.apply(at.down() * matcher.height())),
        2,
        1e5,
        v ->
            replace(
                number,
                mark.moved(end, new At(v.get(0) / matcher.width(), v.get(1) / matcher.height()))));
  }

  private interface OfNumbers {
    void take(List<Double> values);
  }

  private HBox numbers(
      String id, String caption, List<Double> values, int count, double most, OfNumbers taker) {
    return Entry.named(
        caption,
        new Entry(
            id,
            String.join("  ", values.stream().map(Typed::text).toList()),
            count * 3,
            "%s: %d numbers, with spaces between them".formatted(caption, count),
            trouble,
            t -> {
              List<Double> next = new ArrayList<>();
              for (String part : t.split("[;\\s]+")) {
                next.add(Typed.number(part, -most, most));
              }
              if (next.size() != count) {
                throw new IllegalArgumentException(
                    "'%s': expected %d numbers, with spaces between them".formatted(t, count));
              }
              taker.take(next);
            }));
  }
}

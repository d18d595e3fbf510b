package org.wedgecutter.app.station.shot;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.UnaryOperator;
import javafx.application.Platform;
import javafx.scene.paint.Color;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Typed;
import org.wedgecutter.app.station.Workbench;
import org.wedgecutter.app.viewer.Drawing;
import org.wedgecutter.app.viewer.Look;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.match.CameraMatch;
import org.wedgecutter.core.match.GroundLines;
import org.wedgecutter.core.match.SceneEdges;
import org.wedgecutter.core.plan.CameraMarks;
import org.wedgecutter.core.plan.PlacedCamera;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.resolve.EntitySet;

/**
 * Matches the plan's camera to a photograph: marks are drawn over the picture and dragged, and the
 * camera that fits them is found again at each move. It is used when the user says so.
 */
final class CameraMatcher implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(CameraMatcher.class);
  private static final Color[] AXES = {
    Color.web("#ff7b72"), Color.web("#7ee787"), Color.web("#79c0ff")
  };
  private static final Color KNOWN = Color.web("#f2cc60");
  private static final Color GROUND = Color.gray(1, 0.35);
  private static final Color EDGES = Color.web("#d2a8ff", 0.8);

  private final Workbench bench;
  private final DetailPanel panel = new DetailPanel();
  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(
          Thread.ofPlatform().name("camera match").daemon().factory());
  private final AtomicLong serial = new AtomicLong();

  /** The marks as they are shown, also while one is dragged. */
  private CameraMarks marks = CameraMarks.NONE;

  private int width = 1;
  private int height = 1;
  private boolean active;
  private boolean dragged;
  private @Nullable Matched matched;
  private List<Object> shown = List.of();
  private @Nullable MatchForm form;

  /** What the camera was asked for last, also if it is not found yet. */
  private List<Object> asked = List.of();

  /** What was found for some marks. */
  private record Matched(
      CameraMarks marks, CameraMatch.@Nullable Fit fit, GroundLines ground, List<double[]> edges) {}

  /** The edges of the scene's things, on the thread alone; and what they are of. */
  private SceneEdges edges = SceneEdges.NONE;

  private List<Object> edgesOf = List.of();

  CameraMatcher(Workbench bench) {
    this.bench = bench;
  }

  DetailPanel panel() {
    return panel;
  }

  /** Shows the plan after an edit. */
  void show(Session s) {
    Shot shot = s.plan().requireShot();
    if (!dragged) {
      take(s);
    }
    draw();
    // the form is made again only where something in it differs, so that typing is not interrupted
    List<Object> next = List.of(shot.asTraced(), shot.marks());
    MatchForm now = form;
    if (now == null || !next.equals(shown)) {
      shown = next;
      now = new MatchForm(this, shot);
      form = now;
      panel.show(null, "Camera match — whole shot", now);
    }
    Matched known = matched;
    now.tell(known != null && known.marks.equals(shot.marks()) ? known.fit : null);
  }

  /** Another shot was opened: what was found belongs to the last one. */
  void forget() {
    matched = null;
    dragged = false;
    asked = List.of();
    serial.incrementAndGet();
  }

  /** Sets whether the page is in view: marks are drawn only then. */
  void setActive(boolean on) {
    if (active == on) {
      return;
    }
    active = on;
    Session s = bench.session();
    if (on && s != null) {
      if (s.plan().requireShot().plate().exists()) {
        bench.look(Look.PLATE);
      }
      show(s);
    }
    if (!on) {
      bench.pictures().draw(Drawing.NONE, Drawing.Hand.NONE);
    }
  }

  private void take(Session s) {
    Shot shot = s.plan().requireShot();
    marks = shot.marks();
    width = shot.width();
    height = shot.height();
    // all that the camera and what is drawn of it depend on: other edits look for nothing
    List<Object> next =
        List.of(marks, width, height, shot.plate(), s.plan().collections(), s.shot().tracer());
    if (!next.equals(asked)) {
      asked = next;
      match();
    }
  }

  /** Finds the camera in the background; the last marks win. */
  private void match() {
    long own = serial.incrementAndGet();
    CameraMarks of = marks;
    int w = width;
    int h = height;
    // what is dragged must be quick; what rests is looked for everywhere
    CameraMatch.Fit before = dragged ? fit() : null;
    Session s = bench.session();
    LoadedShot shot = s == null ? null : s.shot();
    thread.execute(() -> {
      if (own != serial.get()) {
        return;
      }
      try {
        PlacedCamera near = before == null ? null : before.camera();
        CameraMatch.Fit found = CameraMatch.of(of, w, h, near);
        GroundLines ground =
            found == null
                ? new GroundLines(1, List.of(), List.of(), List.of())
                : GroundLines.of(found.camera(), w, h);
        List<double[]> lines =
            found == null || shot == null ? List.of() : edges(shot).in(found.camera(), w, h);
        Matched next = new Matched(of, found, ground, lines);
        Platform.runLater(() -> arrived(own, next));
      } catch (Throwable e) {
        LOG.error("matching the camera", e);
        Platform.runLater(() -> bench.banner("Matching the camera failed: " + e.getMessage()));
      }
    });
  }

  /** Edges of what stands in for things in the plate; where nothing does, of the whole scene. */
  private SceneEdges edges(LoadedShot shot) {
    Shot of = shot.plan().requireShot();
    EntitySet standIns =
        shot.plan().collections().stream()
            .filter(c -> c.name().equals(of.plate().standIns()))
            .findFirst()
            .map(shot.members()::of)
            .orElse(EntitySet.NONE);
    EntitySet things =
        standIns.isEmpty() ? EntitySet.where(shot.scene().entities().size(), e -> true) : standIns;
    List<Object> next = List.of(shot.tracer(), things);
    if (!next.equals(edgesOf)) {
      edges = SceneEdges.of(shot.scene(), things, of.time(of.frames().first()));
      edgesOf = next;
    }
    return edges;
  }

  private void arrived(long own, Matched next) {
    Session s = bench.session();
    if (own == serial.get() && s != null) {
      matched = next;
      if (dragged) {
        draw();
      } else {
        show(s);
      }
    }
  }

  private CameraMatch.@Nullable Fit fit() {
    Matched known = matched;
    return known == null ? null : known.fit;
  }

  // ---- edits

  /** Edits the marks. */
  void edit(String what, UnaryOperator<CameraMarks> change) {
    bench.edit(what, p -> p.withShot(p.requireShot().with(d -> d.marks = change.apply(d.marks))));
  }

  /** Uses the camera that was found. */
  void use() {
    CameraMatch.Fit found = fit();
    if (found != null) {
      PlacedCamera camera = found.camera();
      bench.edit(
          "use the matched camera", p -> p.withShot(p.requireShot().with(d -> d.placed = camera)));
    }
  }

  Workbench bench() {
    return bench;
  }

  /** Returns the picture's width, pixels. */
  int width() {
    return width;
  }

  /** Returns the picture's height, pixels. */
  int height() {
    return height;
  }

  // ---- over the picture

  private void draw() {
    if (!active) {
      return;
    }
    List<Drawing.Line> lines = new ArrayList<>();
    Matched known = matched;
    if (known != null) {
      known.edges.forEach(l -> lines.add(new Drawing.Line(l, EDGES, 1)));
      known.ground.grid().forEach(l -> lines.add(new Drawing.Line(l, GROUND, 0.8)));
      known.ground.horizon().forEach(l -> lines.add(new Drawing.Line(l, GROUND, 1.5)));
      known
          .ground
          .axes()
          .forEach(a -> lines.add(new Drawing.Line(a.line(), AXES[a.axis().ordinal()], 3)));
    }
    List<Drawing.Handle> handles = new ArrayList<>();
    List<int[]> of = new ArrayList<>();
    for (int m = 0; m < marks.marks().size(); m++) {
      CameraMarks.Mark mark = marks.marks().get(m);
      Color color = color(mark);
      List<CameraMarks.At> ends = mark.ends();
      if (ends.size() == 2) {
        lines.add(
            new Drawing.Line(
                new double[] {
                  x(ends.getFirst()), y(ends.getFirst()), x(ends.getLast()), y(ends.getLast())
                },
                color,
                1.5));
      }
      for (int k = 0; k < ends.size(); k++) {
        handles.add(
            new Drawing.Handle(
                x(ends.get(k)), y(ends.get(k)), color, k == 0 ? (m + 1) + label(mark) : ""));
        of.add(new int[] {m, k});
      }
    }
    bench.pictures().draw(new Drawing(lines, handles), new Hand(of));
  }

  private double x(CameraMarks.At at) {
    return at.right() * width;
  }

  private double y(CameraMarks.At at) {
    return at.down() * height;
  }

  private static Color color(CameraMarks.Mark mark) {
    return switch (mark) {
      case CameraMarks.AxisLine l -> AXES[l.along().ordinal()];
      case CameraMarks.Horizon h -> Color.WHITE;
      case CameraMarks.Point p -> KNOWN;
      case CameraMarks.Distance d -> KNOWN;
    };
  }

  private static String label(CameraMarks.Mark mark) {
    return switch (mark) {
      case CameraMarks.AxisLine l -> " " + l.along().word();
      case CameraMarks.Horizon h -> " horizon";
      case CameraMarks.Point p -> "";
      case CameraMarks.Distance d -> " " + Typed.text(d.metres()) + " m";
    };
  }

  private final class Hand implements Drawing.Hand {
    private final List<int[]> of;

    Hand(List<int[]> of) {
      this.of = of;
    }

    @Override
    public void dragged(int handle, double x, double y) {
      int[] mark = of.get(handle);
      if (mark[0] >= marks.marks().size()) {
        return;
      }
      CameraMarks.At at =
          new CameraMarks.At(Math.clamp(x / width, -FAR, FAR), Math.clamp(y / height, -FAR, FAR));
      dragged = true;
      asked = List.of();
      marks = marks.with(mark[0], marks.marks().get(mark[0]).moved(mark[1], at));
      draw();
      match();
    }

    @Override
    public void dropped() {
      if (dragged) {
        dragged = false;
        CameraMarks next = marks;
        edit("move a mark of the camera match", m -> next);
      }
    }

    /** Beyond the picture's edges a line may go on for a while. */
    private static final double FAR = 5;
  }

  @Override
  public void close() {
    serial.incrementAndGet();
    thread.shutdownNow();
  }
}

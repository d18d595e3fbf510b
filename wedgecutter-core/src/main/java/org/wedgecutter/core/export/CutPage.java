package org.wedgecutter.core.export;

import static j2html.TagCreator.body;
import static j2html.TagCreator.code;
import static j2html.TagCreator.div;
import static j2html.TagCreator.each;
import static j2html.TagCreator.figcaption;
import static j2html.TagCreator.figure;
import static j2html.TagCreator.h1;
import static j2html.TagCreator.h2;
import static j2html.TagCreator.head;
import static j2html.TagCreator.html;
import static j2html.TagCreator.img;
import static j2html.TagCreator.li;
import static j2html.TagCreator.meta;
import static j2html.TagCreator.ol;
import static j2html.TagCreator.p;
import static j2html.TagCreator.rawHtml;
import static j2html.TagCreator.span;
import static j2html.TagCreator.style;
import static j2html.TagCreator.table;
import static j2html.TagCreator.tbody;
import static j2html.TagCreator.td;
import static j2html.TagCreator.th;
import static j2html.TagCreator.thead;
import static j2html.TagCreator.title;
import static j2html.TagCreator.tr;
import static j2html.TagCreator.ul;

import j2html.tags.DomContent;
import j2html.tags.specialized.DivTag;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Comparator;
import java.util.DoubleSummaryStatistics;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.deliver.unit.DeliveryStatus;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.PictureWriter;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Shot;

/**
 * One HTML page that explains a delivery to whoever joins its layers: pictures, the recipe as
 * equations, what each layer shows, its passes and mattes, held frames, and the proof. It holds all
 * of its pictures and needs no other file and no network.
 */
public final class CutPage {
  private static final int WIDE = 640;
  private static final int SMALL = 240;
  private static final float GREY = 0.3f;

  /** The colours of layers, as the window has them. */
  private static final List<String> HUES =
      List.of(
          "#88ccee", "#ddcc77", "#cc6677", "#44aa99", "#b46ab4", "#a5a54a", "#7d86d8", "#d98c5f");

  private static final String STYLE =
      """
      :root { color-scheme: light dark; --line: #8886; --dim: #777; }
      body { font: 15px/1.5 system-ui, sans-serif; max-width: 68rem; margin: 2rem auto; padding: 0 1rem; }
      h1 { font-size: 1.7rem; margin-bottom: .2rem; } h2 { font-size: 1.15rem; margin-top: 2.2rem; }
      figure { margin: 0; } figcaption, .dim { color: var(--dim); font-size: .88rem; }
      img { display: block; max-width: 100%; height: auto; background: repeating-conic-gradient(#555 0 25%, #444 0 50%) 0 0 / 16px 16px; }
      .pair { display: grid; grid-template-columns: 1fr 1fr; gap: 1rem; }
      table { border-collapse: collapse; width: 100%; } th, td { text-align: left; vertical-align: top; padding: .45rem .7rem .45rem 0; border-bottom: 1px solid var(--line); }
      td.number { font-variant-numeric: tabular-nums; white-space: nowrap; }
      .hue { display: inline-block; width: .8em; height: .8em; margin-right: .45em; }
      .equation { font: italic 1.05rem/1.7 "Latin Modern Math", Cambria, Georgia, serif; }
      .equation b { font-style: normal; font-weight: 600; font-family: system-ui, sans-serif; font-size: .95rem; }
      code { font: .88em ui-monospace, monospace; } .good { color: #2a8a62; } .bad { color: #c0392b; }
      """;

  private final Delivery delivery;
  private final Plan plan;
  private final Shot shot;
  private final int frame;

  private CutPage(Delivery delivery, int frame) {
    this.delivery = delivery;
    this.frame = frame;
    plan = delivery.plan();
    shot = plan.requireShot();
  }

  /**
   * Returns the page of a delivery, with the pictures of the frame in the middle.
   *
   * @throws org.wedgecutter.core.io.InputException if no frame is there, or a layer that is joined
   *     has no file
   */
  public static String text(Delivery delivery) throws IOException {
    List<Integer> frames = delivery.frames();
    if (frames.isEmpty()) {
      throw new org.wedgecutter.core.io.InputException(
          delivery.folder(), "files", "no frame has been rendered");
    }
    return new CutPage(delivery, frames.get(frames.size() / 2)).page();
  }

  private String page() throws IOException {
    String name = String.valueOf(delivery.folder().toAbsolutePath().normalize().getFileName());
    List<DomContent> pictures = new ArrayList<>();
    pictures.add(
        figure(
            picture(DeliveryPictures.rejoin(delivery, frame).picture(), WIDE, "rejoined"),
            figcaption("Rejoined by the recipe, frame " + frame)));
    if (delivery.uncut(frame).isPresent()) {
      pictures.add(
          figure(
              picture(DeliveryPictures.uncut(delivery, frame), WIDE, "uncut"),
              figcaption("Rendered uncut, frame " + frame)));
    }
    return "<!DOCTYPE html>\n"
        + html(
                head(
                    meta().withCharset("utf-8"),
                    meta().withName("viewport").withContent("width=device-width"),
                    title(name + ": how it rejoins"),
                    style(rawHtml(STYLE))),
                body(
                    h1(name),
                    p(facts()).withClass("dim"),
                    div(each(pictures, c -> c)).withClass("pair"),
                    recipe(),
                    layers(),
                    passes(),
                    mattes(),
                    proof(),
                    rendered()))
            .withLang("en")
            .render()
        + "\n";
  }

  private String facts() {
    return "%d x %d pixels, %s, %s at %s per second, %d samples per pixel; scene-linear, ITU-R BT.709 primaries, D65 white, premultiplied alpha, %s"
        .formatted(
            delivery.region().width(),
            delivery.region().height(),
            delivery.files().size() + " files",
            (delivery.frames().size() == 1 ? "frame " : "frames ")
                + FrameRange.of(delivery.frames()).text(),
            shot.fps() == Math.rint(shot.fps()) ? String.valueOf((long) shot.fps()) : shot.fps(),
            delivery.samples(),
            plan.output().half() ? "16-bit half floats" : "32-bit floats");
  }

  private static DomContent picture(Picture from, int width, String alt) throws IOException {
    double scale = Math.min(1, (double) width / from.width());
    Picture small =
        from.resized(
            Math.max(1, (int) Math.round(from.width() * scale)),
            Math.max(1, (int) Math.round(from.height() * scale)));
    boolean signed = small.takesLight();
    for (int k = 0; signed && k < small.rgba().length; k++) {
      // what takes light away is shown around grey
      small.rgba()[k] = k % 4 == 3 ? 1 : GREY + small.rgba()[k];
    }
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    PictureWriter.write(small, PictureWriter.Format.PNG8, out);
    String data = Base64.getEncoder().encodeToString(out.toByteArray());
    return img()
        .withSrc("data:image/png;base64," + data)
        .withAlt(alt)
        .withWidth(String.valueOf(small.width()))
        .withHeight(String.valueOf(small.height()));
  }

  private DomContent hue(String layer) {
    int number = plan.layer(layer).map(LayerDef::hue).orElse(0);
    return span()
        .withClass("hue")
        .withStyle("background:" + HUES.get(Math.floorMod(number, HUES.size())));
  }

  // ---- the recipe

  private DivTag recipe() {
    List<DomContent> lines = new ArrayList<>();
    boolean first = true;
    for (Recipe.Step step : DeliveryPictures.joined(delivery, frame).joins()) {
      lines.add(
          li(
              hue(step.layer()),
              rawHtml(equation(step, first)),
              span("  " + words(step.join(), first)).withClass("dim")));
      first = false;
    }
    return div(
        h2("The recipe"),
        p("From back to front. R is the picture so far, α a layer's alpha."),
        ol(each(lines, c -> c)).withClass("equation").withId("recipe"));
  }

  private static String equation(Recipe.Step step, boolean first) {
    String layer = "<b>" + Quoting.html(step.layer()) + "</b>";
    if (first && step.opacity() == 1) {
      return "R = " + layer;
    }
    String joined =
        switch (step.join()) {
          case PLUS -> "R ← R + " + layer;
          case LIGHT -> "R ← R + %s (alpha stays)".formatted(layer);
          case OVER -> "R ← %1$s + (1 − α<sub>%1$s</sub>) R".formatted(layer);
          case TIMES -> "R ← R × %s (alpha stays)".formatted(layer);
          case CATCH -> "R ← %1$s + (1 − α<sub>%1$s</sub>) R (alpha stays)".formatted(layer);
          case MATTE ->
              "R ← R + m (%s − R), m the matte %s"
                  .formatted(layer, step.matte().isEmpty() ? "α" : Quoting.html(step.matte()));
          case DEPTH -> "R ← the nearer of R and %s".formatted(layer);
          case DEEP -> "R ← R merged with %s by depth".formatted(layer);
          case SCREEN -> "R ← R + %1$s − R × %1$s".formatted(layer);
          case MIN -> "R ← min(R, %s)".formatted(layer);
          case MAX -> "R ← max(R, %s)".formatted(layer);
          case DIFFERENCE -> "R ← |R − %s|".formatted(layer);
        };
    return step.opacity() == 1
        ? joined
        : "%s, of which %.4g is mixed with 1 − %.4g of the R before"
            .formatted(joined, step.opacity(), step.opacity());
  }

  private static String words(Join join, boolean first) {
    if (first) {
      return "begins with it";
    }
    return switch (join) {
      case PLUS -> "add all channels, alpha too";
      case OVER -> "lay over, premultiplied";
      case LIGHT -> "add the colours; leave alpha as it is";
      case TIMES -> "multiply the colours: a shadow as a ratio";
      case CATCH -> "lay its caught light and shadow over";
      case MATTE -> "show it where its matte says so";
      case DEPTH -> "show whichever is nearer, by the passes of depth";
      case DEEP -> "merge the deep files by depth, then flatten";
      case SCREEN -> "screen all channels";
      case MIN -> "take the lesser of each channel";
      case MAX -> "take the greater of each channel";
      case DIFFERENCE -> "take the absolute difference of each channel";
    };
  }

  // ---- layers

  private DivTag layers() throws IOException {
    List<DomContent> rows = new ArrayList<>();
    for (LayerDef layer : plan.layers()) {
      List<Delivery.Entry> files =
          delivery.files().stream()
              .filter(f -> !f.uncut() && f.layer().equals(layer.name()))
              .toList();
      if (files.isEmpty()) {
        continue;
      }
      Delivery.Entry main = delivery.held(layer.name(), frame).orElse(files.getFirst());
      rows.add(
          tr(
              td(picture(ExrFrames.read(delivery.path(main)), SMALL, layer.name())),
              td(
                  hue(layer.name()),
                  span(layer.name()).withStyle("font-weight:600"),
                  each(shows(layer), line -> p(line).withClass("dim"))),
              td(code(main.path()), p(held(files)).withClass("dim"))));
    }
    return div(
        h2("Layers"),
        table(
                thead(tr(th(""), th("Layer and what it shows"), th("Files"))),
                tbody(each(rows, c -> c)))
            .withId("layers"));
  }

  /** What a layer shows, by role: names of collections, in the plan's order. */
  private List<String> shows(LayerDef layer) {
    Map<Role, List<String>> byRole = new TreeMap<>(Comparator.comparingInt(CutPage::rank));
    for (CollectionDef c : plan.collections()) {
      Cell cell = layer.cells().get(c.name());
      if (cell != null && cell.role() != null) {
        byRole.computeIfAbsent(cell.role(), r -> new ArrayList<>()).add(c.name());
      }
    }
    Role rest = layer.rest().role();
    if (rest != null) {
      byRole.computeIfAbsent(rest, r -> new ArrayList<>()).add("the rest");
    }
    return byRole.entrySet().stream()
        .map(e -> e.getKey().word() + ": " + String.join(", ", e.getValue()))
        .toList();
  }

  /** What a layer shows comes before what it leaves out. */
  private static int rank(Role role) {
    return switch (role) {
      case SEEN -> 0;
      case CATCHER -> 1;
      case HOLDOUT -> 2;
      case UNSEEN -> 3;
      case ABSENT -> 4;
    };
  }

  private static String held(List<Delivery.Entry> files) {
    TreeSet<Integer> rendered = new TreeSet<>();
    List<String> holds = new ArrayList<>();
    for (Delivery.Entry f : files) {
      if (rendered.add(f.frame()) && !f.heldAt().isEmpty()) {
        holds.add("frame %d is held at %s".formatted(f.frame(), FrameRange.of(f.heldAt()).text()));
      }
    }
    String own =
        (rendered.size() == 1 ? "frame " : "frames ") + FrameRange.of(List.copyOf(rendered)).text();
    return holds.isEmpty() ? own : own + "; " + String.join("; ", holds);
  }

  // ---- passes and mattes

  private DivTag passes() {
    Map<List<String>, List<String>> byPasses = new LinkedHashMap<>();
    for (Delivery.Entry f : delivery.shown(frame)) {
      byPasses.computeIfAbsent(f.passes(), k -> new ArrayList<>()).add(f.layer());
    }
    List<DomContent> rows = new ArrayList<>();
    byPasses.forEach((passes, layers) ->
        rows.add(
            tr(
                td(String.join(", ", layers)),
                td(code(passes.isEmpty() ? "none" : String.join("  ", passes))))));
    return div(
        h2("Passes"),
        p(
            "Each file holds its beauty as R, G, B, A and its passes as channels named after them,"
                + " such as diffuse.direct.R. Diffuse, specular, transmission, emission and medium"
                + " add up to the beauty."),
        table(thead(tr(th("Layers"), th("Passes"))), tbody(each(rows, c -> c))).withId("passes"));
  }

  private DivTag mattes() {
    boolean ids = plan.output().more().contains(Output.More.IDS);
    List<DomContent> names = new ArrayList<>();
    for (CollectionDef c : plan.collections()) {
      names.add(li(span(c.name()), span("  " + c.rule().text()).withClass("dim")));
    }
    return div(
        h2("Mattes"),
        p(
            ids
                ? "Every file holds ID mattes (Cryptomatte) by object, material and collection. The collections are:"
                : "No ID mattes were written. The layers' alphas are mattes of these collections:"),
        ul(each(names, c -> c)).withId("mattes"));
  }

  // ---- the proof

  private DivTag proof() throws IOException {
    List<DomContent> rows = new ArrayList<>();
    int exact = 0;
    List<Integer> proved =
        delivery.frames().stream().filter(f -> delivery.uncut(f).isPresent()).toList();
    for (int f : proved) {
      DeliveryProof proof = DeliveryProof.judge(delivery, f);
      exact += proof.exact() ? 1 : 0;
      String causes = proof.causes().stream().map(c -> c.text()).collect(Collectors.joining(" "));
      rows.add(
          tr(
              td(String.valueOf(f)).withClass("number"),
              td(proof.exact() ? "rejoins exactly" : "does not rejoin exactly")
                  .withClass(proof.exact() ? "good" : "bad"),
              td("%.3g".formatted(proof.residual().max())).withClass("number"),
              td(causes)));
    }
    return div(
        h2("Proof"),
        p(
            proved.isEmpty()
                ? "The uncut frame was not rendered, so nothing proves the layers."
                : "%d of %d frames rejoin exactly: the joined files equal the uncut frame within the rounding of their numbers."
                    .formatted(exact, proved.size())),
        table(
                thead(tr(th("Frame"), th(""), th("Largest residual"), th("Causes"))),
                tbody(each(rows, c -> c)))
            .withId("proof"));
  }

  // ---- how it was rendered

  private DivTag rendered() throws IOException {
    Map<String, List<DeliveryStatus.Cell>> byLayer = new LinkedHashMap<>();
    for (DeliveryStatus.Cell c : DeliveryStatus.read(delivery.folder()).cells()) {
      byLayer.computeIfAbsent(c.unit().layer(), l -> new ArrayList<>()).add(c);
    }
    List<DomContent> rows = new ArrayList<>();
    byLayer.forEach((layer, cells) -> {
      double seconds = 0;
      long rays = 0;
      long bytes = 0;
      TreeSet<Integer> samples = new TreeSet<>();
      TreeSet<String> machines = new TreeSet<>();
      DoubleSummaryStatistics noise = new DoubleSummaryStatistics();
      int done = 0;
      for (DeliveryStatus.Cell c : cells) {
        Delivery.Entry file = c.file();
        if (file != null) {
          done++;
          seconds += c.seconds();
          rays += file.rays();
          bytes += file.bytes();
          samples.add(file.samples());
          machines.add(c.machine());
          if (!Double.isNaN(c.noise())) {
            noise.accept(c.noise());
          }
        }
      }
      rows.add(
          tr(
              td(layer),
              td("%d of %d".formatted(done, cells.size())).withClass("number"),
              td("%,.1f s".formatted(seconds)).withClass("number"),
              td("%,d".formatted(rays)).withClass("number"),
              td(samples.stream().map(String::valueOf).collect(Collectors.joining(", ")))
                  .withClass("number"),
              td(noise.getCount() == 0 ? "" : "%.2g".formatted(noise.getAverage()))
                  .withClass("number"),
              td("%,.1f MB".formatted(bytes / 1e6)).withClass("number"),
              td(String.join(", ", machines))));
    });
    return div(
        h2("How it was rendered"),
        p(
            "Time and rays are a layer's share of the traces that it has in common with others."
                + " Noise is the estimated root mean square error of a frame, scene-linear light."),
        table(
                thead(
                    tr(
                        th("Layer"),
                        th("Files"),
                        th("Time"),
                        th("Rays"),
                        th("Samples"),
                        th("Noise"),
                        th("Size"),
                        th("Machines"))),
                tbody(each(rows, c -> c)))
            .withId("rendered"));
  }
}

package org.wedgecutter.app.station.rejoin;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.function.Supplier;
import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.image.Image;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Entry;
import org.wedgecutter.app.panel.FactGrid;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.app.viewer.ShownImages;
import org.wedgecutter.app.viewer.ToScreen;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.check.DeliveryComparison;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.FrameRange;

/** Two deliveries of a shot compared: layer by layer, frame by frame, with pictures. */
final class DeliveriesPanel extends VBox {
  private static final Logger LOG = LoggerFactory.getLogger(DeliveriesPanel.class);
  private static final int ACROSS = 574;

  /** Frames that the table has room for. */
  private static final int MOST = 8;

  private final Theme theme;
  private final DeliveryChoice first;
  private final DeliveryChoice second;
  private final Button start = new Button("Compare");
  private final Label told = new Label();
  private final FactGrid table = new FactGrid("deliveries-table");
  private final PairView pictures = new PairView(ACROSS);
  private final Label trouble = Entry.trouble("deliveries-trouble");

  /** The frames that are asked for; null for all. */
  private @Nullable FrameRange asked;

  private @Nullable Compared compared;
  private long serial;

  /**
   * What was compared.
   *
   * @param common how many frames both have of those that were asked for
   */
  private record Compared(
      Delivery first, Delivery second, int common, List<DeliveryComparison> frames) {}

  /**
   * @param found finds deliveries beside the plan
   * @param ask asks for another one
   */
  DeliveriesPanel(Supplier<List<Path>> found, Supplier<@Nullable Path> ask, Theme theme) {
    super(8);
    this.theme = theme;
    getStyleClass().add("drawer-body");
    setStyle("-fx-padding: 10 14 10 14;");
    first = new DeliveryChoice("deliveries-first", found, 1);
    second = new DeliveryChoice("deliveries-second", found, 0);
    first.valueProperty().addListener((o, before, now) -> few());
    Button other = new Button("Other…");
    other.setId("deliveries-other");
    other.setOnAction(e -> {
      Path chosen = ask.get();
      if (chosen != null) {
        first.add(chosen);
        second.add(chosen);
        second.setValue(chosen);
      }
    });
    start.setId("deliveries-start");
    start.setOnAction(e -> begin());
    told.setId("deliveries-told");
    told.setWrapText(true);
    table.setOnSelect((row, column) -> look());
    Entry frames =
        new Entry(
            "deliveries-frames",
            "",
            9,
            "frames such as 1-48x4; all if empty",
            trouble,
            text -> asked = text.isBlank() ? null : FrameRange.parse(text));
    frames.setPromptText("all");
    FlowPane line =
        new FlowPane(
            8,
            6,
            first,
            DetailPanel.dim("compared with"),
            second,
            other,
            Entry.named("frames", frames),
            start);
    line.setAlignment(Pos.CENTER_LEFT);
    getChildren().addAll(line, trouble, told, table, pictures);
    few();
  }

  private void few() {
    told.setText(
        first.getValue() == null ? "Fewer than two deliveries found; add one with Other…" : "");
  }

  /** Looks for deliveries that have come since. */
  void refresh() {
    first.refresh();
    second.refresh();
  }

  private void begin() {
    refresh();
    Path a = first.getValue();
    Path b = second.getValue();
    if (a == null || b == null) {
      told.setText("Choose two deliveries.");
      return;
    }
    start.setDisable(true);
    told.setText("Reading…");
    FrameRange wanted = asked;
    run(() -> {
      Delivery one = Delivery.read(a);
      Delivery two = Delivery.read(b);
      List<Integer> common =
          one.frames().stream()
              .filter(two.frames()::contains)
              .filter(f -> wanted == null || wanted.frames().contains(f))
              .toList();
      List<DeliveryComparison> out = new ArrayList<>();
      for (int frame : spread(common)) {
        out.add(DeliveryComparison.of(one, two, frame));
      }
      Compared made = new Compared(one, two, common.size(), out);
      return () -> show(made);
    });
  }

  /** As many frames as the table has room for, the first and the last among them. */
  private static List<Integer> spread(List<Integer> all) {
    if (all.size() <= MOST) {
      return all;
    }
    List<Integer> out = new ArrayList<>();
    for (int k = 0; k < MOST; k++) {
      out.add(all.get(Math.round((float) k * (all.size() - 1) / (MOST - 1))));
    }
    return out;
  }

  /** Reads files in the background, and shows what was made of them. */
  private void run(Reading reading) {
    long own = ++serial;
    Thread.ofPlatform()
        .name("compare deliveries")
        .daemon()
        .start(() -> {
          Runnable shown;
          try {
            shown = reading.read();
          } catch (IOException | RuntimeException e) {
            LOG.info("comparing deliveries", e);
            shown = () -> told.setText("Comparing failed: " + e.getMessage());
          }
          Runnable last = shown;
          Platform.runLater(() -> {
            start.setDisable(false);
            if (own == serial) {
              last.run();
            }
          });
        });
  }

  /** Reads, and returns what is done on the interface thread. */
  private interface Reading {
    Runnable read() throws IOException;
  }

  private void show(Compared made) {
    compared = made;
    long same = made.frames.stream().filter(DeliveryComparison::isSame).count();
    told.setText(
        made.frames.isEmpty()
            ? "These deliveries share no frames."
            : "%d of %d frames match within rounding%s"
                .formatted(
                    same,
                    made.frames.size(),
                    made.common > made.frames.size()
                        ? "; sampled from %d common frames".formatted(made.common)
                        : ""));
    Set<String> rows = new LinkedHashSet<>();
    made.frames.forEach(f -> f.parts().forEach(p -> rows.add(p.layer())));
    List<List<FactGrid.Cell>> cells = new ArrayList<>();
    for (String row : rows) {
      cells.add(made.frames.stream().map(f -> cell(f, row)).toList());
    }
    table.show(
        new FactGrid.Facts(
            "largest difference",
            List.copyOf(rows),
            made.frames.stream().map(f -> "frame " + f.frame()).toList(),
            cells),
        theme);
    look();
  }

  private static FactGrid.Cell cell(DeliveryComparison frame, String layer) {
    for (DeliveryComparison.Part p : frame.parts()) {
      if (p.layer().equals(layer)) {
        String text =
            p.isSame()
                ? "same"
                : p.there().equals("both")
                    ? String.format(Locale.ROOT, p.max() < 10 ? "%.2g" : "%.0f", p.max())
                    : p.there() + " only";
        return new FactGrid.Cell(
            text,
            p.isSame() ? 0 : Math.max(0.02, p.beyond()),
            "%s at frame %d: %s, %.1f %% of pixels differ"
                .formatted(layer, frame.frame(), text, p.beyond() * 100));
      }
    }
    return FactGrid.Cell.EMPTY;
  }

  /** Shows the pictures of the cell that is selected. */
  private void look() {
    Compared now = compared;
    if (now == null || now.frames.isEmpty() || table.facts().rows().isEmpty()) {
      return;
    }
    int frame = now.frames.get(table.column()).frame();
    String layer = table.facts().rows().get(table.row());
    run(() -> {
      Picture a = DeliveryComparison.picture(now.first, layer, frame);
      Picture b = DeliveryComparison.picture(now.second, layer, frame);
      Image left = a == null ? null : ShownImages.small(a, ACROSS);
      Image right = b == null ? null : ShownImages.small(b, ACROSS);
      Image apart = a == null || b == null ? null : heat(a, b);
      return () -> pictures.show(left, right, apart);
    });
  }

  private static Image heat(Picture a, Picture b) {
    Picture out = b.resized(a.width(), a.height()).copy();
    for (int i = 0; i < out.rgba().length; i++) {
      out.rgba()[i] -= a.rgba()[i];
    }
    return ToScreen.heat(out, 0);
  }
}

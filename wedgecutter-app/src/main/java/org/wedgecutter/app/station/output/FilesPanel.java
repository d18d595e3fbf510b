package org.wedgecutter.app.station.output;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import javafx.geometry.Pos;
import javafx.geometry.Side;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.Label;
import javafx.scene.control.MenuItem;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.control.TreeItem;
import javafx.scene.control.TreeView;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Editor;
import org.wedgecutter.app.panel.Entry;
import org.wedgecutter.app.panel.Words;
import org.wedgecutter.app.typing.HalfTyped;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.exr.Compression;

/** Names and formats of files, and the tree of those that would be written. */
final class FilesPanel extends VBox {
  private static final double TREE = 112;
  private static final double WIDE = 270;
  private static final double LINE = 26;
  private static final int FRAMES_SHOWN = 3;
  private static final List<String> FIELDS =
      List.of("{shot}", "{layer}", "{pass}", "{frame:4}", "{camera}", "{version}");

  /** Bytes of a half float. */
  private static final int HALF = 2;

  /**
   * How small files are packed, as a share of their pixels: layers with little in them, and noise.
   */
  private static final double LEAST = 0.15;

  private static final double MOST = 0.6;

  /** Samples of a deep pixel, on average. */
  private static final double SAMPLES = 3;

  private final Editor editor;
  private final Session session;
  private final TreeView<String> tree = new TreeView<>();
  private final Label count = new Label();
  private final Label trouble = Entry.trouble("files-trouble");

  FilesPanel(Editor editor, Session session) {
    super(6);
    this.editor = editor;
    this.session = session;
    Output output = session.plan().output();
    TextField name = new TextField(output.name());
    name.setId("files-name");
    name.setPrefColumnCount(34);
    HBox.setHgrow(name, Priority.ALWAYS);
    ContextMenu fields = fields(name);
    name.textProperty()
        .addListener((o, before, now) -> {
          show(now);
          if (now.length() == before.length() + 1 && now.endsWith("{")) {
            fields.show(name, Side.BOTTOM, 0, 0);
          }
        });
    HalfTyped.by(name, () -> take(name));
    name.focusedProperty()
        .addListener((o, before, now) -> {
          if (!now) {
            take(name);
          }
        });
    HBox line = new HBox(8, DetailPanel.dim("names"), name);
    line.setAlignment(Pos.CENTER_LEFT);
    tree.setId("files-tree");
    tree.setShowRoot(false);
    tree.setPrefSize(WIDE, TREE);
    tree.setMinSize(WIDE, TREE);
    tree.setFixedCellSize(LINE);
    count.setId("files-count");
    VBox left = new VBox(6, formats(output), count, trouble);
    HBox.setHgrow(left, Priority.ALWAYS);
    getChildren().addAll(line, new HBox(10, left, tree));
    show(output.name());
  }

  /** The fields of a template, to choose from. */
  private static ContextMenu fields(TextField name) {
    ContextMenu menu = new ContextMenu();
    for (String field : FIELDS) {
      MenuItem item = new MenuItem(field);
      item.setOnAction(e -> {
        int at = name.getText().endsWith("{") ? name.getLength() - 1 : name.getCaretPosition();
        name.replaceText(at, Math.max(at, name.getCaretPosition()), field);
        name.end();
      });
      menu.getItems().add(item);
    }
    return menu;
  }

  private FlowPane formats(Output output) {
    ChoiceBox<Boolean> half = new ChoiceBox<>();
    half.setId("files-half");
    half.getItems().setAll(true, false);
    half.setConverter(Words.of(h -> h ? "16-bit half floats" : "32-bit floats"));
    half.setValue(output.half());
    half.setOnAction(e ->
        editor.edit(
            half.getValue() ? "half floats" : "32-bit floats",
            p -> p.withOutput(p.output().with(o -> o.half = half.getValue()))));
    ChoiceBox<Compression> packed = new ChoiceBox<>();
    packed.setId("files-compression");
    packed
        .getItems()
        .setAll(
            Compression.NONE,
            Compression.RLE,
            Compression.ZIPS,
            Compression.ZIP,
            Compression.PIZ,
            Compression.PXR24,
            Compression.DWAA,
            Compression.DWAB);
    packed.setConverter(
        Words.of(c ->
            c.name().toLowerCase(Locale.ROOT)
                + (output.with(o -> o.compression = c).isLossy() ? " (lossy)" : "")));
    packed.setValue(output.compression());
    packed.setOnAction(e ->
        editor.edit(
            "compression " + packed.getValue().name().toLowerCase(Locale.ROOT),
            p -> p.withOutput(p.output().with(o -> o.compression = packed.getValue()))));
    CheckBox exact = new CheckBox("keep the beauty in 32-bit float");
    exact.setId("files-beauty-float");
    exact.setSelected(output.floats().contains(Output.BEAUTY));
    exact.setDisable(!output.half());
    exact.setOnAction(e ->
        editor.edit(
            "beauty in 32 bits" + (exact.isSelected() ? "" : " off"),
            p -> p.withOutput(p.output().withFloats(Output.BEAUTY, exact.isSelected()))));
    CheckBox apart = new CheckBox("beauty in its own EXR part");
    apart.setId("files-beauty-apart");
    apart.setSelected(output.beautyApart());
    apart.setTooltip(
        new Tooltip(
            "In files with passes: the beauty opens without its passes being unpacked, which is"
                + " quicker. Some programs read the first part alone."));
    apart.setOnAction(e ->
        editor.edit(
            apart.getText() + (apart.isSelected() ? "" : " off"),
            p -> p.withOutput(p.output().with(o -> o.beautyApart = apart.isSelected()))));
    FlowPane out =
        new FlowPane(
            14, 4, Entry.named("numbers", half), Entry.named("compression", packed), exact, apart);
    out.setAlignment(Pos.CENTER_LEFT);
    return out;
  }

  private void take(TextField name) {
    String next = name.getText().strip();
    if (next.equals(session.plan().output().name())) {
      return;
    }
    try {
      names(next);
    } catch (IllegalArgumentException e) {
      trouble.setText(String.valueOf(e.getMessage()));
      return;
    }
    editor.edit("names of files", p -> p.withOutput(p.output().withName(next)));
  }

  private FileNames names(String template) {
    return new FileNames(
        template,
        session.shot().name(),
        session.shot().camera().name(),
        session.shot().name() + "-v001");
  }

  /** Shows the files that a template makes. */
  private void show(String template) {
    FileNames names;
    try {
      names = names(template);
      trouble.setText("");
    } catch (IllegalArgumentException e) {
      trouble.setText(String.valueOf(e.getMessage()));
      return;
    }
    Shot shot = session.plan().requireShot();
    Output output = session.plan().output();
    List<Integer> frames = shot.frames().frames();
    List<String> layers = new ArrayList<>();
    session.plan().layers().stream()
        .filter(LayerDef::render)
        .map(LayerDef::name)
        .forEach(layers::add);
    layers.add(FileNames.UNCUT);
    Map<String, Object> folders = new TreeMap<>();
    List<String> deep =
        layers.stream()
            .filter(l -> session.plan().layer(l).isPresent())
            .filter(l -> output.more(l).contains(Output.More.DEEP))
            .toList();
    layers.forEach(l -> put(folders, names, l, "", frames));
    deep.forEach(l -> put(folders, names, l, Output.More.DEEP.word(), frames));
    TreeItem<String> root = new TreeItem<>("");
    fill(root, folders, 0);
    tree.setRoot(root);
    long files = (long) (layers.size() + deep.size()) * frames.size();
    int each = output.half() ? HALF : 2 * HALF;
    // two depths, colour and alpha
    double sample = 4 * HALF + 4 * each;
    double bytes =
        (layers.size() * bytes(shot, output)
                + deep.size() * SAMPLES * sample * shot.width() * shot.height())
            * frames.size();
    count.setText(
        "%,d files%s, %s to %s"
            .formatted(
                files,
                copies(output),
                Words.bytes((long) (bytes * LEAST)),
                Words.bytes((long) (bytes * MOST))));
  }

  /** Puts the names of a layer's files among the folders: the first, and how many more. */
  private static void put(
      Map<String, Object> folders,
      FileNames names,
      String layer,
      String pass,
      List<Integer> frames) {
    for (int f = 0; f < Math.min(FRAMES_SHOWN, frames.size()); f++) {
      put(folders, names.name(layer, pass, frames.get(f), "exr"));
    }
    if (frames.size() > FRAMES_SHOWN) {
      String last = names.name(layer, pass, frames.getLast(), "exr");
      int cut = last.lastIndexOf('/');
      put(
          folders,
          last.substring(0, cut + 1)
              + "… %d more, to ".formatted(frames.size() - FRAMES_SHOWN)
              + last.substring(cut + 1));
    }
  }

  private static String copies(Output output) {
    int more =
        (int) output.copies().stream().filter(c -> c != Output.Copy.FRAME).count()
            + (output.copies().contains(Output.Copy.FRAME) ? 1 : 0);
    return more == 0 ? "" : " and their copies in %d forms".formatted(more);
  }

  /** Bytes of the pixels of one file: the beauty, its eight parts, and what else is asked for. */
  private static double bytes(Shot shot, Output output) {
    double numbers = 4;
    numbers += output.passes() ? 24 : 0;
    double exact = 0;
    for (Output.More more : output.more()) {
      switch (more) {
        case LIGHTS, UNSHADOWED, SHADOW, ENVIRONMENT, ALBEDO, NORMAL -> numbers += 3;
        case OCCLUSION, RAMP -> numbers += 1;
        case DEPTH -> exact += 1;
        case POSITION -> exact += 3;
        case UV -> exact += 2;
        case MOTION -> exact += 4;
        case IDS -> exact += 36;
        // in files of its own
        case DEEP -> {}
      }
    }
    int each = output.half() ? HALF : 2 * HALF;
    return (numbers * each + exact * 2 * HALF) * shot.width() * shot.height();
  }

  @SuppressWarnings("unchecked")
  private static void put(Map<String, Object> into, String path) {
    Map<String, Object> at = into;
    String[] parts = path.split("/");
    for (int k = 0; k < parts.length - 1; k++) {
      at = (Map<String, Object>) at.computeIfAbsent(parts[k] + "/", n -> new TreeMap<>());
    }
    at.put(parts[parts.length - 1], "");
  }

  @SuppressWarnings("unchecked")
  private static void fill(TreeItem<String> item, Map<String, Object> content, int depth) {
    content.forEach((name, below) -> {
      TreeItem<String> child = new TreeItem<>(name);
      child.setExpanded(depth < 1);
      item.getChildren().add(child);
      if (below instanceof Map<?, ?> map) {
        fill(child, (Map<String, Object>) map, depth + 1);
      }
    });
  }
}

package org.wedgecutter.app.station.rejoin;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import java.util.function.Supplier;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.image.ImageView;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Words;
import org.wedgecutter.app.viewer.PicturePipe;
import org.wedgecutter.core.image.ContactSheet;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.LayerDef;

/** Layers, or the passes of each, side by side; and the same as a picture file. */
final class SheetPanel extends VBox {
  /** Widths of a tile in pixels, as shown beside the viewer and in a file. */
  private static final int TILE = 278;

  private static final int TILE_IN_FILE = 640;

  /** What stands side by side. */
  enum What {
    LAYERS("layers, rejoined and uncut"),
    COMPONENTS("beauty components of each layer"),
    LIGHTS("light groups of each layer");

    final String title;

    What(String title) {
      this.title = title;
    }
  }

  private final PicturePipe pipe;
  private final ImageView view = new ImageView();
  private final Label told = DetailPanel.dim("");
  private final Button save = new Button("Save as picture…");

  /**
   * @param saver saves a sheet as a file
   */
  SheetPanel(PicturePipe pipe, Consumer<Supplier<Picture>> saver) {
    super(8);
    this.pipe = pipe;
    setStyle("-fx-padding: 10 14 10 14;");
    ChoiceBox<What> what = new ChoiceBox<>();
    what.setId("sheet-what");
    what.getItems().setAll(What.values());
    what.setConverter(Words.of(w -> w.title));
    what.setValue(What.LAYERS);
    what.setOnAction(e -> show(what.getValue()));
    save.setId("sheet-save");
    save.setDisable(true);
    save.setOnAction(e -> {
      What now = what.getValue();
      pipe.ask(
          p -> tiles(p, now), tiles -> saver.accept(() -> ContactSheet.of(tiles, 2, TILE_IN_FILE)));
    });
    told.setId("sheet-told");
    ScrollPane scroll = new ScrollPane(view);
    scroll.setId("sheet-scroll");
    VBox.setVgrow(scroll, Priority.ALWAYS);
    getChildren().addAll(new HBox(8, what, save, told), scroll);
    show(What.LAYERS);
  }

  private void show(What what) {
    told.setText("Building the contact sheet…");
    pipe.make(
        p -> {
          List<ContactSheet.Tile> tiles = tiles(p, what);
          return tiles.isEmpty() ? null : ContactSheet.of(tiles, 2, TILE);
        },
        (made, image) -> {
          view.setImage(image);
          save.setDisable(made == null);
          told.setText(
              made == null
                  ? what == What.LIGHTS
                      ? "The plan writes no passes by light; switch them on in Output."
                      : "There are no pictures yet."
                  : "");
        });
  }

  private static List<ContactSheet.Tile> tiles(Pictures p, What what) {
    List<ContactSheet.Tile> out = new ArrayList<>();
    List<LayerDef> layers = p.plan().layers();
    for (int l = 0; l < layers.size(); l++) {
      String name = layers.get(l).name();
      if (what == What.LAYERS) {
        out.add(new ContactSheet.Tile(name, p.layer(l)));
        continue;
      }
      for (String title : p.passTitles()) {
        PassPicture pass = p.pass(l, title);
        if (pass != null && pass.isLight() && title.startsWith("light.") == (what == What.LIGHTS)) {
          out.add(new ContactSheet.Tile(name + ": " + title, picture(pass, p.layer(l))));
        }
      }
    }
    if (what == What.LAYERS) {
      out.add(new ContactSheet.Tile("rejoined", p.rejoined()));
      out.add(new ContactSheet.Tile("uncut", p.uncut()));
    }
    return out;
  }

  private static Picture picture(PassPicture pass, Picture layer) {
    Picture out = layer.copy();
    for (int i = 0; i < pass.values().length; i++) {
      out.rgba()[i / 3 * 4 + i % 3] = pass.values()[i];
    }
    return out;
  }
}

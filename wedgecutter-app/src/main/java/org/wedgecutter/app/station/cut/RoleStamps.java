package org.wedgecutter.app.station.cut;

import java.util.LinkedHashMap;
import java.util.Map;
import javafx.geometry.VPos;
import javafx.scene.SnapshotParameters;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.image.Image;
import javafx.scene.paint.Color;
import javafx.scene.text.TextAlignment;
import javafx.scene.transform.Transform;
import org.wedgecutter.app.sheet.TextFit;
import org.wedgecutter.app.theme.Glyphs;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.plan.Role;

/**
 * Pictures of cells with roles, each drawn once: without a graphics card, shapes and text take many
 * times longer than copying pixels, and a sheet has few different cells.
 */
final class RoleStamps {
  private final TextFit texts = new TextFit();
  private static final int KEPT = 1200;
  private static final double SHARPNESS = 2;
  private final Map<Key, Image> made =
      new LinkedHashMap<>(64, 0.75f, true) {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<Key, Image> eldest) {
          return size() > KEPT;
        }
      };

  /**
   * What a cell looks like.
   *
   * @param own whether the cell has the role of its own, instead of inheriting it
   * @param member whether it is a member's, which is smaller and has no word
   * @param hue number of the layer's hue
   */
  record Key(
      Theme theme,
      Role role,
      boolean own,
      boolean member,
      int hue,
      int width,
      int height,
      boolean sharp) {}

  void draw(GraphicsContext g, Key key, double x, double y) {
    g.drawImage(made.computeIfAbsent(key, this::make), x, y, key.width, key.height);
  }

  private Image make(Key k) {
    Canvas canvas = new Canvas(k.width, k.height);
    GraphicsContext g = canvas.getGraphicsContext2D();
    g.setTextBaseline(VPos.CENTER);
    Theme t = k.theme;
    boolean strong = k.role == Role.SEEN || k.role == Role.CATCHER;
    if (k.own && strong) {
      g.setFill(Theme.hue(k.hue).deriveColor(0, 1, 1, 0.16));
      g.fillRect(1, 1, k.width - 2, k.height - 2);
    }
    Color color = k.own ? (strong ? t.text : t.text.interpolate(t.dim, 0.6)) : t.inherited;
    Glyphs.role(g, k.role, 16, k.height / 2.0, k.member ? 10 : 13, color);
    if (!k.member) {
      g.setFill(color);
      g.setFont(Theme.sans(12));
      g.setTextAlign(TextAlignment.LEFT);
      g.fillText(texts.fit(k.role.word(), Theme.sans(12), k.width - 34), 28, k.height / 2.0);
    }
    SnapshotParameters how = new SnapshotParameters();
    how.setFill(Color.TRANSPARENT);
    if (k.sharp) {
      how.setTransform(Transform.scale(SHARPNESS, SHARPNESS));
    }
    return canvas.snapshot(how, null);
  }
}

package org.wedgecutter.core.render;

import java.util.ArrayList;
import java.util.List;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.resolve.ResolvedShot;

/** The bands in which a frame is traced, so that it takes no more memory however large it is. */
public final class FrameBands {
  /** Lines of bands are a multiple of this, which tiles and the chunks of most files divide. */
  public static final int LINES = 32;

  private FrameBands() {}

  /**
   * Returns the bands of a frame, from the top. Layers of sizes of their own have other lines: with
   * such layers a frame is one band, and so it is where layers are traced separately.
   *
   * @param lines what the lines of a band are a multiple of, except the last one's
   * @param pixels of a band, about
   */
  public static List<Region> of(
      ResolvedShot resolved, FrameRenderer.Settings settings, int lines, int pixels) {
    boolean isSized =
        resolved.layers().stream()
            .map(l -> l.transport().settings())
            .anyMatch(own ->
                own.width(settings.width()) != settings.width()
                    || own.height(settings.height()) != settings.height());
    return isSized || settings.separately()
        ? List.of(settings.region())
        : of(settings.region(), lines, pixels);
  }

  /** Returns the bands of a region, from the top. */
  public static List<Region> of(Region all, int lines, int pixels) {
    int each = Math.max(lines, pixels / all.width() / lines * lines);
    List<Region> out = new ArrayList<>();
    for (int y = 0; y < all.height(); y += each) {
      out.add(new Region(all.x(), all.y() + y, all.width(), Math.min(each, all.height() - y)));
    }
    return out;
  }
}

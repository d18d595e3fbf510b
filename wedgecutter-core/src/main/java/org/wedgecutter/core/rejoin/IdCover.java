package org.wedgecutter.core.rejoin;

import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.IdMatteFile;
import org.wedgecutter.core.plan.MatteDef;

/** What a matte's names cover, from ID mattes. */
public final class IdCover {
  private IdCover() {}

  /**
   * Returns how much of each pixel some names cover. What is picked twice, by its own name and its
   * material's, counts once. Names that are in none of the mattes pick nothing: a layer need not
   * show them.
   *
   * @param mattes of one picture
   * @param by part of the name of a layer of mattes, empty for the first one that knows a name
   */
  public static float[] of(List<IdMatteFile> mattes, List<String> picks, String by, int pixels) {
    float[] out = new float[pixels];
    Map<IdMatteFile, Set<Integer>> ids = new LinkedHashMap<>();
    for (String word : picks) {
      IdMatteFile.meant(mattes, word, by)
          .ifPresent(m -> ids.computeIfAbsent(m, k -> new HashSet<>()).addAll(m.ids(word)));
    }
    ids.forEach((m, wanted) -> {
      float[] own = m.cover(wanted);
      for (int p = 0; p < out.length; p++) {
        out[p] = Math.max(out[p], own[p]);
      }
    });
    return out;
  }

  /** Returns the cover of a matte's names beside a layer's alpha. */
  public static Picture of(List<IdMatteFile> mattes, MatteDef matte, Picture layer) {
    Picture out = Picture.empty(layer.width(), layer.height());
    boolean all = matte.equals(Expression.ALPHA);
    float[] cover =
        all ? new float[0] : of(mattes, matte.picks(), matte.by(), layer.width() * layer.height());
    for (int p = 0; p < out.rgba().length; p += 4) {
      float alpha = layer.rgba()[p + 3];
      float own = all ? alpha : cover[p / 4];
      out.rgba()[p] = own;
      out.rgba()[p + 1] = own;
      out.rgba()[p + 2] = own;
      out.rgba()[p + 3] = alpha;
    }
    return out;
  }
}

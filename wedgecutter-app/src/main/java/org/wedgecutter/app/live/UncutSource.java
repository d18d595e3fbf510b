package org.wedgecutter.app.live;

import java.util.List;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.IdMatteFile;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.rejoin.IdCover;
import org.wedgecutter.core.rejoin.LayerSource;
import org.wedgecutter.core.rejoin.TracedSource;

/**
 * The uncut frame as the one layer of a recipe, for mattes that are laid over the picture.
 *
 * @param uncut the frame
 * @param layer finds the picture of a layer of the plan, or null
 * @param source for its depth
 * @param ids its ID mattes
 * @param shotWidth width of the shot in pixels
 */
record UncutSource(
    Picture uncut,
    Function<String, @Nullable Picture> layer,
    LayerPictures source,
    List<IdMatteFile> ids,
    int shotWidth)
    implements LayerSource<RuntimeException> {
  @Override
  public Picture picture(String name) {
    Picture own = layer.apply(name);
    return own == null ? uncut : own;
  }

  @Override
  public Picture pass(String name, String pass) {
    return uncut;
  }

  @Override
  public Picture cover(String name, MatteDef of) {
    return IdCover.of(ids, of, uncut);
  }

  @Override
  public Depth depth(String name) {
    return TracedSource.depth(source.uncutPasses("Z"::equals), uncut);
  }

  @Override
  public @Nullable DeepPicture deep(String name) {
    return null;
  }
}

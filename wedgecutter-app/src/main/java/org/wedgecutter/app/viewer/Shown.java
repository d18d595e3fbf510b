package org.wedgecutter.app.viewer;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.live.FilePictures;

/**
 * Everything that the displayed image depends on.
 *
 * @param look the picture
 * @param against the picture that it is compared with
 * @param wipe whether both are shown, on either side of a line
 * @param layer number of the layer, for {@link Look#LAYER}
 * @param otherLayer number of the layer that it is compared with, for {@link Look#LAYER}
 * @param pass title of a pass, or {@link #BEAUTY}
 * @param view exposure, channel and backdrop
 * @param files what {@link Look#FILES} shows; null if no delivery is chosen
 */
record Shown(
    Look look,
    Look against,
    boolean wipe,
    int layer,
    int otherLayer,
    String pass,
    View view,
    @Nullable FilePictures files) {
  /** Stands for the whole picture among its passes. */
  static final String BEAUTY = "beauty";
}

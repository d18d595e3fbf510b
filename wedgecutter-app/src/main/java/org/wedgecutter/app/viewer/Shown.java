package org.wedgecutter.app.viewer;

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
 */
record Shown(
    Look look, Look against, boolean wipe, int layer, int otherLayer, String pass, View view) {
  /** Stands for the whole picture among its passes. */
  static final String BEAUTY = "beauty";
}

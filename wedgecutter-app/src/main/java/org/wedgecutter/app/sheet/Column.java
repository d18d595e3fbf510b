package org.wedgecutter.app.sheet;

import javafx.scene.image.Image;
import org.jspecify.annotations.Nullable;

/**
 * A layer as a column.
 *
 * @param name its name
 * @param hue number of its hue
 * @param picture its own small picture, or null while there is none
 * @param render whether it is rendered
 * @param join the word of its join, or empty if the recipe leaves it out
 * @param seconds what a frame took when it was last rendered, or NaN
 * @param held what of its frames is held, in a word or two; empty if nothing is
 */
public record Column(
    String name,
    int hue,
    @Nullable Image picture,
    boolean render,
    String join,
    double seconds,
    String held) {}

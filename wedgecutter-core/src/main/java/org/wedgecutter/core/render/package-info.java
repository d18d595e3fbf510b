/**
 * Frames: from a loaded shot to the pictures of its layers. {@link
 * org.wedgecutter.core.render.FrameRenderer} resolves a frame, plans the traces, runs them one
 * after another and hands out a {@link org.wedgecutter.core.render.RenderedFrame}, which makes the
 * pictures that are asked for. It can be stopped from another thread at any time.
 */
@NullMarked
package org.wedgecutter.core.render;

import org.jspecify.annotations.NullMarked;

/**
 * Frames: from a loaded shot to the pictures of its layers. {@link
 * org.wedgecutter.core.render.FrameRenderer} resolves a frame, plans the traces, runs them one
 * after another and hands out a {@link org.wedgecutter.core.render.RenderedFrame}, which makes the
 * pictures that are asked for. It can be stopped from another thread at any time.
 *
 * <p>A frame can be rendered in bands or regions; a pixel gets the same bits either way. Traces run
 * one after another with all threads each, so memory is that of one trace's sums and those kept.
 * Begin with {@code FrameRenderer.render}.
 */
@NullMarked
package org.wedgecutter.core.render;

import org.jspecify.annotations.NullMarked;

/**
 * The Render station: frames as rows, and the delivery that fills them. Begin with {@code
 * RenderPanel}, which orders, watches, stops and proves a delivery.
 *
 * <p>A delivery is rendered from a snapshot of the plan on a thread of its own, so edits during a
 * render change nothing in it. Progress comes from that thread, at most about sixteen times a
 * second, and is handed to the interface thread. {@code RenderBoard} and {@code RenderRows} show it
 * by frame and layer. A cell of a layer that is held names the frame that it is held from; which
 * frames those are is given by the window and not decided here.
 *
 * <p>Stop leaves whole files and a valid delivery, which can be resumed from the command line. If
 * uncut frames were written, the written files are read again at the end, rejoined and compared, on
 * a thread of its own; what is shown as verified was read from disk.
 *
 * <p>Invariants: one delivery at a time; each goes into a folder of its own that did not exist
 * before; fields that nobody has typed in follow the plan. A failure is shown in the panel and in
 * the frame's row, with the folder in which finished files stay valid.
 */
@NullMarked
package org.wedgecutter.app.station.render;

import org.jspecify.annotations.NullMarked;

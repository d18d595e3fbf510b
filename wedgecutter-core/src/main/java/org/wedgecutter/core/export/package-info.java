/**
 * What is written for other programs and for people, from plans and deliveries.
 *
 * <p>{@link org.wedgecutter.core.export.JoinScript} writes the recipe's expression as a shell
 * script of an image tool ({@code ToolCommands}: one walk over the expression), {@link
 * org.wedgecutter.core.export.SlurmJobs} the work as jobs of a scheduler, {@link
 * org.wedgecutter.core.export.OpenRaster} a frame's layers as one file for painters, {@link
 * org.wedgecutter.core.export.CutPage} one page for people, {@link
 * org.wedgecutter.core.export.UsdPlan} the cut as OpenUSD text, {@link
 * org.wedgecutter.core.export.CameraExport} camera, lights and points over frames. {@link
 * org.wedgecutter.core.export.HandOver} puts all that a delivery is handed over with into its
 * folder; {@link org.wedgecutter.core.export.RejoinedFile} is one rejoined frame.
 *
 * <p>Invariants: what a form cannot hold is refused with its name, or told; nothing is written
 * outside the delivery or the file that is named. Begin with {@code HandOver}.
 */
@NullMarked
package org.wedgecutter.core.export;

import org.jspecify.annotations.NullMarked;

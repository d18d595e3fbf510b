/**
 * The Rejoin station: what a compositing artist will do with the layers, tried before they are
 * delivered. Rows are joins, opacities, corrections by type, light groups, effects and mattes; a
 * cell is what is done to its layer, and a row's head what is done to all that is rejoined.
 *
 * <p>{@code RejoinRows} lists them from the plan's recipe. The panel below the sheet edits the cell
 * under the cursor: {@code JoinPanel} a join with its reason, {@code CorrectionPanel} corrections
 * and effects, {@code MixerPanel} the levels and tints of light groups, {@code MattePanel} a matte,
 * which is picked in the picture too, {@code BackgroundPanel} what stands behind all, {@code
 * InViewPanel} the delivery whose files are shown ({@code DeliveryInView}); {@code DeepPlot} shows
 * the samples under the pointer, {@code ComparePanel} the ways to compare. {@code CorrectionForm}
 * tells what values of a type mean and within which bounds a slider moves them. Begin with {@link
 * org.wedgecutter.app.station.rejoin.RejoinStation}.
 *
 * <p>Everything is an edit of the recipe, so it is undone like any edit, saved with the plan, and
 * done again by whoever rejoins the files. A slider that is dragged is one edit. The room holds no
 * state but which rows are open, whether the picture is picked in, and which delivery is shown.
 */
@NullMarked
package org.wedgecutter.app.station.rejoin;

import org.jspecify.annotations.NullMarked;

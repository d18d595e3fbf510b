/**
 * The Output station: settings and passes as rows, each layer's own or those of the shot.
 *
 * <p>{@code OutputRows} lists settings and passes; a setting's cell is the layer's own value or the
 * shot's, shown dim. {@code SettingPanel} edits a layer's value, {@code ShotPanel} what all layers
 * share, {@code PassPanel} a pass, which is written with every layer. Begin with {@link
 * org.wedgecutter.app.station.output.OutputStation}.
 *
 * <p>Values of a layer are overrides of the plan, the same mechanism as overrides in a cell: they
 * can be keyed, are checked by the same findings, and are undone like any edit. So the room holds
 * no state but which rows are open.
 *
 * <p>A new setting is a {@code Property} of the kind that belongs to a layer, and a row here; a new
 * pass is an entry of {@code Output.More}, and its row is made from it. What a setting means for
 * pictures, and whether layers that differ in it still rejoin, is the core's to say.
 */
@NullMarked
package org.wedgecutter.app.station.output;

import org.jspecify.annotations.NullMarked;

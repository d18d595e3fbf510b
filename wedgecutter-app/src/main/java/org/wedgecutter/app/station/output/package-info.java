/**
 * The Output station: settings and passes as rows, each layer's own or those of the shot.
 *
 * <p>{@code OutputRows} lists settings and passes; a setting's cell is the layer's own value or the
 * shot's. {@code SettingPanel}, {@code PassPanel} and {@code ShotPanel} edit them. Values of a
 * layer are overrides of the plan, so the room holds no state but which rows are open.
 *
 * <p>Begin with {@link org.wedgecutter.app.station.output.OutputStation}.
 */
@NullMarked
package org.wedgecutter.app.station.output;

import org.jspecify.annotations.NullMarked;

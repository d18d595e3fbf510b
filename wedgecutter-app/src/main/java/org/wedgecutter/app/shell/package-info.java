/**
 * The window: top bar, menus, timeline, findings, keys, and the ways between the stations. It knows
 * stations as {@link org.wedgecutter.app.station.Station} and nothing more; an architecture test
 * holds that. Begin with {@link org.wedgecutter.app.shell.MainWindow}.
 */
@NullMarked
package org.wedgecutter.app.shell;

import org.jspecify.annotations.NullMarked;

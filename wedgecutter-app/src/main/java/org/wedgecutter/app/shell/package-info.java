/**
 * The window: top bar, menus, timeline, findings, keys, and the ways between the stations. It knows
 * stations as {@link org.wedgecutter.app.station.Station} and nothing more; an architecture test
 * holds that. Begin with {@link org.wedgecutter.app.shell.MainWindow}.
 *
 * <p>{@code WindowBench} is the window as parts and stations know it; {@code WindowFiles} the
 * files; {@code Menus} and {@code WindowKeys} the shortcuts; {@code PlanChecker} looks for findings
 * in the background; {@code ProofDesk} has causes measured and shows them, with their pictures;
 * {@code FindingsBar} is the foot with findings and causes.
 *
 * <p>Invariant: everything here runs on the interface thread and waits for nothing. Whatever
 * arrives late for a shot or plan that is no longer open is dropped.
 */
@NullMarked
package org.wedgecutter.app.shell;

import org.jspecify.annotations.NullMarked;

/**
 * The commands: thin covers over the core. {@link org.wedgecutter.cli.Main} is the entry.
 *
 * <p>A command reads its arguments, calls one room of the core, and prints one record through
 * {@code Result}: as text, or with {@code --json} as one document. It throws on errors; {@code
 * Commands} turns them into one line and an exit status. No command decides anything that the
 * window would decide otherwise.
 */
@NullMarked
package org.wedgecutter.cli;

import org.jspecify.annotations.NullMarked;

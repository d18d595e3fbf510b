/**
 * The commands: thin covers over the core, one class each. Begin with {@link
 * org.wedgecutter.cli.Main}, which lists them.
 *
 * <p>A command reads its arguments, calls one room of the core, and prints one record through
 * {@code Result}: as text, or with {@code --json} as one document with the same content. Options of
 * the commands that trace (scale, samples, seed, layers apart) stand in {@code Options}. Errors go
 * to the error stream, so the output can be piped.
 *
 * <p>Errors are thrown; {@code Commands} turns them into one line with file and place. Exit status:
 * 0 fine, 1 check failed (a plan with errors, layers that do not rejoin), 2 wrong use or unreadable
 * input, 3 stopped or failed. An interrupted command stops its trace and leaves whole files only. A
 * new command is a class here and an entry in {@code Main}.
 *
 * <p>Invariants: no command decides anything that the window would decide otherwise; a file appears
 * whole or not at all; every command has help with an example, which a test asks for.
 */
@NullMarked
package org.wedgecutter.cli;

import org.jspecify.annotations.NullMarked;

/**
 * How every command takes its options, prints its result and ends, whether it opens a window,
 * renders or measures.
 *
 * <p>{@link org.wedgecutter.command.Commands} runs a command and turns whatever happens into an
 * exit status and one line on standard error. {@link org.wedgecutter.command.Result} prints:
 * results to standard output, as text or as one JSON document made of records by one mapper with
 * keys in snake_case; progress to standard error. {@link org.wedgecutter.command.Threads} limits
 * all work of a command to a number of threads.
 */
@NullMarked
package org.wedgecutter.command;

import org.jspecify.annotations.NullMarked;

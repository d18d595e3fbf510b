/**
 * Files: whole-or-nothing writing, paths that stay in their folder, and the one exception for input
 * that cannot be used.
 *
 * <p>{@link org.wedgecutter.core.io.AtomicFile} writes beside the target and moves the finished
 * file into place, so a reader never sees half a file. {@link org.wedgecutter.core.io.RootFolder}
 * is a folder whose contents may come from anybody: all that is below it is opened, written and
 * deleted there, and no link is followed. {@link org.wedgecutter.core.io.SafePath} resolves a path
 * that came from a file and refuses one that leaves the folder. {@link
 * org.wedgecutter.core.io.Budget} bounds what an opening may take, and {@link
 * org.wedgecutter.core.io.Visible} makes text from files fit for a terminal. {@link
 * org.wedgecutter.core.io.InputException} names the file, the place in it, and what was expected;
 * every reader of the project throws it and nothing else for bad input. {@link
 * org.wedgecutter.core.io.ContentDigest} is the digest of what values hold, the same in every run:
 * what is kept on the disk is found by it.
 */
@NullMarked
package org.wedgecutter.core.io;

import org.jspecify.annotations.NullMarked;

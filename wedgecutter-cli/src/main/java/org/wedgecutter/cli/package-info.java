/** The commands: thin covers over the core. {@link org.wedgecutter.cli.Main} is the entry. */
@NullMarked
package org.wedgecutter.cli;

import org.jspecify.annotations.NullMarked;

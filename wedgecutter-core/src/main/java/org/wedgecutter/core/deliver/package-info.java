/** The delivery: names, files, manifest, and reading it back. */
@NullMarked
package org.wedgecutter.core.deliver;

import org.jspecify.annotations.NullMarked;

/** Findings: what can be seen to be wrong in a plan before anything is traced. */
@NullMarked
package org.wedgecutter.core.check;

import org.jspecify.annotations.NullMarked;

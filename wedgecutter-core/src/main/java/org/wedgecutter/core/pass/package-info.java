/** What a picture's light is split into. */
@NullMarked
package org.wedgecutter.core.pass;

import org.jspecify.annotations.NullMarked;

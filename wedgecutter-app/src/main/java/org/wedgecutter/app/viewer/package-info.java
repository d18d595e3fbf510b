/** The picture. */
@NullMarked
package org.wedgecutter.app.viewer;

import org.jspecify.annotations.NullMarked;

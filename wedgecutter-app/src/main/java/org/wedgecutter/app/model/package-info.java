/** The plan under edit and its history. No JavaFX types. */
@NullMarked
package org.wedgecutter.app.model;

import org.jspecify.annotations.NullMarked;

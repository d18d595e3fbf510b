/** Sums of fragments per pixel and entity, and their regrouping into the pictures of layers. */
@NullMarked
package org.wedgecutter.core.fragment;

import org.jspecify.annotations.NullMarked;

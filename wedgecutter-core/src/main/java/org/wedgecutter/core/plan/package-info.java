/**
 * The plan: collections, layers, cells, roles, overrides and the recipe, as immutable records, and
 * their JSON form.
 */
@NullMarked
package org.wedgecutter.core.plan;

import org.jspecify.annotations.NullMarked;

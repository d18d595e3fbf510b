/**
 * Ways of cutting: what can be done to a plan with knowledge of its scene. Roles for chosen
 * entities, layers from a selection, presets, carrying a plan to another scene, and explaining what
 * decides.
 */
@NullMarked
package org.wedgecutter.core.cut;

import org.jspecify.annotations.NullMarked;

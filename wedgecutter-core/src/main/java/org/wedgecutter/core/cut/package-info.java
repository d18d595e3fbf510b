/**
 * Ways of cutting: edits of a plan that need to know its scene. Roles for picked entities, layers
 * from a selection, presets, completion of rules, and the explanation of what decides a role.
 *
 * <p>Everything here returns a plan; nothing changes one. Begin with {@link
 * org.wedgecutter.core.cut.Cuts} (roles and layers) and {@link org.wedgecutter.core.cut.Preset}.
 */
@NullMarked
package org.wedgecutter.core.cut;

import org.jspecify.annotations.NullMarked;

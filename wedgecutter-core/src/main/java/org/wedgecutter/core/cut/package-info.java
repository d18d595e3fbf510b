/**
 * Ways of cutting: edits of a plan that need to know its scene. Roles for picked entities, layers
 * from a selection, presets, completion of rules, and the explanation of what decides a role.
 *
 * <p>Everything here returns a plan; nothing changes one. Begin with {@link
 * org.wedgecutter.core.cut.Cuts} (roles and layers) and {@link org.wedgecutter.core.cut.Preset}.
 *
 * <p>Invariant: cuts from a selection and presets either rejoin exactly or say in their description
 * where they do not; a test traces each. Entities are compared as sets, so a row that decides for
 * just these entities is changed, and otherwise a new row is put on top.
 */
@NullMarked
package org.wedgecutter.core.cut;

import org.jspecify.annotations.NullMarked;

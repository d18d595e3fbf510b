/**
 * The plan under edit and its history, without JavaFX types. {@link
 * org.wedgecutter.app.model.Session} is an open shot: plan, resolved layers, frame. An edit is a
 * function from plan to plan; {@link org.wedgecutter.app.model.History} keeps every plan, so undo
 * costs nothing.
 *
 * <p>Invariants: a plan is never changed, only replaced; an edit that changes nothing adds no step;
 * "saved" is the number of a step, so undo back to it is saved again. A session is used by the
 * interface thread alone; opening one happens in the background. Begin with {@code Session.edit}.
 */
@NullMarked
package org.wedgecutter.app.model;

import org.jspecify.annotations.NullMarked;

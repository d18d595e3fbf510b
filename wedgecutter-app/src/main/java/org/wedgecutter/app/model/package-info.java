/**
 * The plan under edit and its history, without JavaFX types. {@link
 * org.wedgecutter.app.model.Session} is an open shot: plan, resolved layers, frame. An edit is a
 * function from plan to plan; {@link org.wedgecutter.app.model.History} keeps every plan, so undo
 * costs nothing.
 */
@NullMarked
package org.wedgecutter.app.model;

import org.jspecify.annotations.NullMarked;

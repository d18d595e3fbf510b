/**
 * Carrying a plan to another scene: rules are matched anew, picked members and cameras are looked
 * up by path, and a report tells what each collection matches there and what was lost. {@link
 * org.wedgecutter.core.carry.Carry} is the arithmetic, {@link
 * org.wedgecutter.core.carry.PlanCarrier} the files.
 */
@NullMarked
package org.wedgecutter.core.carry;

import org.jspecify.annotations.NullMarked;

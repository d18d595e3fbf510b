/**
 * Carrying a plan to another scene: rules are matched again, picked members and cameras are looked
 * up by path, and a report tells what each collection matches there and what was lost. {@link
 * org.wedgecutter.core.carry.Carry} is the arithmetic, {@link
 * org.wedgecutter.core.carry.PlanCarrier} the files.
 *
 * <p>A plan is carried without its own scene (template) or beside it; only with it can the report
 * count matches before. Nothing is written before the new plan is complete; images of the plan are
 * copied into its folder, as paths may not leave that.
 */
@NullMarked
package org.wedgecutter.core.carry;

import org.jspecify.annotations.NullMarked;

/**
 * First cuts of a shot, made from what a survey tells. Begin with {@link
 * org.wedgecutter.core.propose.Proposer}.
 *
 * <h2>Mechanism</h2>
 *
 * <p>The groups of the hierarchy become up to five parts ({@code Casting}): effects are media; the
 * hero is what is tagged or named so, else what moves and is seen most; the foreground is in front
 * of all that it overlaps; the background is behind all, or holds nearly everything; the rest is
 * the set. Each part becomes a collection by a rule that names what the members have in common
 * ({@link org.wedgecutter.core.propose.RuleMaker}), so that it matches in the next shot too.
 *
 * <p>From the parts come alternatives ({@link org.wedgecutter.core.propose.Proposal}), each with
 * what can be changed later without rendering all of it again, and each proved by a small trace.
 */
@NullMarked
package org.wedgecutter.core.propose;

import org.jspecify.annotations.NullMarked;

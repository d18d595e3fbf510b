/**
 * Proofs of deliveries: from the written files, as a stranger would.
 *
 * <p>{@link org.wedgecutter.core.deliver.check.DeliveryProof} is the result; begin with its {@code
 * prove}. {@code DeliverySearch} goes by one order of evidence: values that are not finite, files
 * against their records, records against the digest of the plan, findings of the plan that was
 * rendered, measured by tracing it small, and last what was done to files without records. Each
 * step begins with what the one before left, so a file that fits its record is never accused.
 *
 * <p>{@code FileFrame} is a frame of files rejoined by the recipe, immutable: with another picture
 * in the place of one file it is another frame. What a recipe makes of one layer is affine in its
 * colour and alpha, so three evaluations tell what the file would have to be, under any join.
 * {@code FileSearch} recognises what was done to {@code FrameFile}s: {@code FileChange} by undoing
 * it, {@code FileLosses}, where something is lost, by doing the same to what should be there.
 *
 * <p>{@link org.wedgecutter.core.deliver.check.DeliveryComparison} holds two deliveries against one
 * another.
 *
 * <p>Costs: a frame that rejoins takes the reading of its files; one that does not, some seconds of
 * tracing, and up to a minute in HD for files without records. {@code judge} leaves that out.
 */
@NullMarked
package org.wedgecutter.core.deliver.check;

import org.jspecify.annotations.NullMarked;

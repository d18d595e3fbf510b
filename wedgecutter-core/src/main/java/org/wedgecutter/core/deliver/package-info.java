/**
 * What a delivery is: its manifest, and the records of its units.
 *
 * <p>{@link org.wedgecutter.core.deliver.Delivery} is the manifest {@code delivery.json}, a view of
 * the records; a unit is a layer at a frame, and {@code UnitFolder} keeps the record of each that
 * is done. Frames of files are in {@code deliver.file}, rendering in {@code deliver.unit}, proofs
 * in {@code deliver.check}; what is written for other programs in {@code export}.
 */
@NullMarked
package org.wedgecutter.core.deliver;

import org.jspecify.annotations.NullMarked;

/**
 * Rendering a delivery: units of work, a layer at a frame each.
 *
 * <p>{@link org.wedgecutter.core.deliver.unit.DeliveryRenderer} finds which units an order needs,
 * {@code UnitLoop} renders them band by band, {@code UnitContents} tells what their files hold,
 * {@code UnitFiles} and {@code UnitBands} write them, and {@code UnitDigests} tells what they
 * depend on. Files, and then the record, are moved into place whole, so a stop at any moment leaves
 * only whole files; bands hold memory down, outlive a kill and do not change a bit. Any number of
 * processes may work on one delivery without a lock: two that make the same unit make the same
 * bytes.
 *
 * <p>{@link org.wedgecutter.core.deliver.unit.DeliveryStatus} tells how far a delivery is, {@link
 * org.wedgecutter.core.deliver.unit.Patcher} renders a part again. Begin with {@code
 * DeliveryRenderer}.
 */
@NullMarked
package org.wedgecutter.core.deliver.unit;

import org.jspecify.annotations.NullMarked;

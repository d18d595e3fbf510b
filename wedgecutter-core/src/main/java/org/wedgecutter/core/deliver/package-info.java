/**
 * The delivery: names, files, manifest, and reading it back.
 *
 * <p>A delivery is made of units, a layer at a frame each. {@link
 * org.wedgecutter.core.deliver.DeliveryRenderer} finds which an order needs, {@code UnitLoop}
 * renders them band by band, {@code UnitFiles} writes them, {@code UnitDigests} tells what they
 * depend on, and {@code UnitFolder} keeps their records. Files, and then the record, are moved into
 * place whole, so a stop at any moment leaves only whole files; bands hold memory down, outlive a
 * kill and do not change a bit. Any number of processes may work on one delivery without a lock:
 * two that make the same unit make the same bytes. {@link org.wedgecutter.core.deliver.Delivery} is
 * the manifest {@code delivery.json}, a view of the records. Begin with {@code DeliveryRenderer}.
 *
 * <p>{@link org.wedgecutter.core.deliver.DeliveryStatus} tells how far a delivery is, {@link
 * org.wedgecutter.core.deliver.Patcher} renders a part again. {@link
 * org.wedgecutter.core.deliver.DeliveryPictures} reads and rejoins the written files; {@code
 * FilePicture} puts their pixels where the data window says. Proofs are in {@code deliver.check},
 * what is written for other programs in {@code export}.
 */
@NullMarked
package org.wedgecutter.core.deliver;

import org.jspecify.annotations.NullMarked;

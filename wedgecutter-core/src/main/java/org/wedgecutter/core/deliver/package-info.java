/**
 * The delivery: names, files, manifest, and reading it back.
 *
 * <p>{@link org.wedgecutter.core.deliver.DeliveryRenderer} renders frames band by band and writes
 * them as OpenEXR; bands hold memory down and do not change a bit. {@link
 * org.wedgecutter.core.deliver.Delivery} is the manifest {@code delivery.json}: the plan as
 * rendered and every file with its SHA-256. Every file is written beside its name and moved into
 * place whole, so a stop at any moment leaves only whole files and {@code --resume} goes on. {@link
 * org.wedgecutter.core.deliver.DeliveryProof} proves the written files as a stranger would. Begin
 * with {@code DeliveryRenderer}.
 *
 * <p>A delivery keeps a digest of its scene and images and is resumed only with the same. For other
 * programs: {@link org.wedgecutter.core.deliver.UsdPlan} (the cut), {@link
 * org.wedgecutter.core.deliver.CameraExport} (camera, lights, points), {@link
 * org.wedgecutter.core.deliver.JoinScript} (the joins by an image tool) and {@link
 * org.wedgecutter.core.deliver.OpenRaster} (a frame's layers in one file).
 */
@NullMarked
package org.wedgecutter.core.deliver;

import org.jspecify.annotations.NullMarked;

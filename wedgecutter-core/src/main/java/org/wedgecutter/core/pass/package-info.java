/**
 * What the light of a picture is divided into: {@link org.wedgecutter.core.pass.LightPass light
 * passes} (by the first event and by whether the light is direct), data passes and ID mattes, with
 * the channel names they have in files. Light passes of a layer add up to its beauty. Source for ID
 * mattes: the open Cryptomatte specification, version 1.2.0.
 *
 * <p>A pass has a name, its channels and whether rounding to 16 bits is allowed. The order of
 * {@code LightPass} is the layout of a fragment's light in the tracer and in sums; nothing else
 * knows it. Begin with {@code LightPass}.
 */
@NullMarked
package org.wedgecutter.core.pass;

import org.jspecify.annotations.NullMarked;

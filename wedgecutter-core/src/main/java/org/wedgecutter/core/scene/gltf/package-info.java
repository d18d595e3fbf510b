/** Reading glTF 2.0 (.gltf and .glb) into a scene. */
@NullMarked
package org.wedgecutter.core.scene.gltf;

import org.jspecify.annotations.NullMarked;

/**
 * Reads glTF 2.0 (.gltf, .glb) into a scene: meshes, instances, hierarchy, materials with textures,
 * cameras, animation, skins, morph targets, and the KHR and EXT extensions named in {@link
 * org.wedgecutter.core.scene.gltf.GltfReader}. Media come as node {@code extras}, in the form
 * documented in {@code docs/cutting.md}.
 *
 * <p>The document is parsed by a library into plain objects; buffers are read through accessors
 * that check every count and offset against the buffer's length, so a hostile file ends in an
 * {@link org.wedgecutter.core.io.InputException} and never in more memory than the file itself.
 * Source: the glTF 2.0 specification and its extension registry, Khronos Group. Begin with {@code
 * GltfReader}.
 */
@NullMarked
package org.wedgecutter.core.scene.gltf;

import org.jspecify.annotations.NullMarked;

package org.wedgecutter.core.trace;

import org.joml.Matrix4f;

/**
 * A scene at one time, ready for rays.
 *
 * @param world its geometry
 * @param emitters what gives off light
 * @param environment what surrounds it
 * @param textures its images
 * @param pose world transform of each node
 * @param appearance materials and lights as one transport class has them
 */
record FrameWorld(
    World world,
    Emitters emitters,
    Environment environment,
    Textures textures,
    Matrix4f[] pose,
    Appearance appearance) {}

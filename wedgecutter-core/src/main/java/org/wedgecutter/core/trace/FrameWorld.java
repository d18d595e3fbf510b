package org.wedgecutter.core.trace;

import org.joml.Matrix4f;

/**
 * A scene while the shutter is open, ready for rays.
 *
 * @param world its geometry
 * @param emitters what gives off light
 * @param environment what surrounds it
 * @param textures its images
 * @param poses at each moment, the world transform of each node
 * @param before the same a frame earlier, in the shutter's middle
 * @param after the same a frame later
 * @param appearance materials and lights as one transport class has them
 * @param matter media
 * @param points how random numbers lie to one another
 */
record FrameWorld(
    World world,
    Emitters emitters,
    Environment environment,
    Textures textures,
    Matrix4f[][] poses,
    Matrix4f[] before,
    Matrix4f[] after,
    Appearance appearance,
    Matter[] matter,
    Points points) {}

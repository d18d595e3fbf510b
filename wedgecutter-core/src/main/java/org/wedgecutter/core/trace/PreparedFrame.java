package org.wedgecutter.core.trace;

import org.joml.Matrix4f;
import org.wedgecutter.core.trace.light.Emitters;
import org.wedgecutter.core.trace.light.EnvironmentMap;
import org.wedgecutter.core.trace.sample.SamplePattern;
import org.wedgecutter.core.trace.volume.PreparedMedium;
import org.wedgecutter.core.trace.world.Appearance;
import org.wedgecutter.core.trace.world.ShutterMotion;
import org.wedgecutter.core.trace.world.Textures;
import org.wedgecutter.core.trace.world.World;

/**
 * A scene over the shutter interval, prepared for tracing.
 *
 * @param world its geometry
 * @param emitters the emitters
 * @param environment the environment
 * @param textures its images
 * @param motion of the nodes while the shutter is open
 * @param before the same a frame earlier, in the shutter's middle
 * @param after the same a frame later
 * @param appearance materials and lights as one transport class has them
 * @param matter media
 * @param points the sample pattern
 */
public record PreparedFrame(
    World world,
    Emitters emitters,
    EnvironmentMap environment,
    Textures textures,
    ShutterMotion motion,
    Matrix4f[] before,
    Matrix4f[] after,
    Appearance appearance,
    PreparedMedium[] matter,
    SamplePattern points) {}

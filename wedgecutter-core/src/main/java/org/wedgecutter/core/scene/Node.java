package org.wedgecutter.core.scene;

import java.util.List;
import org.joml.Matrix4f;
import org.joml.Quaternionf;

/**
 * A node of the hierarchy.
 *
 * @param path names from the root, joined by slashes; unique in the scene
 * @param parent index of the parent, less than the node's own, or -1
 * @param rest the local transform without animation
 * @param channels what animates it
 */
public record Node(String path, int parent, Local rest, List<Channel> channels) {
  public Node {
    channels = List.copyOf(channels);
  }

  /**
   * A local transform: scale, then turn, then shift.
   *
   * @param translation 3 numbers
   * @param rotation unit quaternion x, y, z, w
   * @param scale 3 numbers
   */
  public record Local(float[] translation, float[] rotation, float[] scale) {}

  /** Whether it is there at a time, as far as its parents are. */
  boolean isVisible(double time) {
    float[] out = {1};
    for (Channel channel : channels) {
      if (channel.target() == Channel.Target.VISIBLE) {
        channel.sample(time, out);
      }
    }
    return out[0] > 0;
  }

  Matrix4f local(double time) {
    float[] translation = rest.translation.clone();
    float[] rotation = rest.rotation.clone();
    float[] scale = rest.scale.clone();
    for (Channel channel : channels) {
      channel.sample(
          time,
          switch (channel.target()) {
            case TRANSLATION -> translation;
            case ROTATION -> rotation;
            case SCALE -> scale;
            case VISIBLE -> new float[1];
          });
    }
    Quaternionf q = new Quaternionf(rotation[0], rotation[1], rotation[2], rotation[3]).normalize();
    return new Matrix4f()
        .translationRotateScale(
            translation[0],
            translation[1],
            translation[2],
            q.x,
            q.y,
            q.z,
            q.w,
            scale[0],
            scale[1],
            scale[2]);
  }
}

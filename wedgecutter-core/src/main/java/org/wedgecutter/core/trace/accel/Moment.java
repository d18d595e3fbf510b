package org.wedgecutter.core.trace.accel;

import org.jspecify.annotations.Nullable;

/**
 * A moment while the shutter is open, and where the instances stand then. What moves is placed when
 * it is first asked for at a moment, so a moment costs what rays meet of it. One object serves one
 * thread; all that traces a sample shares it.
 */
public final class Moment {
  private final Instances world;
  private float time = 0.5f;
  private int now = 1;

  /** The moment at which each instance was placed last; null where nothing moves. */
  private final int @Nullable [] placed;

  /**
   * Object to world and world to object, twelve numbers an instance, of those that {@link #place}
   * was asked for at this moment and of those that are still.
   */
  public final float[] toWorld;

  public final float[] toObject;

  /** The shape that each instance has at this moment. */
  final MeshTree[] shape;

  /** How far each shape is on the way to its end, 0 to 1. */
  final float[] part;

  public Moment(Instances world) {
    this.world = world;
    boolean moving = world.moves();
    placed = moving ? new int[world.instances] : null;
    toWorld = moving ? world.toWorld.clone() : world.toWorld;
    toObject = moving ? world.toObject.clone() : world.toObject;
    shape = world.tree.clone();
    part = new float[world.instances];
    set(time);
  }

  /** Goes to a moment: 0 when the shutter opens, 1 when it closes. */
  public void set(float next) {
    time = next;
    now++;
    for (int i : world.bending) {
      MeshTree[] shapes = world.shapes[i];
      float at = next * shapes.length;
      int k = Math.max(0, Math.min(shapes.length - 1, (int) at));
      shape[i] = shapes[k];
      part[i] = Math.max(0, Math.min(1, at - k));
    }
  }

  /** Returns the moment, 0 to 1. */
  public float time() {
    return time;
  }

  /** Places an instance, so that its transforms can be read. */
  public void place(int instance) {
    if (placed != null && placed[instance] != now) {
      placed[instance] = now;
      MotionPath path = world.path[instance];
      if (path != null) {
        path.at(time, toWorld, MotionPath.SIZE * instance);
        Instances.invert(toWorld, toObject, MotionPath.SIZE * instance);
      }
    }
  }

  /** Returns the shape of an instance at this moment. */
  public MeshTree shape(int instance) {
    return shape[instance];
  }

  /** Returns how far that shape is on the way to its end, 0 to 1. */
  public float part(int instance) {
    return part[instance];
  }
}

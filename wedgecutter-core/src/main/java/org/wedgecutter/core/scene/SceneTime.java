package org.wedgecutter.core.scene;

import com.google.common.hash.HashCode;
import java.util.function.IntPredicate;
import org.jspecify.annotations.Nullable;

/**
 * What a scene is like while the shutter is open at a frame, as digests of its entities and of the
 * camera: made by {@link TimeDigest}. Without a scene, frames differ by their numbers.
 */
public final class SceneTime {
  private final int frame;
  private final @Nullable SceneCamera seenBy;
  private final double from;
  private final double to;
  private final @Nullable HashCode camera;
  private final HashCode @Nullable [] entities;

  SceneTime(
      int frame, SceneCamera seenBy, double from, double to, HashCode camera, HashCode[] entities) {
    this.frame = frame;
    this.seenBy = seenBy;
    this.from = from;
    this.to = to;
    this.camera = camera;
    this.entities = entities;
  }

  private SceneTime(int frame) {
    this.frame = frame;
    seenBy = null;
    from = to = 0;
    camera = null;
    entities = null;
  }

  /** A frame of which nothing is known but its number. */
  public static SceneTime ofFrame(int frame) {
    return new SceneTime(frame);
  }

  boolean is(int ofFrame, SceneCamera ofCamera, double start, double end) {
    return frame == ofFrame && ofCamera.equals(seenBy) && from == start && to == end;
  }

  /** Returns the frame. */
  public int frame() {
    return frame;
  }

  /**
   * Whether some entities, and the camera, are the same at another time.
   *
   * @param present tells by index which entities count
   */
  public boolean same(SceneTime other, IntPredicate present) {
    if (this == other) {
      return true;
    }
    HashCode[] own = entities;
    HashCode[] others = other.entities;
    if (own == null || others == null || camera == null || own.length != others.length) {
      // nothing is known but the numbers of the frames
      return frame == other.frame && own == null && others == null;
    }
    if (!camera.equals(other.camera)) {
      return false;
    }
    for (int e = 0; e < own.length; e++) {
      if (present.test(e) && !own[e].equals(others[e])) {
        return false;
      }
    }
    return true;
  }

  /**
   * Returns a number that is the same at times that are the same for some entities and the camera.
   *
   * @param present tells by index which entities count
   */
  public int hash(IntPredicate present) {
    HashCode[] own = entities;
    if (own == null || camera == null) {
      return frame;
    }
    int hash = camera.asInt();
    for (int e = 0; e < own.length; e++) {
      if (present.test(e)) {
        hash = 31 * hash + own[e].asInt();
      }
    }
    return hash;
  }

  /** Returns the digest of an entity; without a scene that of the frame's number. */
  public byte[] digest(int entity) {
    HashCode[] own = entities;
    return own == null ? HashCode.fromInt(frame).asBytes() : own[entity].asBytes();
  }

  /** Returns the digest of the camera; without a scene that of the frame's number. */
  public byte[] cameraDigest() {
    return camera == null ? HashCode.fromInt(frame).asBytes() : camera.asBytes();
  }

  /** Whether one entity is the same at another time. */
  public boolean same(SceneTime other, int entity) {
    HashCode[] own = entities;
    HashCode[] others = other.entities;
    return own == null || others == null
        ? frame == other.frame
        : own[entity].equals(others[entity]);
  }

  /** Whether the camera is the same at another time. */
  public boolean sameCamera(SceneTime other) {
    return camera == null ? frame == other.frame : camera.equals(other.camera);
  }
}

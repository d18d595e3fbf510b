package org.wedgecutter.core.trace;

import org.wedgecutter.core.trace.accel.RayCaster;
import org.wedgecutter.core.trace.bsdf.Surface;
import org.wedgecutter.core.trace.volume.PreparedMedium;

/**
 * The current vertex of a path: on a surface or in a medium, with the throughput so far. One object
 * serves one path at a time.
 */
final class PathVertex {
  /** Kind of event beside the lobes of surfaces: scattered by a medium. */
  static final int MEDIUM = 3;

  /** The surface, if it is on one. */
  final Surface surface = new Surface();

  /** Instance of the surface. */
  int instance;

  /** Whether it is in a medium. */
  boolean inMedium;

  /** The medium, if it is in one. */
  int medium;

  /** Its position, and the direction in which the path arrived; in a medium only. */
  float mx;

  float my;
  float mz;
  float travelX;
  float travelY;
  float travelZ;

  /** Path throughput, by channel. */
  final float[] through = new float[3];

  /** First of the path's random dimensions. */
  int base;

  /** Number of bounces. */
  int bounce;

  /** The lobe of the first event, or {@link #MEDIUM}. */
  int firstKind;

  /** Whether the path met a caster on its way, after a diffuse first event. */
  boolean byCaster;

  private final PreparedMedium[] matter;

  PathVertex(PreparedMedium[] matter) {
    this.matter = matter;
  }

  /** Returns the entity that it is on or in. */
  int entity() {
    return inMedium ? matter[medium].entity : surface.entity;
  }

  /** Moves to a point in a medium along a ray. */
  void arrive(int number, RayCaster along, float at) {
    inMedium = true;
    medium = number;
    mx = along.ox + at * along.dx;
    my = along.oy + at * along.dy;
    mz = along.oz + at * along.dz;
    travelX = along.dx;
    travelY = along.dy;
    travelZ = along.dz;
  }

  /** Moves to a surface, which has been read already. */
  void arrive(int ofInstance) {
    inMedium = false;
    instance = ofInstance;
  }

  /** Multiplies the path throughput. */
  void scale(float r, float g, float b) {
    through[0] *= r;
    through[1] *= g;
    through[2] *= b;
  }

  /** Multiplies the path throughput. */
  void scale(float by) {
    scale(by, by, by);
  }
}

package org.wedgecutter.core.trace.accel;

/**
 * Casts rays into a {@link Instances}; one object serves one thread.
 *
 * <p>Hits are ordered by (distance, instance, triangle), so the nearest hit, and the one that
 * follows a given one, depend on the ray and the geometry alone, never on the order of traversal.
 * That is what lets a camera segment be followed past entities with the very hits that a trace
 * without them finds.
 *
 * <p>Traversal is in {@link TreeTraversal}; what is done to eight boxes or eight triangles at once
 * is left to the kinds of caster: {@link ScalarRayCaster} and {@link VectorRayCaster}. Both do the
 * same operations in the same order, so that they find the same hits to the last bit. {@link #of}
 * picks one.
 *
 * <p>Triangles are met by the test of T. Möller and B. Trumbore, "Fast, Minimum Storage
 * Ray-Triangle Intersection", 1997, without culling.
 */
public abstract class RayCaster {
  /** Smallest component of a direction that does not count as 0: its inverse must be finite. */
  private static final float LEAST = 1e-30f;

  private static final float GROW = 1 + 4e-7f;
  private static final float SHRINK = 1 - 4e-7f;

  final Instances world;
  private final Traversal walk;

  /** Where the ray enters each box of a node that was tested last. */
  final float[] near = new float[WideTree.WIDTH];

  /** Distances and weights at the triangles of the packet that was tested last. */
  final float[] ts = new float[MeshTree.PACKET];

  final float[] us = new float[MeshTree.PACKET];
  final float[] vs = new float[MeshTree.PACKET];

  /** The ray in the world. */
  public float ox;

  public float oy;
  public float oz;
  public float dx;
  public float dy;
  public float dz;

  /** The ray in the space of the tree that is traversed. */
  float px;

  float py;
  float pz;
  float qx;
  float qy;
  float qz;

  /** Inverse of its direction, made a little smaller for entries and larger for exits. */
  float inX;

  float inY;
  float inZ;
  float outX;
  float outY;
  float outZ;

  /** Where in a node's boxes the planes stand that it meets first: 0 or 8 from each axis' first. */
  int firstX;

  int firstY;
  int firstZ;

  /** Hits must come after this one: distance, then instance, then triangle. */
  float afterT;

  int afterInstance;
  int afterSlot;

  /** The moment at which everything is seen. */
  public final Moment moment;

  /** Rays cast so far. */
  public long rays;

  /**
   * @param moment of this thread
   * @param walk the traversal, of this kind of caster alone
   */
  RayCaster(Moment moment, Instances world, Traversal walk) {
    this.moment = moment;
    this.world = world;
    this.walk = walk;
  }

  /** Returns a caster of the kind that is fastest at this time on this machine. */
  public static RayCaster of(Instances world) {
    return of(world, new Moment(world));
  }

  /** Returns a caster that sees everything at a moment that others of its thread share. */
  public static RayCaster of(Instances world, Moment moment) {
    return VectorSupport.inUse()
        ? new VectorRayCaster(world, moment)
        : new ScalarRayCaster(world, moment);
  }

  /** Whether rays are cast with vector instructions. */
  public abstract boolean vector();

  /**
   * Tests the ray against the boxes of a node.
   *
   * @param bounds of a {@link WideTree}
   * @param at where the node's begin
   * @param far distance at which the ray ends
   * @return a bit for each box that it meets, which it enters at {@link #near}
   */
  abstract int boxes(float[] bounds, int at, float far);

  /**
   * Tests the ray against the triangles of a packet.
   *
   * @param corners of a {@link MeshTree}
   * @param at where the packet's begin
   * @param far distance at which the ray ends
   * @return a bit for each triangle that it meets from {@link #afterT} to there, both included, at
   *     {@link #ts}
   */
  abstract int packet(float[] corners, int at, float far);

  /**
   * The same for triangles that move.
   *
   * @param end the same numbers at the end of the shutter's time
   * @param part of that time, 0 to 1
   */
  abstract int packet(float[] corners, float[] end, float part, int at, float far);

  public void ray(float ox, float oy, float oz, float dx, float dy, float dz) {
    this.ox = ox;
    this.oy = oy;
    this.oz = oz;
    this.dx = dx;
    this.dy = dy;
    this.dz = dz;
  }

  /**
   * Finds the nearest hit beyond the origin on instances whose mask shares a bit with {@code bits}.
   *
   * @param masks one number for each instance
   */
  public void nearest(byte[] masks, int bits, Hit hit) {
    after(0);
    hit.clear(Float.POSITIVE_INFINITY);
    walk(masks, bits, hit, false);
  }

  /**
   * Finds the nearest hit between two distances.
   *
   * @param from hits must lie beyond
   * @param to hits must not lie beyond
   */
  public void nearest(byte[] masks, int bits, float from, float to, Hit hit) {
    after(from);
    hit.clear(to);
    walk(masks, bits, hit, false);
  }

  /** Finds the hit that follows {@code hit} in the order of hits, and puts it there. */
  public void next(byte[] masks, int bits, Hit hit) {
    afterT = hit.t;
    afterInstance = hit.instance;
    afterSlot = hit.triangle;
    hit.clear(Float.POSITIVE_INFINITY);
    walk(masks, bits, hit, false);
  }

  /** Whether anything lies between the origin and a distance. */
  public boolean blocked(byte[] masks, int bits, float far, Hit scratch) {
    return blocked(masks, bits, 0, far, scratch);
  }

  /** Whether anything lies between two distances. */
  public boolean blocked(byte[] masks, int bits, float from, float to, Hit scratch) {
    after(from);
    scratch.clear(to);
    walk(masks, bits, scratch, true);
    return scratch.found();
  }

  private void after(float t) {
    afterT = t;
    afterInstance = Integer.MAX_VALUE;
    afterSlot = Integer.MAX_VALUE;
  }

  /** Sets the ray in the space of the tree that is traversed next. */
  void aim(float x, float y, float z, float u, float v, float w) {
    px = x;
    py = y;
    pz = z;
    qx = u;
    qy = v;
    qz = w;
    float ix = inverse(u);
    float iy = inverse(v);
    float iz = inverse(w);
    inX = ix * SHRINK;
    inY = iy * SHRINK;
    inZ = iz * SHRINK;
    outX = ix * GROW;
    outY = iy * GROW;
    outZ = iz * GROW;
    firstX = ix < 0 ? 8 : 0;
    firstY = iy < 0 ? 8 : 0;
    firstZ = iz < 0 ? 8 : 0;
  }

  private static float inverse(float d) {
    return 1 / (Math.abs(d) < LEAST ? Math.copySign(LEAST, d) : d);
  }

  private void walk(byte[] masks, int bits, Hit hit, boolean any) {
    rays++;
    if (world.instances > 0) {
      walk.traverse(this, masks, bits, hit, any);
    }
  }
}

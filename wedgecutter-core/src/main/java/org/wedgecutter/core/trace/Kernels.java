package org.wedgecutter.core.trace;

/**
 * Which kind of arithmetic rays are cast with: several numbers at once where the machine and the
 * runtime can, one by one elsewhere. Both find the same hits. {@code -Dwedgecutter.vector=off}
 * keeps to one by one.
 */
final class Kernels {
  private static final boolean THERE =
      !"off".equals(System.getProperty("wedgecutter.vector"))
          && ModuleLayer.boot().findModule("jdk.incubator.vector").isPresent()
          && Wide.is();

  private Kernels() {}

  /** Says whether eight numbers are worked on at once. */
  static boolean vector() {
    return THERE;
  }

  /** Apart, since it cannot be loaded where the runtime has no vectors. */
  private static final class Wide {
    static boolean is() {
      return jdk.incubator.vector.FloatVector.SPECIES_PREFERRED.length() >= WideTree.WIDTH;
    }
  }
}

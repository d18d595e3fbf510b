package org.wedgecutter.core.trace.accel;

import java.io.IOException;
import java.io.InputStream;
import java.lang.invoke.MethodHandle;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.MethodType;
import org.slf4j.LoggerFactory;

/**
 * Traverses the trees with a ray; loaded once for each kind of caster.
 *
 * <p>The compiler inlines calls by the types that it has seen in a method, whoever called it. If
 * both kinds of caster shared the code, calls of the second kind would not be inlined and would run
 * at less than half the speed. So each kind has its own copy of the class.
 */
interface Traversal {
  /**
   * Traverses the trees with the caster's ray.
   *
   * @param masks one number for each instance; those that share no bit with {@code bits} are
   *     ignored
   * @param hit holds where the ray ends, and is set to what it meets
   * @param any whether any hit will do; else it is the nearest
   */
  void traverse(RayCaster c, byte[] masks, int bits, Hit hit, boolean any);

  /** Returns a traversal for casters with vectors. */
  static Traversal copied() {
    try {
      return (Traversal) Copy.MAKE.invoke();
    } catch (Throwable e) {
      throw new IllegalStateException(e);
    }
  }

  /** A second class of the same code. */
  final class Copy {
    private static final MethodHandle MAKE = make();

    private Copy() {}

    private static MethodHandle make() {
      MethodHandles.Lookup here = MethodHandles.lookup();
      MethodType made = MethodType.methodType(void.class);
      try (InputStream code = TreeTraversal.class.getResourceAsStream("TreeTraversal.class")) {
        if (code == null) {
          throw new IOException("TreeTraversal.class is missing");
        }
        byte[] bytes = code.readAllBytes();
        return here.findConstructor(here.defineHiddenClass(bytes, true).lookupClass(), made);
      } catch (IOException | ReflectiveOperationException e) {
        LoggerFactory.getLogger(Traversal.class)
            .warn("rays are slower: the traversal cannot be copied", e);
        try {
          return here.findConstructor(TreeTraversal.class, made);
        } catch (ReflectiveOperationException never) {
          throw new IllegalStateException(never);
        }
      }
    }
  }
}

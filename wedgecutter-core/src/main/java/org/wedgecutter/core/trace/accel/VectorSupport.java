package org.wedgecutter.core.trace.accel;

import java.util.Random;
import java.util.concurrent.atomic.AtomicBoolean;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Which kind of arithmetic rays are cast with: eight numbers at once where the machine and the
 * runtime can, one by one elsewhere. Both find the same hits.
 *
 * <p>Vector code is very slow until it is compiled. So everything starts scalar; once enough rays
 * have been cast that it pays, a background thread casts its own rays with vectors until that is
 * faster, and from then on new workers use it. {@code -Dwedgecutter.vector=off} stays scalar,
 * {@code now} begins with vectors.
 */
public final class VectorSupport {
  private static final Logger LOG = LoggerFactory.getLogger(VectorSupport.class);
  private static final String WISH = System.getProperty("wedgecutter.vector", "");
  private static final boolean THERE =
      !WISH.equals("off")
          && ModuleLayer.boot().findModule("jdk.incubator.vector").isPresent()
          && Wide.is();

  /** Batches of rays that must be faster with vectors, one after another. */
  private static final int SURE = 3;

  private static final int BATCH = 3000;

  /** Rays of one thread after which vectors are warmed up. */
  private static final long ENOUGH = 40_000;

  private static final long PATIENCE = 60_000_000_000L;

  private static volatile boolean warm = WISH.equals("now");
  private static final AtomicBoolean BEGUN = new AtomicBoolean();

  private VectorSupport() {}

  /** Whether vectors can be used at all. */
  public static boolean isAvailable() {
    return THERE;
  }

  /** Whether vectors are to be used now. */
  public static boolean inUse() {
    return THERE && warm;
  }

  /**
   * Starts the warm-up of vectors, if it pays.
   *
   * @param rays that were cast one by one so far: a first small picture is to have the processors
   *     for itself
   */
  public static void warmUpAfter(long rays) {
    if (rays >= ENOUGH && THERE && !warm && BEGUN.compareAndSet(false, true)) {
      Thread.ofPlatform().name("warm-up").daemon().start(VectorSupport::warm);
    }
  }

  /** Uses vectors from now on, compiled or not. */
  public static void useNow() {
    warm = true;
  }

  private static void warm() {
    try {
      long begun = System.nanoTime();
      Probe probe = new Probe();
      int sure = 0;
      while (sure < SURE && System.nanoTime() - begun < PATIENCE) {
        long plain = probe.plain();
        sure = probe.vector() < plain ? sure + 1 : 0;
      }
      warm = sure == SURE;
      LOG.trace("vectors {} after {} ms", warm, (System.nanoTime() - begun) / 1_000_000);
    } catch (RuntimeException | LinkageError e) {
      // rays stay scalar, which is slower and just as correct
      LOG.warn("vectors cannot be used", e);
    }
  }

  /** A small mesh with rays into it. */
  private static final class Probe {
    private static final int TRIANGLES = 4000;
    private final RayCaster plain;
    private final RayCaster vector;
    private final Random random = new Random(1);
    private final Hit hit = new Hit();
    private final float[] things = new float[BoxSweep.STRIDE * TRIANGLES];
    private final byte[] all = {1};

    Probe() {
      float[] xyz = new float[9 * TRIANGLES];
      int[] index = new int[3 * TRIANGLES];
      for (int k = 0; k < xyz.length; k++) {
        xyz[k] = k % 9 < 3 ? random.nextFloat() : xyz[k - 3] + 0.1f * random.nextFloat();
      }
      for (int k = 0; k < index.length; k++) {
        index[k] = k;
      }
      for (int k = 0; k < things.length; k++) {
        things[k] = k % 8 < 4 ? random.nextFloat() : -1 - random.nextFloat();
      }
      Instances world = Instances.still(xyz, index, new float[3]);
      plain = new ScalarRayCaster(world, new Moment(world));
      vector = new VectorRayCaster(world, new Moment(world));
    }

    long plain() {
      return took(plain);
    }

    public long vector() {
      VectorBoxSweep sweep = new VectorBoxSweep();
      float[] box = new float[8];
      float[] middles = new float[8];
      sweep.measure(things, 0, TRIANGLES, box, middles);
      float[] scale = new float[4];
      for (int k = 0; k < 3; k++) {
        scale[k] = 7.99f / (-middles[4 + k] - middles[k]);
      }
      sweep.bin(things, 0, TRIANGLES, middles, scale, new int[24], new float[8 * 24], 8);
      for (int k = 1; k < TRIANGLES; k++) {
        sweep.swap(things, k, k - 1);
      }
      return took(vector);
    }

    private long took(RayCaster caster) {
      long start = System.nanoTime();
      for (int k = 0; k < BATCH; k++) {
        caster.ray(
            random.nextFloat(),
            random.nextFloat(),
            random.nextFloat(),
            random.nextFloat() - 0.5f,
            random.nextFloat() - 0.5f,
            random.nextFloat() - 0.5f);
        if ((k & 1) == 0) {
          caster.nearest(all, 1, hit);
        } else {
          caster.blocked(all, 1, 10, hit);
        }
      }
      return System.nanoTime() - start;
    }
  }

  /** Apart, since it cannot be loaded where the runtime has no vectors. */
  private static final class Wide {
    static boolean is() {
      return jdk.incubator.vector.FloatVector.SPECIES_PREFERRED.length() >= WideTree.WIDTH;
    }
  }
}

package org.wedgecutter.core.pass;

import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.google.common.hash.Hashing;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Queue;
import java.util.concurrent.ConcurrentLinkedQueue;

/**
 * ID mattes after the open Cryptomatte convention: of each pixel the names that cover it, as ranked
 * pairs of a hash of the name and its cover, largest first; two pairs to a picture of four
 * channels. Names that do not fit into the ranks are left out, the smallest first.
 *
 * <p>Source: J. Friedman and A. Jones, "Fully Automatic ID Mattes with Support for Motion Blur and
 * Transparency", 2015, and the Cryptomatte specification 1.2 (MurmurHash3 of the UTF-8 name, 32
 * bits, seed 0; exponents of all zeros and ones are avoided by flipping a bit).
 */
public final class IdMattes {
  /** Number of ranked pairs that are kept. */
  public static final int RANKS = 6;

  private final String layer;
  private final int pixels;
  private final float[] ids;
  private final float[] covers;
  private final Map<String, Integer> names = new LinkedHashMap<>();

  /** The pixels that are being added, one for each thread. */
  private final Queue<Open> all = new ConcurrentLinkedQueue<>();

  private final ThreadLocal<Open> open =
      ThreadLocal.withInitial(() -> {
        Open own = new Open();
        all.add(own);
        return own;
      });

  /** A pixel, and its names so far. */
  private static final class Open {
    private int pixel = -1;
    private int count;
    private float[] ids = new float[16];
    private float[] covers = new float[16];

    void add(float id, float cover) {
      int at = 0;
      while (at < count && ids[at] != id) {
        at++;
      }
      if (at == ids.length) {
        ids = Arrays.copyOf(ids, 2 * at);
        covers = Arrays.copyOf(covers, 2 * at);
      }
      if (at == count) {
        ids[at] = id;
        covers[at] = 0;
        count++;
      }
      covers[at] += cover;
    }
  }

  /**
   * @param layer name of the layer of mattes, such as {@code CryptoObject}
   */
  public IdMattes(String layer, int pixels) {
    this.layer = layer;
    this.pixels = pixels;
    ids = new float[RANKS * pixels];
    covers = new float[RANKS * pixels];
  }

  /** Adds a name that may occur to the manifest. */
  public void name(String name) {
    names.put(name, hash(name));
  }

  /**
   * Adds the coverage of a name to a pixel; the same name may be added several times. A thread adds
   * all of a pixel before it begins another: names are ranked when all their parts are known.
   */
  public void add(int pixel, float id, float cover) {
    Open own = open.get();
    if (pixel != own.pixel) {
      rank(own);
      own.pixel = pixel;
    }
    own.add(id, cover);
  }

  /** Ranks the names of a pixel: the first of equal ones stays first. */
  private void rank(Open of) {
    for (int rank = 0; rank < RANKS && rank < of.count; rank++) {
      int most = -1;
      for (int k = 0; k < of.count; k++) {
        if (of.covers[k] > 0 && (most < 0 || of.covers[k] > of.covers[most])) {
          most = k;
        }
      }
      if (most >= 0) {
        ids[RANKS * of.pixel + rank] = of.ids[most];
        covers[RANKS * of.pixel + rank] = of.covers[most];
        of.covers[most] = 0;
      }
    }
    of.count = 0;
  }

  /**
   * Returns the pictures: {@code LAYER} of R, G and B, the preview that the convention has kept for
   * old readers, which is empty; {@code LAYER00}, {@code LAYER01} ... of r, g, b, a.
   */
  public List<PassPicture> pictures() {
    all.forEach(this::rank);
    List<PassPicture> out = new ArrayList<>();
    out.add(PassPicture.light(layer, new float[3 * pixels]));
    for (int rank = 0; rank < RANKS; rank += 2) {
      float[] values = new float[4 * pixels];
      for (int p = 0; p < pixels; p++) {
        for (int k = 0; k < 2; k++) {
          values[4 * p + 2 * k] = ids[RANKS * p + rank + k];
          values[4 * p + 2 * k + 1] = covers[RANKS * p + rank + k];
        }
      }
      out.add(new PassPicture(title(layer, rank / 2), List.of("r", "g", "b", "a"), values, true));
    }
    return out;
  }

  /** Returns the name of a picture of a layer of mattes. */
  public static String title(String layer, int number) {
    return String.format(Locale.ROOT, "%s%02d", layer, number);
  }

  /** Returns the header attributes of the file. */
  public Map<String, String> header() {
    String key =
        "cryptomatte/" + String.format(Locale.ROOT, "%08x", hash(layer)).substring(0, 7) + "/";
    ObjectNode manifest = JsonNodeFactory.instance.objectNode();
    names.forEach((name, hash) ->
        manifest.put(name, String.format(Locale.ROOT, "%08x", Float.floatToRawIntBits(id(hash)))));
    Map<String, String> out = new LinkedHashMap<>();
    out.put(key + "name", layer);
    out.put(key + "hash", "MurmurHash3_32");
    out.put(key + "conversion", "uint32_to_float32");
    out.put(key + "manifest", manifest.toString());
    return out;
  }

  /** Whether a word is an ID: {@code #} and eight hexadecimal digits. */
  public static boolean isId(String word) {
    return word.matches("#[0-9a-fA-F]{8}");
  }

  /** Returns the float that stands for a name. */
  public static float id(String name) {
    return id(hash(name));
  }

  private static float id(int hash) {
    int exponent = hash >>> 23 & 255;
    return Float.intBitsToFloat(exponent == 0 || exponent == 255 ? hash ^ 1 << 23 : hash);
  }

  /** Returns the 32-bit MurmurHash3 of a name, seed 0. */
  static int hash(String name) {
    return Hashing.murmur3_32_fixed().hashString(name, StandardCharsets.UTF_8).asInt();
  }
}

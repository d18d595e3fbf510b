package org.wedgecutter.core.pass;

import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.google.common.hash.Hashing;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

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

  /** Adds the coverage of a name to a pixel; the same name may be added several times. */
  public void add(int pixel, float id, float cover) {
    int start = RANKS * pixel;
    int at = 0;
    while (at < RANKS && covers[start + at] > 0 && ids[start + at] != id) {
      at++;
    }
    if (at == RANKS) {
      at = RANKS - 1;
      if (covers[start + at] >= cover) {
        return;
      }
      covers[start + at] = 0;
    }
    ids[start + at] = id;
    covers[start + at] += cover;
    while (at > 0 && covers[start + at] > covers[start + at - 1]) {
      swap(start + at, start + at - 1);
      at--;
    }
  }

  private void swap(int a, int b) {
    float id = ids[a];
    float cover = covers[a];
    ids[a] = ids[b];
    covers[a] = covers[b];
    ids[b] = id;
    covers[b] = cover;
  }

  /**
   * Returns the pictures: {@code LAYER} of R, G and B, the preview that the convention has kept for
   * old readers, which is empty; {@code LAYER00}, {@code LAYER01} ... of r, g, b, a.
   */
  public List<PassPicture> pictures() {
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

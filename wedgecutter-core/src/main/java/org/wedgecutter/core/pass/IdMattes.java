package org.wedgecutter.core.pass;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
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
  /** Ranked pairs that are kept. */
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

  /** Notes a name that may occur, so that the manifest tells it. */
  public void name(String name) {
    names.put(name, hash(name));
  }

  /** Adds the cover of a name to a pixel; the same name may be added several times. */
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

  /** Returns the pictures: {@code LAYER00}, {@code LAYER01} ... of r, g, b, a. */
  public List<PassPicture> pictures() {
    List<PassPicture> out = new ArrayList<>();
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

  /** Returns what the file's header says of them, by attribute. */
  public Map<String, String> header() {
    String key =
        "cryptomatte/" + String.format(Locale.ROOT, "%08x", hash(layer)).substring(0, 7) + "/";
    StringBuilder manifest = new StringBuilder("{");
    names.forEach((name, hash) -> {
      if (manifest.length() > 1) {
        manifest.append(',');
      }
      manifest
          .append('"')
          .append(escaped(name))
          .append("\":\"")
          .append(String.format(Locale.ROOT, "%08x", Float.floatToRawIntBits(id(hash))))
          .append('"');
    });
    Map<String, String> out = new LinkedHashMap<>();
    out.put(key + "name", layer);
    out.put(key + "hash", "MurmurHash3_32");
    out.put(key + "conversion", "uint32_to_float32");
    out.put(key + "manifest", manifest.append('}').toString());
    return out;
  }

  private static String escaped(String name) {
    StringBuilder out = new StringBuilder();
    for (char c : name.toCharArray()) {
      if (c == '"' || c == '\\') {
        out.append('\\').append(c);
      } else if (c < ' ') {
        out.append(String.format(Locale.ROOT, "\\u%04x", (int) c));
      } else {
        out.append(c);
      }
    }
    return out.toString();
  }

  /** Returns the number that stands for a name. */
  public static float id(String name) {
    return id(hash(name));
  }

  private static float id(int hash) {
    int exponent = hash >>> 23 & 255;
    return Float.intBitsToFloat(exponent == 0 || exponent == 255 ? hash ^ 1 << 23 : hash);
  }

  /** MurmurHash3 for 32 bits, seed 0, by A. Appleby. */
  static int hash(String name) {
    byte[] bytes = name.getBytes(StandardCharsets.UTF_8);
    int h = 0;
    int whole = bytes.length / 4 * 4;
    for (int i = 0; i < whole; i += 4) {
      int k =
          bytes[i] & 255
              | (bytes[i + 1] & 255) << 8
              | (bytes[i + 2] & 255) << 16
              | (bytes[i + 3] & 255) << 24;
      h ^= mixed(k);
      h = Integer.rotateLeft(h, 13) * 5 + 0xe6546b64;
    }
    int rest = 0;
    for (byte b : reversed(bytes, whole)) {
      rest = rest << 8 | b & 255;
    }
    h ^= mixed(rest) ^ bytes.length;
    h = (h ^ h >>> 16) * 0x85ebca6b;
    h = (h ^ h >>> 13) * 0xc2b2ae35;
    return h ^ h >>> 16;
  }

  private static byte[] reversed(byte[] bytes, int from) {
    byte[] out = Arrays.copyOfRange(bytes, from, bytes.length);
    for (int i = 0; i < out.length / 2; i++) {
      byte b = out[i];
      out[i] = out[out.length - 1 - i];
      out[out.length - 1 - i] = b;
    }
    return out;
  }

  private static int mixed(int k) {
    return Integer.rotateLeft(k * 0xcc9e2d51, 15) * 0x1b873593;
  }
}

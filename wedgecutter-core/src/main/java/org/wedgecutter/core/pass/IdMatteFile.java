package org.wedgecutter.core.pass;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.JsonText;
import org.wedgecutter.core.io.SafePath;
import org.wedgecutter.core.io.TextFile;
import org.wedgecutter.core.plan.Wildcards;
import org.wedgecutter.exr.Attribute;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.Samples;

/**
 * One layer of ID mattes in an OpenEXR file, of this program or of another that follows the open
 * Cryptomatte convention: names, and of each pixel the names that cover it.
 *
 * <p>Channels are {@code LAYER00.r g b a}, {@code LAYER01.r} ..., in small or capital letters or as
 * words: an ID and its cover, twice. The header tells the layer, and its names with their IDs: in
 * itself, or in a file beside the image (specification 1.2).
 */
public final class IdMatteFile {
  private static final Pattern KEY = Pattern.compile("cryptomatte/([^/]+)/name");
  private static final long MOST_MEBIBYTES = 64;

  private final String layer;
  private final Map<String, Integer> names;
  private final Map<Integer, String> byId = new HashMap<>();
  private final int width;
  private final int height;

  /** An ID and its cover, by turns. */
  private final List<float[]> ranks;

  /**
   * How much of a pixel something covers.
   *
   * @param name its name; {@code #} and eight hexadecimal digits where the manifest tells none
   * @param cover 0 to 1
   */
  public record Covered(String name, float cover) {}

  private IdMatteFile(
      String layer, Map<String, Integer> names, int width, int height, List<float[]> ranks) {
    this.layer = layer;
    this.names = Collections.unmodifiableMap(new LinkedHashMap<>(names));
    this.width = width;
    this.height = height;
    this.ranks = ranks;
    names.forEach((name, id) -> byId.putIfAbsent(id, name));
  }

  /**
   * Returns the layers of ID mattes of a part, in the order of the header.
   *
   * @param file where it was read, for a manifest beside it and for messages
   * @throws InputException if a manifest is not as the convention has it, or is outside the file's
   *     folder
   */
  public static List<IdMatteFile> of(ExrPart part, Path file) throws InputException {
    List<IdMatteFile> out = new ArrayList<>();
    for (Map.Entry<String, Attribute> e : part.attributes().entrySet()) {
      Matcher key = KEY.matcher(e.getKey());
      if (key.matches() && e.getValue() instanceof Attribute.Text name) {
        List<float[]> ranks = ranks(part, name.value());
        if (!ranks.isEmpty()) {
          out.add(
              new IdMatteFile(
                  name.value(),
                  manifest(part, "cryptomatte/" + key.group(1) + "/", file),
                  part.dataWindow().width(),
                  part.dataWindow().height(),
                  ranks));
        }
      }
    }
    return out;
  }

  /**
   * Returns the layers of ID mattes of a trace.
   *
   * @param pictures ranked pairs, as {@link IdMattes#pictures} makes them
   * @param header as {@link IdMattes#header} tells it
   * @param width pixels in a line
   */
  public static List<IdMatteFile> of(
      List<PassPicture> pictures, Map<String, String> header, int width) {
    List<IdMatteFile> out = new ArrayList<>();
    for (Map.Entry<String, String> e : header.entrySet()) {
      Matcher key = KEY.matcher(e.getKey());
      if (!key.matches()) {
        continue;
      }
      List<float[]> ranks = new ArrayList<>();
      for (PassPicture p : pictures) {
        boolean isRank = p.channels().size() == 4 && p.title().startsWith(e.getValue());
        for (int c = 0; isRank && c < 4; c++) {
          float[] plane = new float[p.values().length / 4];
          for (int i = 0; i < plane.length; i++) {
            plane[i] = p.values()[4 * i + c];
          }
          ranks.add(plane);
        }
      }
      Map<String, Integer> names = new LinkedHashMap<>();
      String manifest = header.getOrDefault("cryptomatte/" + key.group(1) + "/manifest", "{}");
      try {
        names(JsonText.read(manifest, Path.of("")), names);
      } catch (InputException wrong) {
        throw new IllegalArgumentException(wrong);
      }
      if (!ranks.isEmpty()) {
        int height = ranks.getFirst().length / width;
        out.add(new IdMatteFile(e.getValue(), names, width, height, ranks));
      }
    }
    return out;
  }

  private static void names(JsonNode manifest, Map<String, Integer> into) {
    manifest
        .properties()
        .forEach(n -> into.put(n.getKey(), Integer.parseUnsignedInt(n.getValue().asText(), 16)));
  }

  private static List<float[]> ranks(ExrPart part, String layer) {
    List<float[]> out = new ArrayList<>();
    Map<String, float[]> planes = new HashMap<>();
    for (Map.Entry<Channel, Samples> c : part.channels().entrySet()) {
      if (c.getValue() instanceof Samples.Real real) {
        planes.put(c.getKey().name(), real.values());
      }
    }
    String[][] endings = {
      {"r", "R", "red"}, {"g", "G", "green"}, {"b", "B", "blue"}, {"a", "A", "alpha"}
    };
    for (int k = 0; ; k++) {
      float[][] four = new float[4][];
      for (int c = 0; c < 4; c++) {
        for (String ending : endings[c]) {
          float[] plane = planes.get(IdMattes.title(layer, k) + "." + ending);
          four[c] = plane == null ? four[c] : plane;
        }
      }
      for (int c = 0; c < 4; c += 2) {
        if (four[c] == null || four[c + 1] == null) {
          return out;
        }
        out.add(four[c]);
        out.add(four[c + 1]);
      }
    }
  }

  private static Map<String, Integer> manifest(ExrPart part, String key, Path file)
      throws InputException {
    String text = "";
    Path from = file;
    if (part.attributes().get(key + "manifest") instanceof Attribute.Text own) {
      text = own.value();
    } else if (part.attributes().get(key + "manif_file") instanceof Attribute.Text beside) {
      Path folder = file.toAbsolutePath().normalize().getParent();
      if (folder == null) {
        throw new InputException(file, key + "manif_file", "expected a file beside the image");
      }
      from = SafePath.inside(folder, beside.value(), file, key + "manif_file");
      text = TextFile.read(from, MOST_MEBIBYTES);
    }
    Map<String, Integer> out = new LinkedHashMap<>();
    if (text.isEmpty()) {
      return out;
    }
    JsonNode tree = JsonText.read(text, from);
    for (Map.Entry<String, JsonNode> e : tree.properties()) {
      try {
        out.put(e.getKey(), Integer.parseUnsignedInt(e.getValue().asText(), 16));
      } catch (NumberFormatException wrong) {
        throw new InputException(
            from,
            key + "manifest",
            "'%s' is '%s', expected eight hexadecimal digits"
                .formatted(e.getKey(), e.getValue().asText()),
            wrong);
      }
    }
    return out;
  }

  /** Returns the name of the layer of mattes, such as {@code CryptoObject}. */
  public String layer() {
    return layer;
  }

  /** Returns the names that the manifest tells, in its order. */
  public Set<String> names() {
    return names.keySet();
  }

  /** Returns the width of the data window in pixels. */
  public int width() {
    return width;
  }

  /** Returns the height of the data window in pixels. */
  public int height() {
    return height;
  }

  /**
   * Returns the IDs that a word means: those of the names that it matches, with {@code *} for any
   * letters and {@code ?} for one; of the name itself where the manifest does not tell it; or
   * {@code #} and eight hexadecimal digits. Empty if no pixel and no name is meant.
   */
  public Set<Integer> ids(String word) {
    Set<Integer> out = new HashSet<>();
    if (IdMattes.isId(word)) {
      out.add(Integer.parseUnsignedInt(word.substring(1), 16));
      return out;
    }
    names.forEach((name, id) -> {
      if (Wildcards.matchName(word, name)) {
        out.add(id);
      }
    });
    int own = Float.floatToRawIntBits(IdMattes.id(word));
    if (out.isEmpty() && isThere(own)) {
      out.add(own);
    }
    return out;
  }

  private boolean isThere(int id) {
    for (int r = 0; r < ranks.size(); r += 2) {
      float[] ids = ranks.get(r);
      float[] covers = ranks.get(r + 1);
      for (int p = 0; p < ids.length; p++) {
        if (covers[p] > 0 && Float.floatToRawIntBits(ids[p]) == id) {
          return true;
        }
      }
    }
    return false;
  }

  /** Returns how much of each pixel some IDs cover, 0 to 1, line by line. */
  public float[] cover(Set<Integer> wanted) {
    float[] out = new float[width * height];
    for (int r = 0; r < ranks.size(); r += 2) {
      float[] ids = ranks.get(r);
      float[] covers = ranks.get(r + 1);
      int last = 0;
      boolean isLast = wanted.contains(0);
      for (int p = 0; p < out.length; p++) {
        int id = Float.floatToRawIntBits(ids[p]);
        if (id != last) {
          last = id;
          isLast = wanted.contains(id);
        }
        if (isLast) {
          out[p] += covers[p];
        }
      }
    }
    return out;
  }

  /** Returns what covers a pixel, most of it first. */
  public List<Covered> at(int x, int y) {
    int p = y * width + x;
    List<Covered> out = new ArrayList<>();
    for (int r = 0; r < ranks.size(); r += 2) {
      float cover = ranks.get(r + 1)[p];
      if (cover > 0) {
        int id = Float.floatToRawIntBits(ranks.get(r)[p]);
        String name = byId.get(id);
        out.add(new Covered(name == null ? String.format(Locale.ROOT, "#%08x", id) : name, cover));
      }
    }
    return out;
  }

  /**
   * Returns the first of some layers in which a word means anything.
   *
   * @param kind part of the layer's name, in any case; empty for all
   */
  public static Optional<IdMatteFile> meant(List<IdMatteFile> of, String word, String kind) {
    return of.stream()
        .filter(m -> m.layer.toLowerCase(Locale.ROOT).contains(kind.toLowerCase(Locale.ROOT)))
        .filter(m -> !m.ids(word).isEmpty())
        .findFirst();
  }

  /** Returns a name that is like a word, for a message; null if none is. */
  public static @Nullable String like(List<IdMatteFile> of, String word) {
    String lower = word.toLowerCase(Locale.ROOT).replace("*", "");
    for (IdMatteFile m : of) {
      for (String name : m.names.keySet()) {
        if (!lower.isEmpty() && name.toLowerCase(Locale.ROOT).contains(lower)) {
          return name;
        }
      }
    }
    return null;
  }
}

package org.wedgecutter.core.scene.usd.stage;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.Budget;
import org.wedgecutter.core.io.InputException;

/**
 * Reads the binary form of OpenUSD (.usdc, "crate") into a layer, versions 0.0.1 to 0.13.
 *
 * <p>A table of contents leads to six sections: tokens, strings (by tokens), fields (a name and a
 * value), sets of fields, paths (a tree), and specs, each of which joins a path and a set of
 * fields. Since version 0.4.0 sections are packed.
 */
final class CrateLayer {
  private static final byte[] MAGIC = "PXR-USDC".getBytes(StandardCharsets.US_ASCII);
  private static final int MAX_DEPTH = 1000;

  // types of specs
  private static final int ATTRIBUTE = 1;
  private static final int PRIM = 6;
  private static final int ROOT = 7;
  private static final int RELATIONSHIP = 8;
  private static final int VARIANT = 10;
  private static final int VARIANT_SET = 11;

  private final CrateBytes in;
  private final Map<String, long[]> sections = new HashMap<>();
  private int version;
  private String[] tokens = {};
  private int[] strings = {};
  private int[] fieldNames = {};
  private long[] fieldValues = {};
  private int[] fieldSets = {};
  private String[] paths = {};
  private CrateValues values;

  private CrateLayer(byte[] bytes, Path file, Budget budget) {
    in = new CrateBytes(bytes, file, budget);
    values = new CrateValues(in, 0, tokens, strings, paths);
  }

  /** Whether bytes begin like this form. */
  static boolean is(byte[] bytes) {
    return bytes.length >= MAGIC.length
        && Arrays.equals(bytes, 0, MAGIC.length, MAGIC, 0, MAGIC.length);
  }

  /**
   * Reads a layer.
   *
   * @param file for messages
   * @throws InputException with file, byte and expectation
   */
  static PrimSpec read(byte[] bytes, Path file, Budget budget) throws InputException {
    return new CrateLayer(bytes, file, budget).layer();
  }

  private PrimSpec layer() throws InputException {
    in.seek(MAGIC.length);
    int major = in.u8();
    int minor = in.u8();
    int patch = in.u8();
    if (major != 0 || minor > 13) {
      throw in.wrong(
          "is of version %d.%d.%d of the crate form; expected 0.0.1 to 0.13"
              .formatted(major, minor, patch));
    }
    version = 100 * minor + patch;
    in.seek(16);
    in.seek(in.i64());
    int count = in.count(32);
    for (int k = 0; k < count; k++) {
      String name = new String(in.raw(16), StandardCharsets.US_ASCII);
      int end = name.indexOf(0);
      sections.put(end < 0 ? name : name.substring(0, end), new long[] {in.i64(), in.i64()});
    }
    tokens();
    enter("STRINGS");
    strings = in.ints(in.count(4));
    fields();
    paths();
    values = new CrateValues(in, version, tokens, strings, paths);
    return specs();
  }

  private void enter(String section) throws InputException {
    long[] place = sections.get(section);
    if (place == null) {
      throw in.wrong("has no section %s".formatted(section));
    }
    in.seek(place[0]);
  }

  private boolean isPacked() {
    return version >= 400;
  }

  private void tokens() throws InputException {
    enter("TOKENS");
    long count = in.i64();
    long size = in.i64();
    ByteBuffer text;
    if (isPacked()) {
      text = in.unpack(in.i64(), in.packed(size, 1));
    } else {
      text = ByteBuffer.wrap(in.raw(in.checked(size, 1))).order(ByteOrder.LITTLE_ENDIAN);
    }
    if (count < 0 || count > text.limit()) {
      throw in.wrong("has a count of %d tokens".formatted(count));
    }
    tokens = new String[(int) count];
    int start = 0;
    for (int k = 0; k < tokens.length; k++) {
      int end = start;
      while (end < text.limit() && text.get(end) != 0) {
        end++;
      }
      if (end >= text.limit()) {
        throw in.wrong("has tokens that end too early");
      }
      tokens[k] = new String(text.array(), start, end - start, StandardCharsets.UTF_8);
      start = end + 1;
    }
  }

  private void fields() throws InputException {
    enter("FIELDS");
    if (isPacked()) {
      int count = in.packed(in.i64(), 12);
      fieldNames = in.packedInts(count);
      ByteBuffer reps = in.unpack(in.i64(), Math.multiplyExact(8, count));
      if (reps.limit() < 8L * count) {
        throw in.wrong("has fields that end too early");
      }
      fieldValues = new long[count];
      reps.asLongBuffer().get(fieldValues);
    } else {
      int count = in.count(16);
      fieldNames = new int[count];
      fieldValues = new long[count];
      for (int k = 0; k < count; k++) {
        in.i32(); // filling
        fieldNames[k] = in.i32();
        fieldValues[k] = in.i64();
      }
    }
    enter("FIELDSETS");
    fieldSets = isPacked() ? in.packedInts(in.packed(in.i64(), 4)) : in.ints(in.count(4));
  }

  // ---- paths

  /** A path that is still to be read: its place, what it is under, and how deep that is. */
  private record Sibling(long at, String parent, int depth) {}

  private void paths() throws InputException {
    enter("PATHS");
    int count = in.packed(in.i64(), 8);
    paths = new String[count];
    if (!isPacked()) {
      oldPaths();
      return;
    }
    int encoded = in.packed(in.i64(), 12);
    int[] numbers = in.packedInts(encoded);
    int[] elements = in.packedInts(encoded);
    int[] jumps = in.packedInts(encoded);
    List<Sibling> later = new ArrayList<>(List.of(new Sibling(0, "", 0)));
    int visited = 0;
    while (!later.isEmpty()) {
      Sibling next = later.removeLast();
      String parent = next.parent();
      int at = (int) next.at();
      int depth = next.depth();
      boolean more = encoded > 0;
      while (more) {
        if (at < 0 || at >= encoded || ++visited > encoded || depth > MAX_DEPTH) {
          throw in.wrong("has paths that lead nowhere");
        }
        String path = at == 0 ? "" : join(parent, token(Math.abs(elements[at])), elements[at] < 0);
        put(numbers[at], path);
        int jump = jumps[at];
        boolean child = jump > 0 || jump == -1;
        if (child && jump > 0) {
          later.add(new Sibling(at + jump, parent, depth));
        }
        if (child) {
          parent = path;
          depth++;
        }
        more = child || jump == 0;
        at++;
      }
    }
  }

  /** Before version 0.4.0 each path is followed by its children, and siblings by their place. */
  private void oldPaths() throws InputException {
    List<Sibling> later = new ArrayList<>(List.of(new Sibling(in.at(), "", 0)));
    int visited = 0;
    boolean first = true;
    while (!later.isEmpty()) {
      Sibling next = later.removeLast();
      in.seek(next.at());
      String parent = next.parent();
      int depth = next.depth();
      boolean more = paths.length > 0;
      while (more) {
        if (++visited > paths.length || depth > MAX_DEPTH) {
          throw in.wrong("has paths that lead nowhere");
        }
        if (version == 1) {
          in.i32(); // filling
        }
        int number = in.i32();
        int element = in.i32();
        int bits = in.u8();
        if (version == 1) {
          in.raw(3);
        }
        String path = first ? "" : join(parent, token(element), (bits & 4) != 0);
        first = false;
        put(number, path);
        boolean child = (bits & 1) != 0;
        boolean sibling = (bits & 2) != 0;
        if (child && sibling) {
          later.add(new Sibling(in.i64(), parent, depth));
        }
        if (child) {
          parent = path;
          depth++;
        }
        more = child || sibling;
      }
    }
  }

  private void put(int number, String path) throws InputException {
    if (number < 0 || number >= paths.length) {
      throw in.wrong("has a path of number %d of %d".formatted(number, paths.length));
    }
    paths[number] = path;
  }

  private String token(int index) throws InputException {
    if (index < 0 || index >= tokens.length) {
      throw in.wrong("has a token of number %d of %d".formatted(index, tokens.length));
    }
    return tokens[index];
  }

  /** Joins a path and an element: a child, a property, a variant, or a target in brackets. */
  private static String join(String parent, String element, boolean property) {
    if (property) {
      return parent + "." + element;
    }
    return element.startsWith("{") || element.startsWith("[")
        ? parent + element
        : parent + "/" + element;
  }

  // ---- specs

  private PrimSpec specs() throws InputException {
    enter("SPECS");
    int[] of;
    int[] sets;
    int[] types;
    if (isPacked()) {
      int count = in.packed(in.i64(), 12);
      of = in.packedInts(count);
      sets = in.packedInts(count);
      types = in.packedInts(count);
    } else {
      int count = in.count(12);
      of = new int[count];
      sets = new int[count];
      types = new int[count];
      for (int k = 0; k < count; k++) {
        if (version == 1) {
          in.i32(); // filling
        }
        of[k] = in.i32();
        sets[k] = in.i32();
        types[k] = in.i32();
      }
    }
    Map<String, Integer> byPath = new LinkedHashMap<>();
    for (int k = 0; k < of.length; k++) {
      byPath.put(path(of[k]), k);
    }
    Map<Integer, Map<String, Object>> read = new HashMap<>();
    PrimSpec root = new PrimSpec("");
    Integer top = byPath.get("");
    if (top == null || types[top] != ROOT) {
      throw in.wrong("has no root");
    }
    fill(root, "", top, new Tables(byPath, sets, types, read), 0);
    return root;
  }

  /** What specs are found by. */
  private record Tables(
      Map<String, Integer> byPath,
      int[] sets,
      int[] types,
      Map<Integer, Map<String, Object>> read) {}

  private String path(int index) throws InputException {
    if (index < 0 || index >= paths.length || paths[index] == null) {
      throw in.wrong("has a path of number %d of %d".formatted(index, paths.length));
    }
    return paths[index];
  }

  /** Fills a prim, a variant, or the root. */
  private void fill(PrimSpec spec, String path, int number, Tables t, int depth)
      throws InputException {
    if (depth > MAX_DEPTH) {
      throw in.wrong("is nested too deep");
    }
    Map<String, Object> fields = fields(t.sets[number], t);
    spec.type = fields.get("typeName") instanceof String s ? s : "";
    spec.specifier =
        fields.get("specifier") instanceof Double d && d >= 0 && d < 3
            ? PrimSpec.Specifier.values()[d.intValue()]
            : PrimSpec.Specifier.OVER;
    fields.forEach((name, value) -> {
      switch (name) {
        case "primChildren", "properties", "variantSetChildren", "typeName", "specifier" -> {}
        case "subLayerOffsets" -> {}
        case "relocates", "clips" -> spec.fields.put(name, true);
        default -> spec.fields.put(name, value);
      }
    });
    if (fields.get("subLayers") instanceof List<?> names) {
      spec.fields.put("subLayers", subLayers(names, fields.get("subLayerOffsets")));
    }
    for (String name : names(fields.get("properties"))) {
      Integer own = t.byPath.get(path + "." + name);
      if (own != null && (t.types[own] == ATTRIBUTE || t.types[own] == RELATIONSHIP)) {
        spec.properties.put(name, property(name, own, t));
      }
    }
    for (String name : names(fields.get("primChildren"))) {
      Integer own = t.byPath.get(path + "/" + name);
      if (own != null && t.types[own] == PRIM) {
        PrimSpec child = new PrimSpec(name);
        spec.children.put(name, child);
        fill(child, path + "/" + name, own, t, depth + 1);
      }
    }
    for (String set : names(fields.get("variantSetChildren"))) {
      Integer own = t.byPath.get(path + "{" + set + "=}");
      if (own == null || t.types[own] != VARIANT_SET) {
        continue;
      }
      Map<String, PrimSpec> all = new LinkedHashMap<>();
      spec.variants.put(set, all);
      for (String name : names(fields(t.sets[own], t).get("variantChildren"))) {
        String at = Paths.variant(path, set, name);
        Integer variant = t.byPath.get(at);
        if (variant != null && t.types[variant] == VARIANT) {
          PrimSpec child = new PrimSpec(name);
          all.put(name, child);
          fill(child, at, variant, t, depth + 1);
        }
      }
    }
  }

  private static List<PrimSpec.SubLayer> subLayers(List<?> names, @Nullable Object offsets) {
    List<PrimSpec.SubLayer> out = new ArrayList<>();
    for (int k = 0; k < names.size(); k++) {
      LayerOffset offset =
          offsets instanceof List<?> l && k < l.size() && l.get(k) instanceof LayerOffset o
              ? o
              : LayerOffset.NONE;
      out.add(new PrimSpec.SubLayer(String.valueOf(names.get(k)), offset));
    }
    return out;
  }

  private static List<String> names(@Nullable Object value) {
    return value instanceof List<?> l ? l.stream().map(String::valueOf).toList() : List.of();
  }

  private PropertySpec property(String name, int number, Tables t) throws InputException {
    PropertySpec out = new PropertySpec(name);
    out.relationship = t.types[number] == RELATIONSHIP;
    for (var field : fields(t.sets[number], t).entrySet()) {
      Object value = field.getValue();
      switch (field.getKey()) {
        case "typeName" -> out.type = String.valueOf(value);
        case "default" -> out.value = value;
        case "timeSamples" -> {
          if (value instanceof Map<?, ?> samples) {
            samples.forEach((time, v) -> out.samples.put((Double) time, v));
          }
        }
        case "targetPaths", "connectionPaths" -> out.targets = paths(value);
        case "targetChildren", "connectionChildren" -> {}
        case "spline" -> out.fields.put("spline", true);
        default -> out.fields.put(field.getKey(), value);
      }
    }
    return out;
  }

  @SuppressWarnings("unchecked")
  private static @Nullable ListOp<String> paths(Object value) {
    return value instanceof ListOp<?> op ? (ListOp<String>) op : null;
  }

  /** Reads the fields of a set, which ends with -1; sets are shared. */
  private Map<String, Object> fields(int set, Tables t) throws InputException {
    Map<String, Object> known = t.read.get(set);
    if (known != null) {
      return known;
    }
    Map<String, Object> out = new LinkedHashMap<>();
    for (int k = set; ; k++) {
      if (k < 0 || k >= fieldSets.length) {
        throw in.wrong("has a set of fields that does not end");
      }
      int field = fieldSets[k];
      if (field == -1) {
        break;
      }
      if (field < 0 || field >= fieldNames.length) {
        throw in.wrong("has a field of number %d of %d".formatted(field, fieldNames.length));
      }
      Object value = values.read(fieldValues[field]);
      if (value != null) {
        out.put(token(fieldNames[field]), value);
      }
    }
    t.read.put(set, out);
    return out;
  }
}

package org.wedgecutter.core.scene.gltf;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import de.javagl.jgltf.impl.v2.Accessor;
import de.javagl.jgltf.impl.v2.AccessorSparse;
import de.javagl.jgltf.impl.v2.Buffer;
import de.javagl.jgltf.impl.v2.BufferView;
import de.javagl.jgltf.impl.v2.GlTF;
import de.javagl.jgltf.model.AccessorByteData;
import de.javagl.jgltf.model.AccessorData;
import de.javagl.jgltf.model.AccessorDatas;
import de.javagl.jgltf.model.AccessorFloatData;
import de.javagl.jgltf.model.AccessorIntData;
import de.javagl.jgltf.model.AccessorShortData;
import de.javagl.jgltf.model.ElementType;
import de.javagl.jgltf.model.io.RawGltfData;
import de.javagl.jgltf.model.io.RawGltfDataReader;
import de.javagl.jgltf.model.io.v2.GltfReaderV2;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.Budget;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.InputFile;
import org.wedgecutter.core.io.JsonText;
import org.wedgecutter.core.io.SafePath;

/**
 * The bytes of a glTF file: its JSON as objects, its buffers, and checked access to its numbers.
 */
final class GltfSource {
  private static final ObjectMapper JSON = json();
  private static final long MAX_MEBIBYTES = 1024;
  private static final int MAX_ELEMENTS = 100_000_000;

  /** Most bytes of an accessor that the file says nothing of: a mesh has more than zeros. */
  private static final long MAX_ZEROS = 1 << 26;

  /** Stands for data within the file, which the library's reader has no room for. */
  private static final String KEPT = "data:#";

  final Path file;
  final GlTF gltf;

  /** Invalid values, with their places. */
  final Set<String> ignored;

  /** What its contents may take. */
  final Budget budget;

  private final List<ByteBuffer> buffers = new ArrayList<>();
  private final Map<String, byte[]> resolved = new HashMap<>();
  private final List<String> data;

  private GltfSource(Path file, GlTF gltf, Set<String> ignored, List<String> data) {
    this.data = data;
    budget = Budget.of(file);
    this.file = file;
    this.gltf = gltf;
    this.ignored = ignored;
  }

  private static ObjectMapper json() {
    ObjectMapper mapper = new ObjectMapper();
    mapper
        .getFactory()
        .setStreamReadConstraints(
            StreamReadConstraints.builder().maxStringLength(Integer.MAX_VALUE).build());
    return mapper;
  }

  /** Takes the data that stand in uris out of the text, and returns them. */
  private static List<String> dataOf(JsonNode tree) {
    List<String> out = new ArrayList<>();
    for (String list : List.of("buffers", "images")) {
      for (JsonNode each : tree.path(list)) {
        String uri = each.path("uri").asText("");
        if (uri.startsWith("data:") && each instanceof ObjectNode object) {
          object.put("uri", KEPT + out.size());
          out.add(uri);
        }
      }
    }
    return out;
  }

  static GltfSource open(Path file) throws InputException {
    byte[] bytes = bytes(file, file, "");
    checkContainer(file, bytes);
    Set<String> ignored = new LinkedHashSet<>();
    GlTF gltf;
    List<String> data;
    ByteBuffer binary;
    try {
      RawGltfData raw = RawGltfDataReader.read(new ByteArrayInputStream(bytes));
      binary = raw.getBinaryData();
      JsonNode tree = JSON.readTree(raw.getJsonString());
      GltfTypes.check(tree, file);
      data = dataOf(tree);
      GltfReaderV2 reader = new GltfReaderV2();
      // the library leaves out invalid values and reports them here
      reader.setJsonErrorConsumer(e ->
          ignored.add(
              e.getJsonPathString()
                  + ": "
                  + e.getMessage().lines().findFirst().orElse("not allowed")));
      gltf = reader.read(new ByteArrayInputStream(JSON.writeValueAsBytes(tree)));
    } catch (InputException e) {
      throw e;
    } catch (JsonProcessingException e) {
      throw JsonText.unreadable(file, e);
    } catch (IOException | RuntimeException e) {
      throw new InputException(file, "", "not readable as glTF 2.0: " + e.getMessage(), e);
    }
    if (gltf.getAsset() == null || !String.valueOf(gltf.getAsset().getVersion()).startsWith("2.")) {
      throw new InputException(file, "asset.version", "expected glTF 2.0");
    }
    GltfSource source = new GltfSource(file, gltf, ignored, data);
    source.loadBuffers(binary);
    return source;
  }

  /** A .glb begins with its length, so that a truncated file can be told from a wrong one. */
  private static void checkContainer(Path file, byte[] bytes) throws InputException {
    ByteBuffer in = ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
    if (bytes.length < 4 || in.getInt(0) != 0x46546C67) {
      int first = 0;
      // blanks, and the mark that some programs put before UTF-8, whose bytes are negative
      while (first < bytes.length && bytes[first] <= ' ') {
        first++;
      }
      if (first == bytes.length || bytes[first] != '{') {
        throw new InputException(
            file, "", "expected binary glTF, which begins with glTF, or JSON, which begins with {");
      }
      return;
    }
    if (bytes.length < 12) {
      throw new InputException(file, "", "the file is cut off inside its header");
    }
    long length = Integer.toUnsignedLong(in.getInt(8));
    if (length > bytes.length) {
      throw new InputException(
          file, "", "the file is cut off: %d bytes of %d".formatted(bytes.length, length));
    }
    long at = 12;
    while (at < length) {
      long size =
          at + 8 <= length ? Integer.toUnsignedLong(in.getInt((int) at)) : Long.MAX_VALUE / 2;
      if (at + 8 + size > length) {
        throw new InputException(file, "byte " + at, "a chunk goes beyond the file's end");
      }
      at += 8 + size;
    }
  }

  private static byte[] bytes(Path path, Path file, String place) throws InputException {
    return InputFile.bytes(path, MAX_MEBIBYTES, file, place);
  }

  private void loadBuffers(@Nullable ByteBuffer binary) throws InputException {
    List<Buffer> declared = list(gltf.getBuffers());
    for (int i = 0; i < declared.size(); i++) {
      String place = "buffers[" + i + "]";
      String uri = declared.get(i).getUri();
      if (uri == null && (i > 0 || binary == null)) {
        throw new InputException(file, place, "has no uri, and there is no binary chunk for it");
      }
      ByteBuffer data = uri == null ? binary : ByteBuffer.wrap(resolve(uri, place + ".uri"));
      if (data == null || data.remaining() < declared.get(i).getByteLength()) {
        throw new InputException(
            file,
            place,
            "%d bytes declared, %d found"
                .formatted(declared.get(i).getByteLength(), data == null ? 0 : data.remaining()));
      }
      buffers.add(data);
    }
  }

  /**
   * Returns what a uri of the file names: data in the uri itself, or a file beside. What is named
   * twice is read once.
   */
  byte[] resolve(String uri, String place) throws InputException {
    byte[] known = resolved.get(uri);
    if (known == null) {
      known = read(uri, place);
      budget.take(known.length, file, place);
      resolved.put(uri, known);
    }
    return known;
  }

  private byte[] read(String told, String place) throws InputException {
    String uri = told;
    if (told.startsWith(KEPT)) {
      int number = Integer.parseInt(told.substring(KEPT.length()));
      uri = data.get(number);
    }
    if (uri.startsWith("data:")) {
      int comma = uri.indexOf(',');
      try {
        if (comma >= 0 && uri.substring(0, comma).endsWith(";base64")) {
          return Base64.getDecoder().decode(uri.substring(comma + 1));
        }
      } catch (IllegalArgumentException e) {
        throw new InputException(file, place, "the data is not base64", e);
      }
      throw new InputException(file, place, "expected data:...;base64,...");
    }
    String name;
    try {
      name =
          java.net.URLDecoder.decode(
              uri.replace("+", "%2B"), java.nio.charset.StandardCharsets.UTF_8);
    } catch (IllegalArgumentException e) {
      throw new InputException(file, place, "'%s' is not a relative uri".formatted(uri), e);
    }
    Path folder = file.toAbsolutePath().normalize().getParent();
    if (folder == null) {
      throw new InputException(file, place, "the file has no folder");
    }
    Path path = SafePath.inside(folder, name, file, place);
    budget.and(path);
    return bytes(path, file, place);
  }

  /** Returns the bytes of a buffer view. */
  ByteBuffer view(@Nullable Integer index, String place) throws InputException {
    BufferView view = element(gltf.getBufferViews(), index, place, "bufferViews");
    ByteBuffer buffer =
        element(buffers, view.getBuffer(), "bufferViews[" + index + "].buffer", "buffers");
    long offset = view.getByteOffset() == null ? 0 : view.getByteOffset();
    long length = view.getByteLength();
    if (offset < 0 || length < 0 || offset + length > buffer.remaining()) {
      throw new InputException(
          file,
          "bufferViews[" + index + "]",
          "bytes %d to %d of a buffer of %d"
              .formatted(offset, offset + length, buffer.remaining()));
    }
    return buffer
        .slice(buffer.position() + (int) offset, (int) length)
        .order(ByteOrder.LITTLE_ENDIAN);
  }

  /** Returns the numbers of an accessor, normalised integers as fractions; all must be finite. */
  float[] floats(@Nullable Integer index, String place, String... types) throws InputException {
    Accessor accessor = element(gltf.getAccessors(), index, place, "accessors");
    AccessorData data = data(accessor, index, place, types);
    int parts = data.getNumComponentsPerElement();
    budget.take(4L * data.getNumElements() * parts, file, place);
    float[] out = new float[data.getNumElements() * parts];
    boolean normalised = Boolean.TRUE.equals(accessor.isNormalized());
    Numbers numbers = numbers(data, normalised);
    for (int e = 0, i = 0; e < data.getNumElements(); e++) {
      for (int c = 0; c < parts; c++, i++) {
        out[i] = numbers.at(e, c);
      }
    }
    AccessorSparse sparse = accessor.getSparse();
    if (sparse != null) {
      String own = "accessors[" + index + "].sparse";
      int[] places = places(sparse, own, data.getNumElements());
      Numbers values = numbers(sparseValues(accessor, sparse, own), normalised);
      for (int e = 0; e < places.length; e++) {
        for (int c = 0; c < parts; c++) {
          out[places[e] * parts + c] = values.at(e, c);
        }
      }
    }
    for (int i = 0; i < out.length; i++) {
      if (!Float.isFinite(out[i])) {
        throw new InputException(
            file,
            "accessors[" + index + "]",
            "element %d is not a finite number".formatted(i / parts));
      }
    }
    return out;
  }

  /** Which elements the sparse part of an accessor changes. */
  private int[] places(AccessorSparse sparse, String own, int limit) throws InputException {
    if (sparse.getIndices() == null || sparse.getValues() == null) {
      throw new InputException(file, own, "indices or values are missing");
    }
    int count = sparse.getCount();
    if (count < 0 || count > limit) {
      throw new InputException(file, own + ".count", count + " of " + limit + " elements");
    }
    AccessorData data =
        packed(
            sparse.getIndices().getBufferView(),
            sparse.getIndices().getByteOffset(),
            sparse.getIndices().getComponentType(),
            ElementType.SCALAR,
            count,
            own + ".indices");
    Wholes wholes = wholes(data, own);
    int[] out = new int[count];
    for (int e = 0; e < count; e++) {
      out[e] = wholes.at(e);
      if (out[e] < 0 || out[e] >= limit) {
        throw new InputException(
            file, own + ".indices", "index %d out of range 0..%d".formatted(out[e], limit - 1));
      }
    }
    return out;
  }

  private AccessorData sparseValues(Accessor accessor, AccessorSparse sparse, String own)
      throws InputException {
    return packed(
        sparse.getValues().getBufferView(),
        sparse.getValues().getByteOffset(),
        accessor.getComponentType(),
        ElementType.forString(accessor.getType()),
        sparse.getCount(),
        own + ".values");
  }

  private AccessorData packed(
      @Nullable Integer bufferView,
      @Nullable Integer byteOffset,
      int componentType,
      ElementType type,
      int count,
      String place)
      throws InputException {
    ByteBuffer bytes = view(bufferView, place);
    int offset = byteOffset == null ? 0 : byteOffset;
    try {
      int size = type.getByteStride(componentType);
      if (offset < 0 || offset + (long) size * count > bytes.remaining()) {
        throw new InputException(file, place, "does not fit into its buffer view");
      }
      return AccessorDatas.create(componentType, bytes, offset, count, type, size);
    } catch (RuntimeException e) {
      throw new InputException(file, place, "cannot be read: " + e.getMessage(), e);
    }
  }

  /** Reads numbers of any component type, which is looked up once for all of them. */
  private interface Numbers {
    float at(int element, int part);
  }

  private static Numbers numbers(AccessorData data, boolean normalised) {
    return switch (data) {
      case AccessorFloatData floats -> floats::get;
      case AccessorByteData bytes -> {
        float most = bytes.isUnsigned() ? 255 : 127;
        yield normalised ? (e, c) -> Math.max(-1, bytes.getInt(e, c) / most) : bytes::getInt;
      }
      case AccessorShortData shorts -> {
        float most = shorts.isUnsigned() ? 65535 : 32767;
        yield normalised ? (e, c) -> Math.max(-1, shorts.getInt(e, c) / most) : shorts::getInt;
      }
      case AccessorIntData ints -> ints::get;
      default -> (e, c) -> Float.NaN;
    };
  }

  /** The same for unsigned scalar integers; values beyond the int range come out negative. */
  private interface Wholes {
    int at(int element);
  }

  private Wholes wholes(AccessorData data, String place) throws InputException {
    return switch (data) {
      case AccessorByteData bytes -> e -> bytes.get(e, 0) & 0xff;
      case AccessorShortData shorts -> e -> shorts.get(e, 0) & 0xffff;
      case AccessorIntData ints -> e -> ints.get(e, 0);
      default -> throw new InputException(file, place, "expected whole numbers");
    };
  }

  /** Returns whole numbers, several an element. */
  int[] wholes(@Nullable Integer index, String place, String type) throws InputException {
    float[] numbers = floats(index, place, type);
    int[] out = new int[numbers.length];
    for (int i = 0; i < out.length; i++) {
      out[i] = (int) numbers[i];
    }
    return out;
  }

  /** Returns the whole numbers of a scalar accessor, each from 0 to {@code limit - 1}. */
  int[] indices(@Nullable Integer index, String place, int limit) throws InputException {
    Accessor accessor = element(gltf.getAccessors(), index, place, "accessors");
    AccessorData data = data(accessor, index, place, "SCALAR");
    Wholes wholes = wholes(data, place);
    budget.take(4L * data.getNumElements(), file, place);
    int[] out = new int[data.getNumElements()];
    for (int e = 0; e < out.length; e++) {
      out[e] = wholes.at(e);
      if (out[e] < 0 || out[e] >= limit) {
        throw new InputException(
            file, place, "index %d out of range 0..%d".formatted(out[e] & 0xffffffffL, limit - 1));
      }
    }
    return out;
  }

  private AccessorData data(
      Accessor accessor, @Nullable Integer index, String place, String... types)
      throws InputException {
    String own = "accessors[" + index + "]";
    // the library leaves out values that the standard does not list
    String given = accessor.getType();
    if (given == null || accessor.getComponentType() == null) {
      throw new InputException(
          file,
          own,
          "%s is not one of the standard".formatted(given == null ? "type" : "componentType"));
    }
    if (!List.of(types).contains(given)) {
      throw new InputException(
          file, place, "type %s, expected %s".formatted(given, String.join(" or ", types)));
    }
    int count = accessor.getCount();
    if (count < 0 || count > MAX_ELEMENTS) {
      throw new InputException(file, own, count + " elements");
    }
    ElementType type = ElementType.forString(accessor.getType());
    int size;
    try {
      size = type.getByteStride(accessor.getComponentType());
    } catch (RuntimeException e) {
      throw new InputException(
          file, own, "unknown componentType " + accessor.getComponentType(), e);
    }
    if (accessor.getBufferView() == null) {
      // zeros, which a sparse part may change
      if ((long) count * size > MAX_ZEROS) {
        throw new InputException(file, own, "%d elements, and no bufferView".formatted(count));
      }
      ByteBuffer zeros = ByteBuffer.allocate(count * size);
      return AccessorDatas.create(
          accessor.getComponentType(), zeros.order(ByteOrder.LITTLE_ENDIAN), 0, count, type, size);
    }
    ByteBuffer view = view(accessor.getBufferView(), own + ".bufferView");
    int offset = accessor.getByteOffset() == null ? 0 : accessor.getByteOffset();
    Integer stride =
        element(gltf.getBufferViews(), accessor.getBufferView(), own, "bufferViews")
            .getByteStride();
    long step = stride == null ? size : stride;
    if (offset < 0
        || step < size
        || (count > 0 && offset + step * (count - 1) + size > view.remaining())) {
      throw new InputException(
          file,
          own,
          "%d elements do not fit into bufferViews[%d]".formatted(count, accessor.getBufferView()));
    }
    try {
      return AccessorDatas.create(
          accessor.getComponentType(), view, offset, count, type, (int) step);
    } catch (RuntimeException e) {
      throw new InputException(file, own, "cannot be read: " + e.getMessage(), e);
    }
  }

  /** Returns an element of one of the file's arrays, or says that there is none. */
  <T> T element(@Nullable List<T> all, @Nullable Integer index, String place, String what)
      throws InputException {
    if (index == null) {
      throw new InputException(file, place, "missing");
    }
    int size = all == null ? 0 : all.size();
    if (all == null || index < 0 || index >= size) {
      throw new InputException(
          file, place, "%s[%d] does not exist; there are %d".formatted(what, index, size));
    }
    return all.get(index);
  }

  /** An absent array is an empty one. */
  static <T> List<T> list(@Nullable List<T> all) {
    return all == null ? List.of() : all;
  }
}

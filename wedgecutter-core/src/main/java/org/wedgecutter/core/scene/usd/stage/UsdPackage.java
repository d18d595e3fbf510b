package org.wedgecutter.core.scene.usd.stage;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.Map;
import org.wedgecutter.core.io.InputException;

/**
 * A package (.usdz): a ZIP archive whose files are neither packed nor encrypted, the first of which
 * is the layer that stands for it.
 */
final class UsdPackage {
  private static final int MAX_ENTRIES = 65_536;
  private static final int HEADER = 0x04034b50;
  private static final int CENTRAL = 0x02014b50;
  private static final int END = 0x06054b50;
  private static final int END_SIZE = 22;

  private final byte[] bytes;
  private final Path file;
  private final Map<String, int[]> entries = new LinkedHashMap<>();

  private UsdPackage(byte[] bytes, Path file) {
    this.bytes = bytes;
    this.file = file;
  }

  static boolean is(byte[] bytes) {
    return bytes.length > 3 && bytes[0] == 'P' && bytes[1] == 'K' && bytes[2] == 3 && bytes[3] == 4;
  }

  /** Reads the directory at the end of an archive. */
  static UsdPackage read(byte[] bytes, Path file) throws InputException {
    UsdPackage out = new UsdPackage(bytes, file);
    try {
      out.directory(ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN));
    } catch (IndexOutOfBoundsException e) {
      throw new InputException(file, "", "the package's directory leads out of the file", e);
    }
    if (out.entries.isEmpty()) {
      throw new InputException(file, "", "the package is empty; expected a layer in it");
    }
    return out;
  }

  private void directory(ByteBuffer in) throws InputException {
    int end = bytes.length - END_SIZE;
    while (end >= 0 && in.getInt(end) != END) {
      end--;
    }
    if (end < 0) {
      throw new InputException(file, "", "the package has no directory; is the file cut off?");
    }
    int count = in.getShort(end + 10) & 0xffff;
    int at = in.getInt(end + 16);
    for (int k = 0; k < Math.min(count, MAX_ENTRIES); k++) {
      if (in.getInt(at) != CENTRAL) {
        throw new InputException(file, "byte " + at, "expected an entry of the directory");
      }
      int packed = in.getShort(at + 10);
      int size = in.getInt(at + 24);
      int nameSize = in.getShort(at + 28) & 0xffff;
      int header = in.getInt(at + 42);
      String name = new String(bytes, at + 46, nameSize, StandardCharsets.UTF_8);
      if (packed != 0 || (in.getShort(at + 8) & 1) != 0) {
        throw new InputException(
            file, name, "is packed or encrypted; expected a file that is stored as it is");
      }
      if (name.chars().anyMatch(c -> c < ' ')) {
        throw new InputException(file, "byte " + at, "expected the name of a file");
      }
      if (in.getInt(header) != HEADER) {
        throw new InputException(file, name, "expected its header at byte " + header);
      }
      int start =
          header + 30 + (in.getShort(header + 26) & 0xffff) + (in.getShort(header + 28) & 0xffff);
      if (size < 0 || start < 0 || start > bytes.length - size) {
        throw new InputException(file, name, "leads out of the file");
      }
      if (!name.endsWith("/")) {
        entries.put(name, new int[] {start, size});
      }
      at += 46 + nameSize + (in.getShort(at + 30) & 0xffff) + (in.getShort(at + 32) & 0xffff);
    }
  }

  /** Returns the name of the layer that stands for the package. */
  String first() {
    return entries.keySet().iterator().next();
  }

  boolean holds(String name) {
    return entries.containsKey(name);
  }

  byte[] bytes(String name) throws InputException {
    int[] place = entries.get(name);
    if (place == null) {
      throw new InputException(file, name, "is not in the package");
    }
    return Arrays.copyOfRange(bytes, place[0], place[0] + place[1]);
  }

  /** Returns the name of a file that another one names, both in the package. */
  static String join(String from, String asset) {
    java.util.ArrayDeque<String> out = new java.util.ArrayDeque<>();
    String folder = from.substring(0, from.lastIndexOf('/') + 1);
    for (String part : (folder + asset).split("/")) {
      if (part.equals("..")) {
        out.pollLast();
      } else if (!part.isEmpty() && !part.equals(".")) {
        out.addLast(part);
      }
    }
    return String.join("/", out);
  }
}

package org.wedgecutter.core.plan;

import com.google.common.hash.Hashing;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * File names made of a template: {@code {shot} {layer} {pass} {frame:4} {camera} {version}}, with
 * {@code /} for folders. Values are made safe for file systems, so that a name never leaves the
 * delivery's folder.
 */
public final class FileNames {
  /** The layer name under which the uncut frame is written. */
  public static final String UNCUT = "uncut";

  /** The layer name under which all layers of a frame are written into one file. */
  public static final String FRAME = "frame";

  private static final Pattern FIELD = Pattern.compile("\\{([a-z]+)(?::(\\d))?}");
  private static final List<String> OWN = List.of("layer", "pass", "frame");

  /** Folders of a delivery that hold other things than its layers. */
  private static final Set<String> RESERVED = Set.of("units", "recipe", "handover");

  /**
   * Bytes of a name between two slashes. File systems hold 255; what is added while a file is
   * written, and an extension, take some of them.
   */
  private static final int MAX_PART = 200;

  /** Bytes of the text of a template between two slashes that leave room for its fields. */
  private static final int MAX_TEXT = 100;

  /** Bytes that a field keeps at most, and where there are several in a name at least. */
  private static final int MAX_VALUE = 96;

  private static final int MIN_VALUE = 16;

  private final String template;
  private final Map<String, String> values;

  /**
   * @param template the template; an image extension at its end is dropped
   * @throws IllegalArgumentException if it names an unknown field, or has no frame or layer
   */
  public FileNames(String template, String shot, String camera, String version) {
    this.template = withoutExtension(template);
    values = new HashMap<>(Map.of("shot", shot, "camera", camera, "version", version));
    Matcher m = FIELD.matcher(this.template);
    while (m.find()) {
      String field = m.group(1);
      if (!values.containsKey(field) && !OWN.contains(field)) {
        throw new IllegalArgumentException(
            "unknown field {%s} in '%s'; the fields are shot, layer, pass, frame, camera, version"
                .formatted(field, template));
      }
    }
    if (this.template.contains("{frame:0}")) {
      throw new IllegalArgumentException(
          "{frame:0} in '%s': expected {frame:1} to {frame:9}, the least number of digits"
              .formatted(template));
    }
    for (String part : FIELD.matcher(this.template).replaceAll("").split("/")) {
      if (bytes(part) > MAX_TEXT) {
        throw new IllegalArgumentException(
            "'%s' is longer than file names hold beside their fields".formatted(part));
      }
    }
    for (String field : new String[] {"{layer}", "{frame"}) {
      if (!this.template.contains(field)) {
        throw new IllegalArgumentException(
            "'%s' has no %s: files would overwrite each other"
                .formatted(template, field.equals("{frame") ? "{frame:4}" : field));
      }
    }
  }

  /** Whether a template ends in an image's extension. */
  public static boolean hasExtension(String template) {
    return !withoutExtension(template).equals(template);
  }

  /** Returns a template without an image's extension. */
  public static String withoutExtension(String template) {
    String lower = template.toLowerCase(Locale.ROOT);
    for (String extension : new String[] {".exr", ".hdr", ".png", ".tif", ".tiff"}) {
      if (lower.endsWith(extension)) {
        return withoutExtension(template.substring(0, template.length() - extension.length()));
      }
    }
    return template;
  }

  /**
   * Returns the name of a layer's file at a frame, relative to the delivery, with its extension.
   */
  public String name(String layer, int frame, String extension) {
    return name(layer, "", frame, extension);
  }

  /**
   * Returns the name of a file of one pass, relative to the delivery, with its extension. A
   * template without a field for it has the pass after the layer.
   *
   * @param pass its name; the empty name is that of the file that holds all
   */
  public String name(String layer, String pass, int frame, String extension) {
    for (int most = MAX_VALUE; ; most -= MIN_VALUE / 2) {
      String path = path(layer, pass, frame, most);
      boolean fits = Arrays.stream(path.split("/")).allMatch(part -> bytes(part) <= MAX_PART);
      if (fits || most <= MIN_VALUE) {
        return path + "." + extension;
      }
    }
  }

  /** Whether a layer's name is longer than its files' names hold, and is cut there. */
  public boolean cuts(String layer) {
    return !name(layer, 1, "").contains(plain(layer));
  }

  /**
   * @param most bytes that each field keeps; the number of the frame keeps all
   */
  private String path(String layer, String pass, int frame, int most) {
    boolean told = template.contains("{pass}");
    Matcher m = FIELD.matcher(template);
    StringBuilder out = new StringBuilder();
    while (m.find()) {
      String value =
          switch (m.group(1)) {
            case "layer" -> told || pass.isEmpty() ? layer : layer + "_" + pass;
            case "pass" -> pass.isEmpty() ? "all" : pass;
            case "frame" ->
                String.format(
                    Locale.ROOT, "%0" + (m.group(2) == null ? "1" : m.group(2)) + "d", frame);
            default -> values.getOrDefault(m.group(1), "");
          };
      m.appendReplacement(out, Matcher.quoteReplacement(cut(plain(value), most)));
    }
    m.appendTail(out);
    List<String> parts =
        Arrays.stream(out.toString().split("/"))
            .filter(part -> !part.isEmpty())
            .map(FileNames::plain)
            .toList();
    boolean clashes =
        parts.size() > 1 && RESERVED.contains(parts.getFirst().toLowerCase(Locale.ROOT));
    return (clashes ? "_" : "") + String.join("/", parts);
  }

  private static int bytes(String text) {
    return text.getBytes(StandardCharsets.UTF_8).length;
  }

  /** A text of so many bytes at most: what is cut ends in a digest, so that it stays apart. */
  private static String cut(String value, int most) {
    if (bytes(value) <= most) {
      return value;
    }
    String digest =
        "_" + Hashing.sha256().hashString(value, StandardCharsets.UTF_8).toString().substring(0, 8);
    int end = 0;
    for (int size = digest.length(); end < value.length(); ) {
      int c = value.codePointAt(end);
      size += bytes(Character.toString(c));
      if (size > most) {
        break;
      }
      end += Character.charCount(c);
    }
    return value.substring(0, end) + digest;
  }

  /**
   * Letters, digits and a few signs stay; all other characters, and a leading dot, become
   * underscores. What is longer than files' names hold is cut.
   */
  public static String safe(String value) {
    return cut(plain(value), MAX_VALUE);
  }

  private static String plain(String value) {
    StringBuilder out = new StringBuilder();
    value
        .codePoints()
        .forEach(c -> {
          boolean plain =
              Character.isLetterOrDigit(c) || c == '-' || c == '_' || c == '.' || c == '+';
          out.appendCodePoint(plain && !(c == '.' && out.isEmpty()) ? c : '_');
        });
    while (!out.isEmpty() && out.charAt(out.length() - 1) == '.') {
      out.setLength(out.length() - 1);
    }
    return out.isEmpty() ? "_" : out.toString();
  }
}

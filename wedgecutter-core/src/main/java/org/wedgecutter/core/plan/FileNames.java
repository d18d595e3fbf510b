package org.wedgecutter.core.plan;

import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

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

  /** Code points of a layer's name, and of each other field, that a file name keeps. */
  static final int MAX_PART = 120;

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
    boolean told = template.contains("{pass}");
    Matcher m = FIELD.matcher(template);
    StringBuilder out = new StringBuilder();
    while (m.find()) {
      String value =
          switch (m.group(1)) {
            case "layer" -> told || pass.isEmpty() ? layer : layer + "_" + pass;
            case "pass" -> pass.isEmpty() ? "all" : pass;
            case "frame" ->
                ("%0" + (m.group(2) == null || m.group(2).equals("0") ? "1" : m.group(2)) + "d")
                    .formatted(frame);
            default -> values.getOrDefault(m.group(1), "");
          };
      m.appendReplacement(out, Matcher.quoteReplacement(safe(value)));
    }
    m.appendTail(out);
    String path =
        Arrays.stream(out.toString().split("/"))
            .filter(part -> !part.isEmpty())
            .map(FileNames::safe)
            .collect(Collectors.joining("/"));
    return path + "." + extension;
  }

  /**
   * Letters, digits and a few signs stay; all other characters, and a leading dot, become
   * underscores.
   */
  public static String safe(String value) {
    StringBuilder out = new StringBuilder();
    value
        .codePoints()
        .limit(MAX_PART)
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

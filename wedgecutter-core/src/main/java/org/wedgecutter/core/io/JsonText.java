package org.wedgecutter.core.io;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.json.JsonMapper;
import java.nio.file.Path;

/**
 * Reads JSON that is not trusted: one value, no name twice in an object, nesting of 200 at most.
 */
public final class JsonText {
  private static final ObjectMapper MAPPER = mapper();

  private JsonText() {}

  private static ObjectMapper mapper() {
    ObjectMapper mapper =
        JsonMapper.builder()
            .enable(DeserializationFeature.FAIL_ON_TRAILING_TOKENS)
            .enable(JsonParser.Feature.STRICT_DUPLICATE_DETECTION)
            .build();
    mapper
        .getFactory()
        .setStreamReadConstraints(StreamReadConstraints.builder().maxNestingDepth(200).build());
    return mapper;
  }

  /**
   * Reads a value.
   *
   * @param file is for messages
   * @throws InputException with line and column, if the text is not one JSON value
   */
  public static JsonNode read(String text, Path file) throws InputException {
    JsonNode n;
    try {
      n = MAPPER.readTree(text);
    } catch (JsonProcessingException e) {
      throw unreadable(file, e);
    }
    if (n == null || n.isMissingNode()) {
      throw new InputException(file, "", "not JSON: empty");
    }
    return n;
  }

  /** Returns the error of a file that is no JSON, with its place. */
  public static InputException unreadable(Path file, JsonProcessingException e) {
    String place =
        e.getLocation() == null
            ? ""
            : "line %d, column %d"
                .formatted(e.getLocation().getLineNr(), e.getLocation().getColumnNr());
    // words of a file are not repeated: it may be one that is nobody's to read
    String why =
        e.getOriginalMessage()
            .replaceAll("(?s): was expecting .*", "")
            .replaceAll("'[^']{2,}'", "a word");
    return new InputException(file, place, "not JSON: " + why, e);
  }
}

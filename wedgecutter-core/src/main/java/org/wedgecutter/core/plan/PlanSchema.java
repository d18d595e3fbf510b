package org.wedgecutter.core.plan;

import com.networknt.schema.Error;
import com.networknt.schema.InputFormat;
import com.networknt.schema.Schema;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;

/** A JSON Schema that ships with the program. */
public final class PlanSchema {
  private final String text;
  private final Schema schema;
  private final Map<String, PlanSchema> parts = new ConcurrentHashMap<>();

  private PlanSchema(String text) {
    this.text = text;
    this.schema =
        SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12).getSchema(text);
  }

  /** The schema of plans. */
  public static PlanSchema plan() {
    return Holder.PLAN;
  }

  private static final class Holder {
    static final PlanSchema PLAN = load(PlanSchema.class, "plan.schema.json");
  }

  /** Loads a schema that stands beside a class. */
  public static PlanSchema load(Class<?> beside, String name) {
    try (InputStream in = Objects.requireNonNull(beside.getResourceAsStream(name), name)) {
      return new PlanSchema(new String(in.readAllBytes(), StandardCharsets.UTF_8));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** Returns the schema's text. */
  public String text() {
    return text;
  }

  /** A place where a document does not follow the schema. */
  public record Fault(String place, String expected) {}

  /** Returns the first violation in a part of a document, by its name among the definitions. */
  public Optional<Fault> checkPart(String definition, String json) {
    return parts
        .computeIfAbsent(
            definition,
            d -> {
              int at = text.indexOf("\"$defs\"");
              String own =
                  "{\"$schema\": \"https://json-schema.org/draft/2020-12/schema\", \"$ref\": \"#/$defs/"
                      + d
                      + "\", "
                      + text.substring(at);
              return new PlanSchema(own);
            })
        .check(json);
  }

  /** Returns the first violation in a JSON document, if there is one. */
  public Optional<Fault> check(String json) {
    List<Error> errors = schema.validate(json, InputFormat.JSON);
    return errors.stream()
        .findFirst()
        .map(e -> {
          String path = e.getInstanceLocation().toString();
          return new Fault(path.startsWith("/") ? path.substring(1) : path, e.getMessage());
        });
  }
}

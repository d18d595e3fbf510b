package org.wedgecutter.command;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.PropertyNamingStrategies;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.NullNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.PrintWriter;
import org.wedgecutter.core.io.Visible;
import org.wedgecutter.core.plan.PlanWriter;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** Where a command prints: its result to standard output, progress to standard error. */
public final class Result {
  private static final JsonMapper MAPPER =
      JsonMapper.builder().propertyNamingStrategy(PropertyNamingStrategies.SNAKE_CASE).build();

  private static final long TOLD_EVERY = 500_000_000L;

  @Option(names = "--json", description = "Print the result as one JSON document.")
  private boolean json;

  @Spec(Spec.Target.MIXEE)
  private CommandSpec spec;

  private long lastTold;

  @SuppressWarnings("NullAway.Init") // filled in by the command line library
  public Result() {}

  /** Prints a result as text. */
  public interface Text {
    void print(PrintWriter out);
  }

  /**
   * Prints a result.
   *
   * @param record the result; its components in snake_case are the keys of the JSON document
   * @param text prints the same for users
   */
  public void print(Record record, Text text) {
    PrintWriter out = spec.commandLine().getOut();
    if (json) {
      out.write(Visible.json(PlanWriter.text(tree(record))));
    } else {
      text.print(out);
    }
    out.flush();
  }

  /** Prints a document for other programs, exactly, whatever form was asked for. */
  public void print(String text) {
    PrintWriter out = spec.commandLine().getOut();
    out.write(text);
    out.flush();
  }

  /**
   * Returns a record as a tree; keys are its components in snake_case. A number that is not finite,
   * which JSON does not have, is null.
   */
  public static JsonNode tree(Record record) {
    return finite(MAPPER.valueToTree(record));
  }

  private static JsonNode finite(JsonNode node) {
    if (node instanceof ObjectNode object) {
      object.properties().forEach(e -> e.setValue(finite(e.getValue())));
    } else if (node instanceof ArrayNode array) {
      for (int k = 0; k < array.size(); k++) {
        array.set(k, finite(array.get(k)));
      }
    }
    boolean isReal = node.isDouble() || node.isFloat();
    return isReal && !Double.isFinite(node.doubleValue()) ? NullNode.getInstance() : node;
  }

  /** Tells progress, at most twice a second. */
  public synchronized void progress(String what, double share) {
    long now = System.nanoTime();
    if (now - lastTold > TOLD_EVERY) {
      lastTold = now;
      PrintWriter err = spec.commandLine().getErr();
      err.printf("%s  %3.0f %%%n", what, share * 100);
      err.flush();
    }
  }
}

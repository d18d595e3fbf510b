package org.wedgecutter.cli;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.PrintWriter;
import org.wedgecutter.core.plan.PlanWriter;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** Where a command prints: results to standard output, progress to standard error. */
final class Output {
  @Option(names = "--json", description = "Print one JSON document.")
  boolean json;

  @Spec(Spec.Target.MIXEE)
  CommandSpec spec;

  private long lastTold;

  @SuppressWarnings("NullAway.Init") // filled in by the command line library
  Output() {}

  PrintWriter out() {
    return spec.commandLine().getOut();
  }

  PrintWriter err() {
    return spec.commandLine().getErr();
  }

  void document(JsonNode node) {
    out().print(PlanWriter.text(node));
    out().flush();
  }

  /** Tells progress, at most twice a second. */
  synchronized void progress(String what, double share) {
    long now = System.nanoTime();
    if (now - lastTold > 500_000_000L) {
      lastTold = now;
      err().printf("%s  %3.0f %%%n", what, share * 100);
      err().flush();
    }
  }
}

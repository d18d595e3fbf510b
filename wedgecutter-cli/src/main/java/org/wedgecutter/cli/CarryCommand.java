package org.wedgecutter.cli;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import org.wedgecutter.core.carry.Carry;
import org.wedgecutter.core.carry.PlanCarrier;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "carry",
    description = "Takes a plan or a template to another scene and tells what each rule took.",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "Example: wedgecutter carry demo/orrery/orrery.wedge --to demo/desk/desk.glb -o demo/desk/new.wedge"
    })
@SuppressWarnings("NullAway.Init")
final class CarryCommand implements Callable<Integer> {
  @Mixin private Output output;

  @Parameters(paramLabel = "PLAN", description = "A .wedge file, with a shot or without.")
  private Path file;

  @Option(names = "--to", required = true, paramLabel = "SCENE", description = "The other scene.")
  private Path scene;

  @Option(names = "-o", required = true, paramLabel = "PLAN2", description = "The plan to write.")
  private Path out;

  @Override
  public Integer call() throws Exception {
    Carry.Carried carried = PlanCarrier.carry(file, scene, out);
    PlanCarrier.save(carried.plan(), file, out);
    Carry.Report report = carried.report();
    if (output.json) {
      output.document(document(report));
      return 0;
    }
    output.out().printf("%-24s %8s %8s  %s%n", "collection", "here", "there", "rule");
    for (Carry.Row row : report.rows()) {
      output
          .out()
          .printf(
              "%-24s %8s %8d  %s%n",
              row.collection(), row.here() < 0 ? "-" : row.here(), row.there(), row.rule());
      row.lost().forEach(p -> output.out().printf("%-24s lost by hand: %s%n", "", p));
    }
    if (!report.left().isEmpty()) {
      output.out().println("left in the rest:");
      report.left().forEach(p -> output.out().println("  " + p));
    }
    if (!report.idle().isEmpty()) {
      output.out().println("overrides without target:");
      report.idle().forEach(p -> output.out().println("  " + p));
    }
    report.notes().forEach(output.out()::println);
    output.out().println("wrote " + out);
    output.out().flush();
    return 0;
  }

  private static ObjectNode document(Carry.Report report) {
    ObjectNode n = JsonNodeFactory.instance.objectNode();
    ArrayNode rows = n.putArray("collections");
    for (Carry.Row row : report.rows()) {
      ObjectNode one = rows.addObject().put("collection", row.collection());
      one.put("rule", row.rule()).put("here", row.here() < 0 ? null : (Integer) row.here());
      one.put("there", row.there());
      row.lost().forEach(one.putArray("lost")::add);
    }
    report.left().forEach(n.putArray("rest")::add);
    report.idle().forEach(n.putArray("idle")::add);
    report.notes().forEach(n.putArray("notes")::add);
    return n;
  }
}

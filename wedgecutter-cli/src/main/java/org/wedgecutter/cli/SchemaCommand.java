package org.wedgecutter.cli;

import java.util.concurrent.Callable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.plan.PlanSchema;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

@Command(
    name = "schema",
    description = "Prints the JSON Schema of plans or deliveries.",
    mixinStandardHelpOptions = true,
    footer = {"", "Example: wedgecutter schema plan"})
@SuppressWarnings("NullAway.Init")
final class SchemaCommand implements Callable<Integer> {
  /** Which schema. */
  enum Document {
    plan,
    delivery,
    unit
  }

  @Mixin private Result result;

  @Parameters(
      arity = "0..1",
      defaultValue = "plan",
      description = "Which one: plan, delivery or unit.")
  private Document document;

  @Override
  public Integer call() {
    result.print(
        switch (document) {
          case plan -> PlanSchema.plan().text();
          case delivery -> Delivery.schema().text();
          case unit -> Delivery.unitSchema().text();
        });
    return Commands.FINE;
  }
}

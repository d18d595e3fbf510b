package org.wedgecutter.cli;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.shot.LoadedShot;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

@Command(
    name = "check",
    description = "Prints findings on a plan, without rendering.",
    mixinStandardHelpOptions = true,
    footer = {"", "Example: wedgecutter check demo/orrery/orrery.wedge"})
@SuppressWarnings("NullAway.Init")
final class CheckCommand implements Callable<Integer> {
  @Mixin private Output output;

  @Parameters(paramLabel = "PLAN", description = "A .wedge file.")
  private Path file;

  @Override
  public Integer call() throws Exception {
    LoadedShot shot = LoadedShot.load(file);
    List<Finding> findings = PlanCheck.check(shot.plan(), shot.scene(), shot.resolve());
    if (output.json) {
      ObjectNode n = JsonNodeFactory.instance.objectNode();
      ArrayNode list = n.putArray("findings");
      for (Finding f : findings) {
        ObjectNode one = list.addObject().put("severity", f.severity().word());
        one.put("layer", f.layer()).put("entity", f.entity());
        one.put("cause", f.text()).put("fix", f.fix());
      }
      output.document(n);
    } else {
      for (Finding f : findings) {
        output.out().printf("%-8s %s%n         fix: %s%n", f.severity().word(), f.text(), f.fix());
      }
      if (findings.isEmpty()) {
        output.out().println("no findings");
      }
      output.out().flush();
    }
    boolean errors = findings.stream().anyMatch(f -> f.severity() == Finding.Severity.ERROR);
    return errors ? Main.NO : 0;
  }
}

package org.wedgecutter.cli;

import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.DeliveryProof;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "rejoin",
    description = "Puts the written files of a delivery together by its recipe.",
    mixinStandardHelpOptions = true,
    footer = {"", "Example: wedgecutter rejoin orrery-v001 --frame 20 -o rejoined.exr"})
@SuppressWarnings("NullAway.Init")
final class RejoinCommand implements Callable<Integer> {
  @Mixin private Output output;

  @Parameters(paramLabel = "DELIVERY", description = "The delivery's folder.")
  private Path folder;

  @Option(names = "--frame", description = "Which frame; default the first that was rendered.")
  private @Nullable Integer frame;

  @Option(names = "-o", required = true, description = "The .exr file to write.")
  private Path out;

  @Override
  public Integer call() throws Exception {
    Delivery delivery = Delivery.read(folder);
    int chosen = ProveCommand.frame(delivery, frame);
    DeliveryProof.write(delivery, chosen, out);
    if (output.json) {
      output.document(
          JsonNodeFactory.instance.objectNode().put("file", out.toString()).put("frame", chosen));
    } else {
      output.out().printf("frame %d rejoined into %s%n", chosen, out);
      output.out().flush();
    }
    return 0;
  }
}

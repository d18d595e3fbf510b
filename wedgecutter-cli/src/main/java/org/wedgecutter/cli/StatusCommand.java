package org.wedgecutter.cli;

import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.deliver.unit.DeliveryStatus;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.survey.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

@Command(
    name = "status",
    description = {
      "Prints how far a delivery is, whoever renders into it, and updates its delivery.json.",
      "Where its plan is still there, it also tells which files a change of plan or scene touches."
    },
    mixinStandardHelpOptions = true,
    footer = {"", "Example: wedgecutter status orrery-v001 --watch"})
@SuppressWarnings("NullAway.Init")
final class StatusCommand implements Callable<Integer> {
  private static final long EVERY_MILLIS = 2000;

  @Mixin private Result result;
  @Spec private CommandSpec spec;

  @Parameters(paramLabel = "DELIVERY", description = "Folder of the delivery.")
  private Path folder;

  @Option(
      names = "--watch",
      description = "Keep reporting until all is done or no process is rendering.")
  private boolean watch;

  @Option(
      names = "--open-parts",
      paramLabel = "N",
      description =
          "Print only in which of N shares of the work (render --part) anything is missing, such as 2,7.")
  private @Nullable Integer openParts;

  private record Cell(
      String layer,
      int frame,
      boolean uncut,
      String state,
      double share,
      @Nullable Double seconds,
      @Nullable Double noise,
      String machine,
      String why,
      List<Integer> heldAt) {}

  private record Told(
      String delivery,
      Map<String, Long> units,
      double usedSeconds,
      @Nullable Double leftSeconds,
      List<Cell> cells,
      List<String> problems) {}

  @Override
  public Integer call() throws Exception {
    Optional<LoadedShot> now = now();
    if (openParts != null) {
      List<Integer> open = open(now, openParts);
      result.print(String.join(",", open.stream().map(String::valueOf).toList()) + "\n");
      return open.isEmpty() ? Commands.FINE : Commands.NO;
    }
    while (true) {
      DeliveryStatus status =
          now.isPresent() ? DeliveryStatus.read(folder, now.get()) : DeliveryStatus.read(folder);
      boolean over = !watch || status.count(UnitState.RUNNING) == 0;
      if (over) {
        status.delivery().write();
        result.print(document(status), o -> print(status, o));
        boolean whole = status.count(UnitState.DONE) == status.cells().size();
        return whole && status.problems().isEmpty() ? Commands.FINE : Commands.NO;
      }
      result.progress(line(status), status.count(UnitState.DONE) / (double) status.cells().size());
      Thread.sleep(EVERY_MILLIS);
    }
  }

  private List<Integer> open(Optional<LoadedShot> now, int shares) throws Exception {
    if (shares < 1) {
      throw new ParameterException(spec.commandLine(), "--open-parts: expected 1 or more");
    }
    if (now.isEmpty()) {
      throw new InputException(folder, "source", "the delivery's plan is not there any more");
    }
    return new DeliveryRenderer(now.get(), DeliveryOrder.rest(now.get(), folder, 1))
        .openShares(shares);
  }

  private Optional<LoadedShot> now() throws Exception {
    Optional<Path> plan = Delivery.read(folder).planFile();
    return plan.isEmpty() ? Optional.empty() : Optional.of(LoadedShot.load(plan.get()));
  }

  private static @Nullable Double known(double value) {
    return Double.isFinite(value) ? value : null;
  }

  private Told document(DeliveryStatus status) {
    Map<String, Long> units = new LinkedHashMap<>();
    for (UnitState state : UnitState.values()) {
      units.put(state.word(), status.count(state));
    }
    return new Told(
        folder.toString(),
        units,
        status.used(),
        known(status.left()),
        status.cells().stream()
            .map(c ->
                new Cell(
                    c.unit().layer(),
                    c.unit().frame(),
                    c.unit().uncut(),
                    c.state().word(),
                    c.share(),
                    known(c.seconds()),
                    known(c.noise()),
                    c.machine(),
                    c.why(),
                    c.unit().heldAt()))
            .toList(),
        status.problems());
  }

  private static String line(DeliveryStatus status) {
    List<String> words = new ArrayList<>();
    for (UnitState state : UnitState.values()) {
      long count = status.count(state);
      if (count > 0) {
        words.add("%d %s".formatted(count, state.word()));
      }
    }
    String left =
        Double.isFinite(status.left()) ? ", about " + Times.words(status.left()) + " left" : "";
    return String.join(", ", words) + (status.left() > 0 ? left : "");
  }

  private static void print(DeliveryStatus status, PrintWriter out) {
    out.printf("%s; %s used%n", line(status), Times.words(status.used()));
    Map<String, List<DeliveryStatus.Cell>> layers = new LinkedHashMap<>();
    for (DeliveryStatus.Cell c : status.cells()) {
      layers.computeIfAbsent(c.unit().layer(), l -> new ArrayList<>()).add(c);
    }
    layers.forEach((layer, cells) -> {
      for (UnitState state : UnitState.values()) {
        List<DeliveryStatus.Cell> in = cells.stream().filter(c -> c.state() == state).toList();
        if (!in.isEmpty()) {
          out.printf(
              Locale.ROOT,
              "  %-20s %-8s %s%s%n",
              layer,
              state.word(),
              FrameRange.of(in.stream().map(c -> c.unit().frame()).toList()).text(),
              in.getFirst().why().isEmpty() ? "" : ": " + in.getFirst().why());
        }
      }
      cells.stream()
          .filter(c -> !c.unit().heldAt().isEmpty())
          .forEach(c ->
              out.printf(
                  "  %-20s held     %s, from frame %d%n",
                  layer, FrameRange.of(c.unit().heldAt()).text(), c.unit().frame()));
    });
    status.problems().forEach(f -> out.printf("  %s%n", f));
  }
}

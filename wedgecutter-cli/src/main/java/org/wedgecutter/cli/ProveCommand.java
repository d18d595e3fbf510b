package org.wedgecutter.cli;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.DeliveryProof;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.measure.InterplayTable;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.PlanProof;
import org.wedgecutter.core.proof.Residual;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

@Command(
    name = "prove",
    description = "Says whether the layers rejoin to the uncut frame, by how much not, and why.",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "A plan is traced; of a delivery the written files are read.",
      "Example: wedgecutter prove demo/orrery/orrery.wedge --frame 20 --scale 0.25 --samples 4"
    })
@SuppressWarnings("NullAway.Init")
final class ProveCommand implements Callable<Integer> {
  @Mixin private Output output;
  @Spec private CommandSpec spec;

  @Parameters(paramLabel = "PLAN|DELIVERY", description = "A .wedge file or a delivery's folder.")
  private Path path;

  @Option(names = "--frame", description = "Which frame; default the first.")
  private @Nullable Integer frame;

  @Option(names = "--scale", defaultValue = "1", description = "Factor on the picture's size.")
  private double scale;

  @Option(names = "--samples", defaultValue = "0", description = "Samples per pixel.")
  private int samples;

  @Option(names = "--threads", defaultValue = "0", description = "How many.")
  private int threads;

  @Option(names = "--separately", description = "Trace every layer by itself.")
  private boolean separately;

  @Override
  public Integer call() throws Exception {
    Options.checkScale(spec, scale);
    if (Delivery.isDelivery(path) || java.nio.file.Files.isDirectory(path)) {
      Delivery delivery = Delivery.read(path);
      int chosen = frame(delivery, frame);
      DeliveryProof proof = DeliveryProof.prove(delivery, chosen);
      return tell(delivery.plan(), chosen, proof.residual(), proof.causes(), null);
    }
    LoadedShot shot = LoadedShot.load(path);
    int chosen = frame == null ? shot.plan().requireShot().frames().first() : frame;
    FrameRenderer renderer =
        new FrameRenderer(
            shot, FrameRenderer.Settings.of(shot, scale, samples, threads, separately));
    PlanProof proof =
        PlanProof.prove(shot, chosen, renderer, p -> output.progress("frame " + chosen, p));
    return tell(
        shot.plan(),
        chosen,
        proof.residual(),
        proof.causes(),
        new Traced(
            proof.rendered().faults(), pairs(shot.resolve(chosen), proof.rendered().interplay())));
  }

  /**
   * What only a trace tells.
   *
   * @param faults fragments that were left out because a number was not one, or negative
   * @param interplay the pairs of layers that do most to one another
   */
  private record Traced(long faults, List<Pair> interplay) {}

  /** What the things seen in one layer do to the light of those of another, as a share of it. */
  private record Pair(String of, String by, double share) {}

  private static List<Pair> pairs(ResolvedShot shot, InterplayTable table) {
    List<Pair> out = new ArrayList<>();
    for (ResolvedLayer a : shot.layers()) {
      for (ResolvedLayer b : shot.layers()) {
        if (!a.name().equals(b.name()) && !a.seen().isEmpty() && !b.seen().isEmpty()) {
          double share = table.share(a.seen(), b.seen());
          if (share > 0.0005) {
            out.add(new Pair(a.name(), b.name(), share));
          }
        }
      }
    }
    out.sort(Comparator.comparingDouble(p -> -p.share()));
    return out;
  }

  /** The frame that was asked for, or the first of a delivery. */
  static int frame(Delivery delivery, @Nullable Integer asked) throws InputException {
    List<Integer> frames = delivery.frames();
    if (frames.isEmpty()) {
      throw new InputException(delivery.folder(), "files", "no frame was rendered yet");
    }
    if (asked != null && !frames.contains(asked)) {
      throw new InputException(
          delivery.folder(),
          "files",
          "frame %d was not rendered; the frames are %s".formatted(asked, frames));
    }
    return asked == null ? frames.getFirst() : asked;
  }

  private int tell(
      Plan plan, int chosen, Residual residual, List<Cause> causes, @Nullable Traced traced) {
    if (output.json) {
      ObjectNode document = document(plan, chosen, residual, causes);
      if (traced != null) {
        document.put("faults", traced.faults());
        ArrayNode list = document.putArray("interplay");
        for (Pair p : traced.interplay()) {
          list.addObject().put("layer", p.of()).put("by", p.by()).put("share", p.share());
        }
      }
      output.document(document);
    } else {
      output
          .out()
          .printf(
              "frame %d: %s%n  largest residual %.3g (%.3g relative), rms %.3g, beyond tolerance %.4f %% of the pixels%n",
              chosen,
              residual.exact() ? "rejoins exactly" : "does not rejoin exactly",
              residual.max(),
              residual.maxRelative(),
              residual.rms(),
              residual.beyond() * 100);
      for (Cause c : causes) {
        String share = Double.isNaN(c.share()) ? "" : " (%.1f %%)".formatted(c.share() * 100);
        output.out().printf("  cause%s: %s%n    fix: %s%n", share, c.text(), c.fix());
      }
      if (traced != null) {
        output
            .out()
            .printf("  light that is no number, infinite or negative: %d%n", traced.faults());
        traced.interplay().stream()
            .limit(6)
            .forEach(p ->
                output
                    .out()
                    .printf(
                        "  interplay: %.1f %% of %s's light by way of %s, or kept from it%n",
                        p.share() * 100, p.of(), p.by()));
      }
      output.out().flush();
    }
    return residual.exact() ? 0 : Main.NO;
  }

  private static ObjectNode document(Plan plan, int chosen, Residual residual, List<Cause> causes) {
    ObjectNode n = JsonNodeFactory.instance.objectNode().put("exact", residual.exact());
    n.put("frame", chosen);
    n.putObject("tolerance")
        .put("absolute", residual.tolerance().absolute())
        .put("relative", residual.tolerance().relative());
    n.put("max", residual.max()).put("max_relative", residual.maxRelative());
    n.put("rms", residual.rms()).put("beyond", residual.beyond());
    ArrayNode layers = n.putArray("layers");
    for (Recipe.Step step : plan.recipe().joins()) {
      layers.addObject().put("layer", step.layer()).put("join", step.join().word());
    }
    ArrayNode list = n.putArray("causes");
    for (Cause c : causes) {
      ObjectNode one = list.addObject().put("kind", c.kind().word()).put("layer", c.layer());
      one.put("entity", c.entity());
      if (Double.isNaN(c.share())) {
        one.putNull("share");
      } else {
        one.put("share", c.share());
      }
      one.put("text", c.text()).put("fix", c.fix());
    }
    return n;
  }
}

package org.wedgecutter.cli;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.DeliveryRenderer;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.FrameRange;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

@Command(
    name = "render",
    description = "Renders the enabled layers of a plan into a delivery.",
    mixinStandardHelpOptions = true,
    footer = {
      "",
      "Example: wedgecutter render demo/orrery/orrery.wedge --uncut --frames 1,20,48 --scale 0.25"
    })
@SuppressWarnings("NullAway.Init")
final class RenderCommand implements Callable<Integer> {
  @Mixin private Output output;
  @Spec private CommandSpec spec;

  @Parameters(paramLabel = "PLAN", description = "A .wedge file.")
  private Path file;

  @Option(names = "--layers", split = ",", description = "Only these layers.")
  private List<String> layers = List.of();

  @Option(names = "--frames", description = "Only these frames, such as 1-24x2,30.")
  private @Nullable String frames;

  @Option(names = "--uncut", description = "The uncut frame too.")
  private boolean uncut;

  @Option(
      names = "--out",
      description = "The delivery's folder; default NAME-v001 beside the plan.")
  private @Nullable Path out;

  @Option(names = "--scale", defaultValue = "1", description = "Factor on the picture's size.")
  private double scale;

  @Option(names = "--samples", defaultValue = "0", description = "Samples per pixel.")
  private int samples;

  @Option(
      names = "--threads",
      defaultValue = "0",
      description = "How many; a negative number leaves so many processors free.")
  private int threads;

  @Option(names = "--region", description = "Only these pixels: X,Y,W,H.")
  private @Nullable String region;

  @Option(names = "--separately", description = "Trace every layer by itself.")
  private boolean separately;

  @Option(names = "--resume", description = "Go on with a delivery that was stopped.")
  private boolean resume;

  @Option(names = "--seed", description = "Another seed than the plan's.")
  private @Nullable Long seed;

  @Override
  public Integer call() throws Exception {
    LoadedShot shot = Options.withSeed(LoadedShot.load(file), seed);
    Options.checkScale(spec, scale);
    Shot s = shot.plan().requireShot();
    List<Integer> chosen = frames == null ? s.frames().frames() : range(frames).frames();
    Path folder = out == null ? DeliveryRenderer.freeFolder(shot) : out;
    DeliveryRenderer renderer =
        new DeliveryRenderer(
            shot,
            new DeliveryRenderer.Order(folder, layers, chosen, uncut, settings(shot), resume));
    Thread onInterrupt = new Thread(renderer::stop, "stop");
    Runtime.getRuntime().addShutdownHook(onInterrupt);
    long start = System.nanoTime();
    Delivery delivery =
        renderer.run((frame, part, share) -> output.progress("frame " + frame, share));
    Runtime.getRuntime().removeShutdownHook(onInterrupt);
    double seconds = (System.nanoTime() - start) / 1e9;
    if (output.json) {
      output.document(document(delivery, renderer, seconds));
    } else {
      output.out().printf("%d files in %s, %.1f s%n", delivery.files().size(), folder, seconds);
      for (RenderedFrame.ClassTime c : renderer.classes()) {
        output
            .out()
            .printf("  one trace, %.1f s: %s%n", c.seconds(), String.join(", ", c.layers()));
      }
      output.out().flush();
    }
    return 0;
  }

  private FrameRenderer.Settings settings(LoadedShot shot) {
    FrameRenderer.Settings whole =
        FrameRenderer.Settings.of(shot, scale, samples, threads, separately);
    if (region == null) {
      return whole;
    }
    try {
      int[] n =
          Arrays.stream(region.split(",")).map(String::trim).mapToInt(Integer::parseInt).toArray();
      if (n.length != 4) {
        throw new IllegalArgumentException("%d numbers".formatted(n.length));
      }
      return whole.within(new Region(n[0], n[1], n[2], n[3]));
    } catch (IllegalArgumentException e) {
      throw new ParameterException(
          spec.commandLine(),
          "--region: '%s', expected X,Y,W,H within %d x %d pixels"
              .formatted(region, whole.width(), whole.height()),
          e);
    }
  }

  private FrameRange range(String text) {
    try {
      return FrameRange.parse(text);
    } catch (IllegalArgumentException e) {
      throw new ParameterException(spec.commandLine(), "--frames: " + e.getMessage(), e);
    }
  }

  private static ObjectNode document(Delivery delivery, DeliveryRenderer renderer, double seconds) {
    ObjectNode n = JsonNodeFactory.instance.objectNode();
    n.put("delivery", delivery.folder().toString()).put("seconds", seconds);
    ArrayNode classes = n.putArray("classes");
    for (RenderedFrame.ClassTime c : renderer.classes()) {
      ObjectNode one = classes.addObject();
      c.layers().forEach(one.putArray("layers")::add);
      one.put("seconds", c.seconds());
    }
    ArrayNode files = n.putArray("files");
    for (Delivery.Entry f : delivery.files()) {
      ObjectNode one = files.addObject().put("path", f.path()).put("layer", f.layer());
      one.put("frame", f.frame()).put("uncut", f.uncut());
      f.passes().forEach(one.putArray("passes")::add);
      one.putNull("held_from");
      one.put("seconds", f.seconds()).put("samples", delivery.samples()).put("rays", f.rays());
    }
    return n.put("peak_bytes", renderer.peakBytes()).put("faults", renderer.faults());
  }
}

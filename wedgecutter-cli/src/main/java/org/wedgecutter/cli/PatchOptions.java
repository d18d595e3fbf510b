package org.wedgecutter.cli;

import java.io.PrintWriter;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.command.Commands;
import org.wedgecutter.command.Result;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.deliver.unit.Patcher;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Entity;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Spec;

/** The options of {@code render --patch}, and what they do. */
final class PatchOptions {
  @Spec(Spec.Target.MIXEE)
  private CommandSpec spec;

  @Option(
      names = "--patch",
      paramLabel = "LAYER",
      description =
          "Render a part of a layer again, by --region, --entity or --material, and drop it into a finished delivery (--out).")
  private @Nullable String patch;

  @Option(
      names = "--entity",
      paramLabel = "PATH",
      description = "With --patch: the pixels in which the camera sees this entity.")
  private @Nullable String entity;

  @Option(
      names = "--material",
      paramLabel = "NAME",
      description = "With --patch: the pixels of all entities that have this material.")
  private @Nullable String material;

  @Option(
      names = "--with-reach",
      description =
          "With --patch: also re-render everything that the edit affects outside the patch, in all layers.")
  private boolean withReach;

  @SuppressWarnings("NullAway.Init") // filled in by the command line library
  PatchOptions() {}

  private record PatchTold(int frame, @Nullable Region region, boolean whole) {}

  private record TouchedTold(String layer, int frame, @Nullable Double share) {}

  private record PatchedTold(
      String delivery, String layer, List<PatchTold> patches, List<TouchedTold> touched) {}

  /** Whether a patch is asked for. */
  boolean isAsked() {
    if (patch == null && (entity != null || material != null || withReach)) {
      throw new ParameterException(
          spec.commandLine(), "--entity, --material and --with-reach go with --patch LAYER");
    }
    return patch != null;
  }

  /**
   * Renders the patch.
   *
   * @param frames at which; empty means all
   * @param threads as the option was given
   * @param part returns the region that was asked for, or null
   */
  int run(
      LoadedShot shot,
      Delivery delivery,
      List<Integer> frames,
      int threads,
      Function<FrameRenderer.Settings, @Nullable Region> part,
      Result result)
      throws Exception {
    String layer = String.valueOf(patch);
    EntitySet entities = entities(shot);
    FrameRenderer.Settings whole = delivery.settings(FrameRenderer.Settings.threads(threads));
    Region region = part.apply(whole);
    if (region == null && entities.isEmpty()) {
      throw new ParameterException(
          spec.commandLine(), "--patch: expected --region, --entity or --material");
    }
    Patcher patcher =
        new Patcher(
            shot, delivery, new Patcher.Order(layer, frames, region, entities), whole.threads());
    Patcher.Done done;
    try (var _ = Commands.onInterrupt(patcher::stop)) {
      done = patcher.run(p -> result.progress("patch", p));
    }
    List<Patcher.Touched> touched = done.touched();
    if (withReach && !touched.isEmpty()) {
      Map<String, Set<Integer>> also = new LinkedHashMap<>();
      touched.forEach(t -> also.computeIfAbsent(t.layer(), l -> new TreeSet<>()).add(t.frame()));
      List<Integer> at = touched.stream().map(Patcher.Touched::frame).distinct().sorted().toList();
      DeliveryRenderer renderer =
          new DeliveryRenderer(
              shot,
              new DeliveryOrder(delivery.folder(), List.of(), at, true, whole, true)
                  .withCells(also)
                  .changing(true));
      try (var _ = Commands.onInterrupt(renderer::stop)) {
        renderer.run((frame, p, share) -> result.progress("frame " + frame, share));
      }
    }
    result.print(told(delivery, layer, done), o -> print(layer, done, o));
    return Commands.FINE;
  }

  private static PatchedTold told(Delivery delivery, String layer, Patcher.Done done) {
    return new PatchedTold(
        delivery.folder().toString(),
        layer,
        done.patches().stream()
            .map(p -> new PatchTold(p.frame(), p.region().orElse(null), p.whole()))
            .toList(),
        done.touched().stream()
            .map(t ->
                new TouchedTold(
                    t.layer(), t.frame(), Double.isFinite(t.share()) ? t.share() : null))
            .toList());
  }

  private void print(String layer, Patcher.Done done, PrintWriter o) {
    for (Patcher.Patch p : done.patches()) {
      o.printf(
          "%s, frame %d: %s%n",
          layer,
          p.frame(),
          p.region()
              .map(r ->
                  "%d x %d pixels at %d, %d rendered again%s"
                      .formatted(
                          r.width(),
                          r.height(),
                          r.x(),
                          r.y(),
                          p.whole() ? "; the file is what a full render gives" : ""))
              .orElse("not seen"));
    }
    if (!done.touched().isEmpty()) {
      o.println(
          withReach
              ? "the edit reached further; these were rendered whole:"
              : "the edit reaches further; --with-reach renders these whole:");
      for (Patcher.Touched t : done.touched()) {
        o.printf(
            "  %s, frame %d%s%n",
            t.layer(),
            t.frame(),
            Double.isFinite(t.share()) ? ": %.2g %% of its light".formatted(100 * t.share()) : "");
      }
    }
  }

  /** The entities that were edited. */
  private EntitySet entities(LoadedShot shot) {
    String path = entity;
    String name = material;
    List<Entity> all = shot.scene().entities();
    EntitySet found =
        EntitySet.where(
            all.size(),
            e ->
                all.get(e).path().equals(path)
                    || (name != null && all.get(e).materials().contains(name)));
    if (found.isEmpty() && (path != null || name != null)) {
      throw new ParameterException(
          spec.commandLine(),
          path != null
              ? "--entity: the scene has no entity '%s'".formatted(path)
              : "--material: nothing in the scene has the material '%s'".formatted(name));
    }
    return found;
  }
}

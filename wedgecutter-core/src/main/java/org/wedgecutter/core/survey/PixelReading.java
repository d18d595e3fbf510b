package org.wedgecutter.core.survey;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.wedgecutter.core.fragment.JobPlan;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.trace.LightAccount;
import org.wedgecutter.core.trace.SceneTracer;
import org.wedgecutter.core.trace.TraceJob;

/**
 * Explains a pixel of the uncut frame: the visible entities, their layers, and where their light
 * comes from.
 *
 * @param luminance of the pixel, scene-linear light, mean over samples
 * @param seen the visible entities, the brightest first
 * @param samples how many were traced
 */
public record PixelReading(double luminance, List<Seen> seen, int samples) {
  /** Paths that tell shares to a percent or two, in a moment. */
  public static final int SAMPLES = 256;

  public PixelReading {
    seen = List.copyOf(seen);
  }

  /**
   * An object in the pixel.
   *
   * @param entity its index
   * @param path its path
   * @param cover its share of the pixel, 0 to 1
   * @param light its luminance in the pixel
   * @param layers the joined layers that show it
   * @param sources where that light comes from, the most first
   */
  public record Seen(
      int entity,
      String path,
      double cover,
      double light,
      List<String> layers,
      List<Source> sources) {
    public Seen {
      layers = List.copyOf(layers);
      sources = List.copyOf(sources);
    }
  }

  /**
   * Light of one emitter on a visible entity.
   *
   * @param emitter its index
   * @param path its path
   * @param light luminance that arrives in all
   * @param direct luminance that arrives straight
   * @param ways luminance via others, the most first
   * @param blockers luminance that others block, the most first
   */
  public record Source(
      int emitter, String path, double light, double direct, List<By> ways, List<By> blockers) {
    public Source {
      ways = List.copyOf(ways);
      blockers = List.copyOf(blockers);
    }
  }

  /** Luminance via an entity, or blocked by it. */
  public record By(int entity, String path, double light) {}

  /**
   * Traces a pixel of the uncut frame at the plan's size.
   *
   * @param frame the scene, placed at the frame
   * @param number the frame
   * @param x column of the pixel at that size
   * @param y line
   */
  public static PixelReading of(
      LoadedShot shot,
      SceneTracer.Frame frame,
      int number,
      int x,
      int y,
      int width,
      int height,
      int samples) {
    ResolvedShot resolved = shot.resolve(number);
    TraceJob job = new JobPlan(resolved, l -> false, true, c -> false).jobs().getFirst();
    LightAccount account = frame.explain(job, shot.camera(), width, height, x, y, samples);
    return told(shot, resolved, account, samples);
  }

  private static PixelReading told(
      LoadedShot shot, ResolvedShot resolved, LightAccount account, int samples) {
    Map<Integer, Map<Integer, Draft>> bySeen = new TreeMap<>();
    account.each((way, r, g, b) -> {
      double light = (0.2126 * r + 0.7152 * g + 0.0722 * b) / samples;
      if (light > 0) {
        bySeen
            .computeIfAbsent(way.seen(), s -> new TreeMap<>())
            .computeIfAbsent(way.emitter(), e -> new Draft())
            .add(way, light);
      }
    });
    account.coverage().keySet().forEach(e -> bySeen.computeIfAbsent(e, s -> new TreeMap<>()));
    List<Entity> all = shot.scene().entities();
    List<Seen> seen = new ArrayList<>();
    double whole = 0;
    for (Map.Entry<Integer, Map<Integer, Draft>> one : bySeen.entrySet()) {
      List<Source> sources = new ArrayList<>();
      double light = 0;
      for (Map.Entry<Integer, Draft> e : one.getValue().entrySet()) {
        Source source = e.getValue().source(e.getKey(), all);
        sources.add(source);
        light += source.light;
      }
      sources.sort(Comparator.comparingDouble(s -> -s.light));
      whole += light;
      seen.add(
          new Seen(
              one.getKey(),
              all.get(one.getKey()).path(),
              account.coverage().getOrDefault(one.getKey(), 0.0) / samples,
              light,
              layers(shot, resolved, one.getKey()),
              sources));
    }
    seen.sort(Comparator.comparingDouble(s -> -s.light));
    return new PixelReading(whole, seen, samples);
  }

  private static List<String> layers(LoadedShot shot, ResolvedShot resolved, int entity) {
    List<String> out = new ArrayList<>();
    for (int l = 0; l < resolved.layers().size(); l++) {
      LayerDef def = shot.plan().layers().get(l);
      ResolvedLayer layer = resolved.layers().get(l);
      if (layer.seen().contains(entity) && shot.plan().join(def.name()).isPresent()) {
        out.add(def.name());
      }
    }
    return out;
  }

  /** The light of one emitter, while it is added up. */
  private static final class Draft {
    private double direct;
    private final Map<Integer, Double> ways = new TreeMap<>();
    private final Map<Integer, Double> blockers = new TreeMap<>();

    void add(LightAccount.Way way, double light) {
      if (way.blocked()) {
        blockers.merge(way.by(), light, Double::sum);
      } else if (way.by() == LightAccount.DIRECT) {
        direct += light;
      } else {
        ways.merge(way.by(), light, Double::sum);
      }
    }

    Source source(int emitter, List<Entity> all) {
      double light = direct + ways.values().stream().mapToDouble(d -> d).sum();
      return new Source(
          emitter,
          all.get(emitter).path(),
          light,
          direct,
          sorted(ways, all),
          sorted(blockers, all));
    }

    private static List<By> sorted(Map<Integer, Double> of, List<Entity> all) {
      List<By> out = new ArrayList<>();
      of.forEach((e, light) -> out.add(new By(e, all.get(e).path(), light)));
      out.sort(Comparator.comparingDouble(b -> -b.light));
      return out;
    }
  }
}

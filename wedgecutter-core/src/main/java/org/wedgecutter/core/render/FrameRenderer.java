package org.wedgecutter.core.render;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CancellationException;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.DoubleConsumer;
import java.util.function.IntPredicate;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.fragment.Denoiser;
import org.wedgecutter.core.fragment.FragmentSums;
import org.wedgecutter.core.fragment.FrameTrace;
import org.wedgecutter.core.fragment.JobPlan;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.measure.InterplayTable;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.trace.SceneTracer;
import org.wedgecutter.core.trace.TraceJob;

/** Renders frames of a shot to a number of samples. One object renders one frame at a time. */
public final class FrameRenderer {
  private final LoadedShot shot;
  private final Settings settings;
  private volatile @Nullable FrameTrace running;
  private volatile boolean stopped;
  private volatile @Nullable FrameRenderer other;
  private boolean forFiles;

  /** The scene as the frame that was rendered last needs it: bands of a frame share it. */
  private Map<Integer, SceneTracer.Frame> scenesOf = new ConcurrentHashMap<>();

  private int placed = Integer.MIN_VALUE;

  /**
   * Settings of a render.
   *
   * @param width pixels in a line
   * @param height lines
   * @param samples samples per pixel
   * @param threads at least 1
   * @param separately whether every layer is traced on its own, to show that sharing changes
   *     nothing
   * @param region which pixels are rendered
   */
  public record Settings(
      int width, int height, int samples, int threads, boolean separately, Region region) {
    public Settings {
      if (!region.fits(width, height)) {
        throw new IllegalArgumentException(
            "the region does not lie in the frame of %d x %d pixels".formatted(width, height));
      }
    }

    /** Returns the same for a part of the frame alone. */
    public Settings within(Region part) {
      return new Settings(width, height, samples, threads, separately, part);
    }

    /** The plan's own size at a scale, rounded up to a pixel. */
    public static Settings of(
        LoadedShot shot, double scale, int samples, int threads, boolean separately) {
      var s = shot.plan().requireShot();
      int width = Math.max(1, (int) Math.round(s.width() * scale));
      int height = Math.max(1, (int) Math.round(s.height() * scale));
      return new Settings(
          width,
          height,
          samples > 0 ? samples : s.samples(),
          threads(threads),
          separately,
          Region.whole(width, height));
    }

    /**
     * Returns the number of threads: 0 means all processors, a negative number leaves that many
     * free.
     */
    public static int threads(int asked) {
      int processors = Runtime.getRuntime().availableProcessors();
      return asked > 0 ? asked : Math.max(1, processors + asked);
    }
  }

  public FrameRenderer(LoadedShot shot, Settings settings) {
    this.shot = shot;
    this.settings = settings;
  }

  /**
   * Returns this renderer, which besides pictures gives what files and their records hold: by depth
   * what the plan writes so, and the noise. The pictures have the same bits.
   */
  public FrameRenderer forFiles() {
    forFiles = true;
    return this;
  }

  /** Whether a layer is kept by depth: because it is written so, or joined so. */
  private boolean isDeep(ResolvedShot resolved, int layer) {
    String name = resolved.layers().get(layer).name();
    return shot.plan().join(name).filter(Join.DEEP::equals).isPresent()
        || (forFiles && resolved.asked().output().more(name).contains(Output.More.DEEP));
  }

  /** Stops a running render from another thread; it ends with a {@link CancellationException}. */
  public void stop() {
    stopped = true;
    FrameTrace trace = running;
    if (trace != null) {
      trace.stop();
    }
    FrameRenderer also = other;
    if (also != null) {
      also.stop();
    }
  }

  /** Whether it was told to stop. */
  public boolean isStopped() {
    return stopped;
  }

  /** Returns its settings. */
  public Settings settings() {
    return settings;
  }

  /**
   * Returns a renderer of another plan of the same shot, which stops when this one is stopped and
   * shares the scene that it has placed.
   */
  public FrameRenderer of(Plan plan, Settings with) {
    FrameRenderer next = new FrameRenderer(shot.withPlan(plan), with);
    next.scenesOf = scenesOf;
    next.placed = placed;
    next.forFiles = forFiles;
    other = next;
    if (stopped) {
      next.stop();
    }
    return next;
  }

  /**
   * Renders a frame.
   *
   * @param layers which layers are needed, by index
   * @param uncut whether the uncut frame is needed
   * @param progress receives the share that is done, 0 to 1
   */
  public RenderedFrame render(
      int frame, IntPredicate layers, boolean uncut, DoubleConsumer progress) {
    return render(frame, settings.region, layers, uncut, progress);
  }

  /**
   * Renders a part of a frame.
   *
   * @param region which pixels
   * @param layers which layers are needed, by index
   * @param uncut whether the uncut frame is needed
   * @param progress receives the share that is done, 0 to 1
   */
  public RenderedFrame render(
      int frame, Region region, IntPredicate layers, boolean uncut, DoubleConsumer progress) {
    return render(frame, region, layers, uncut, false, progress);
  }

  /**
   * Renders a frame and measures it: its pictures of the first half of the samples are kept, and
   * what the second half costs. The pictures have the same bits as those of {@link #render}.
   *
   * @param layers which layers are needed, by index
   * @param progress receives the share that is done, 0 to 1
   * @throws IllegalArgumentException if the settings ask for fewer than two samples, or for layers
   *     to be traced separately
   */
  public RenderedFrame measure(int frame, IntPredicate layers, DoubleConsumer progress) {
    if (settings.samples < 2 || settings.separately) {
      throw new IllegalArgumentException("two halves of samples of one trace are needed");
    }
    return render(frame, settings.region, layers, true, true, progress);
  }

  private RenderedFrame render(
      int frame,
      Region region,
      IntPredicate layers,
      boolean uncut,
      boolean halves,
      DoubleConsumer progress) {
    ResolvedShot resolved = shot.resolve(frame);
    int count = resolved.layers().size();
    List<IntPredicate> groups = new ArrayList<>();
    if (settings.separately) {
      for (int l = 0; l < count; l++) {
        int only = l;
        if (layers.test(l)) {
          groups.add(k -> k == only);
        }
      }
    } else {
      groups.add(layers);
    }
    Work work =
        new Work(
            frame,
            region,
            resolved,
            progress,
            groups.size() + (uncut && settings.separately ? 1 : 0),
            halves);
    @Nullable LayerPictures[] pictures = new LayerPictures[count];
    LayerPictures whole = null;
    for (IntPredicate group : groups) {
      boolean withUncut = uncut && !settings.separately;
      LayerPictures made =
          work.trace(
              new JobPlan(resolved, group, withUncut, c -> false, l -> isDeep(resolved, l)),
              group,
              withUncut);
      for (int l = 0; l < count; l++) {
        if (group.test(l)) {
          pictures[l] = made;
        }
      }
      whole = withUncut ? made : whole;
    }
    if (uncut && settings.separately) {
      IntPredicate none = k -> false;
      whole = work.trace(new JobPlan(resolved, none, true, c -> false), none, true);
    }
    return new RenderedFrame(
        pictures,
        whole,
        work.times,
        work.rays,
        work.bytes,
        work.invalidSamples,
        work.cutShort,
        work.interplay,
        work.half,
        work.noise,
        work.made);
  }

  /** The traces of one frame, one after another. */
  private final class Work {
    private final int frame;
    private final Region region;
    private final LayerPictures.Part part;
    private long cutShort;
    private final ResolvedShot resolved;
    private final Map<Integer, SceneTracer.Frame> scenes;
    private final DoubleConsumer progress;
    private final int groups;
    private final List<RenderedFrame.ClassTime> times = new ArrayList<>();
    private int groupsDone;
    private long rays;
    private long bytes;
    private long invalidSamples;
    private InterplayTable interplay = InterplayTable.NONE;
    private final boolean halves;
    private @Nullable HalfFrame half;

    /** By number of the layer, or their number for the uncut frame. */
    private final Map<Integer, PictureNoise> noise = new HashMap<>();

    private final Map<Integer, Picture> made = new HashMap<>();

    Work(
        int frame,
        Region region,
        ResolvedShot resolved,
        DoubleConsumer progress,
        int groups,
        boolean halves) {
      this.halves = halves;
      this.frame = frame;
      this.part = new LayerPictures.Part(region, settings.width, settings.height);
      // what is filtered looks at its neighbours
      this.region =
          resolved.asked().filters()
              ? region.grown(margin(resolved), settings.width, settings.height)
              : region;
      this.resolved = resolved;
      this.progress = progress;
      this.groups = Math.max(1, groups);
      if (placed != frame) {
        scenesOf = new ConcurrentHashMap<>();
        placed = frame;
      }
      scenes = scenesOf;
    }

    /** Pixels of the frame that make the filter's margin in every layer, whatever its size. */
    private int margin(ResolvedShot shot) {
      double least = 1;
      for (var layer : shot.layers()) {
        TraceSettings own = layer.transport().settings();
        least = Math.min(least, Math.min(own.across(), own.down()));
      }
      return (int) Math.ceil((Denoiser.MARGIN + 1) / least);
    }

    LayerPictures trace(JobPlan plan, IntPredicate chosen, boolean uncut) {
      List<FragmentSums> sums = new ArrayList<>();
      List<TraceJob> jobs = plan.jobs();
      for (TraceJob job : jobs) {
        TraceSettings own = job.transport().settings();
        sums.add(
            new FragmentSums(
                job,
                own.width(settings.width),
                own.height(settings.height),
                region.scaled(
                    own.width(settings.width),
                    own.height(settings.height),
                    settings.width,
                    settings.height)));
      }
      long placing = System.nanoTime();
      if (halves) {
        jobs.forEach(job -> scenes.computeIfAbsent(job.transport().frame(), shot::frame));
      }
      double placed = (System.nanoTime() - placing) / 1e9;
      List<RenderedFrame.ClassTime> first = List.of();
      Map<Integer, Picture> before = Map.of();
      // the filter changes noise, and its guides would be made of half the samples
      boolean noted = forFiles && settings.samples >= 2 && !resolved.asked().filters();
      boolean twice = halves || noted;
      if (twice) {
        first = pass(plan, chosen, uncut, sums, settings.samples / 2, 0, 0.5);
        LayerPictures some = pictures(plan, sums);
        half = halves ? HalfFrame.of(some, resolved, chosen, sums, placed) : null;
        before = noted ? each(some, chosen, uncut) : before;
      }
      double from = twice ? 0.5 : 0;
      List<RenderedFrame.ClassTime> last =
          pass(plan, chosen, uncut, sums, settings.samples, from, 1 - from);
      LayerPictures pictures = pictures(plan, sums);
      note(before, pictures);
      for (int j = 0; j < sums.size(); j++) {
        times.add(twice ? first.get(j).plus(last.get(j)) : last.get(j));
        bytes += sums.get(j).bytes();
        invalidSamples += sums.get(j).invalidSamples();
        cutShort += sums.get(j).cutShort();
        if (jobs.get(j).transport().equals(resolved.uncut())) {
          interplay = InterplayTable.of(sums.get(j));
        }
      }
      if (half != null) {
        half = half.measured(first, last, sums);
      }
      groupsDone++;
      return pictures;
    }

    private LayerPictures pictures(JobPlan plan, List<FragmentSums> sums) {
      return new LayerPictures(resolved, plan, sums, shot.stage(scenes::get, frame), part);
    }

    private Map<Integer, Picture> each(LayerPictures of, IntPredicate chosen, boolean uncut) {
      Map<Integer, Picture> out = new HashMap<>();
      int count = resolved.layers().size();
      for (int l = 0; l < count; l++) {
        if (chosen.test(l)) {
          out.put(l, of.layer(l));
        }
      }
      if (uncut) {
        out.put(count, of.uncut());
      }
      return out;
    }

    private void note(Map<Integer, Picture> before, LayerPictures after) {
      int count = resolved.layers().size();
      before.forEach((l, half) -> {
        boolean whole = l == count;
        Picture now = whole ? after.uncut() : after.layer(l);
        made.put(l, now);
        TraceSettings own =
            (whole ? resolved.uncut() : resolved.layers().get(l).transport()).settings();
        noise.put(
            l,
            PictureNoise.of(
                half, now, own.samples(settings.samples / 2), own.samples(settings.samples)));
      });
    }

    /** Traces all jobs up to a number of samples and returns what each cost. */
    private List<RenderedFrame.ClassTime> pass(
        JobPlan plan,
        IntPredicate chosen,
        boolean uncut,
        List<FragmentSums> sums,
        int samples,
        double from,
        double share) {
      List<RenderedFrame.ClassTime> out = new ArrayList<>();
      for (int j = 0; j < sums.size(); j++) {
        if (stopped) {
          throw new CancellationException("rendering was stopped");
        }
        FrameTrace trace =
            new FrameTrace(
                f -> scenes.computeIfAbsent(f, shot::frame), shot.camera(), List.of(sums.get(j)));
        running = trace;
        if (stopped) {
          // the stop came before there was anything to stop
          trace.stop();
        }
        double before = (groupsDone + from + share * j / sums.size()) / groups;
        double part = share / sums.size() / groups;
        long start = System.nanoTime();
        trace.run(samples, settings.threads, p -> progress.accept(before + part * p));
        out.add(
            new RenderedFrame.ClassTime(
                served(plan, chosen, uncut, j),
                (System.nanoTime() - start) / 1e9,
                trace.rays(),
                trace.cpuSeconds()));
        rays += trace.rays();
      }
      return out;
    }

    private List<String> served(JobPlan plan, IntPredicate chosen, boolean uncut, int job) {
      List<String> names = new ArrayList<>();
      for (int l = 0; l < resolved.layers().size(); l++) {
        if (!chosen.test(l)) {
          continue;
        }
        var layer = resolved.layers().get(l);
        if (plan.layer(l).job() == job
            || (layer.catcher() != null && plan.without(l).job() == job)) {
          names.add(layer.name());
        }
      }
      if (uncut && plan.uncut().job() == job) {
        names.add("uncut");
      }
      return names;
    }
  }
}

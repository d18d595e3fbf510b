package org.wedgecutter.core.survey;

import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.CancellationException;
import java.util.function.DoubleConsumer;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.io.DiskTime;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.rejoin.LayerSource;
import org.wedgecutter.core.rejoin.Rejoiner;
import org.wedgecutter.core.rejoin.TracedSource;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.HalfFrame;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.trace.SightLines;

/**
 * Looks at a shot quickly: sight lines at all its frames, and a small trace at some.
 *
 * <p>One object serves one thread; {@link #stop} may come from another.
 */
public final class Surveyor {
  /** Pixels of a frame's sight lines, about. */
  private static final int SIGHTS = 6000;

  /** A trace is repeated until it gains less than this, twice: code is being compiled. */
  private static final double SETTLED = 0.12;

  private static final int MOST_REPEATS = 60;

  /** The first traces are repeated for so many seconds: compilers need time, not rounds. */
  private static final double WARMING = 2.5;

  private static final int FILES = 5;

  /** How often a file is made at most, and for how many seconds, to time it. */
  private static final int MOST_WRITES = 12;

  /** How often once the code is compiled. */
  private static final int FEW_WRITES = 2;

  private static final double WRITING = 1;

  private static final Logger LOG = LoggerFactory.getLogger(Surveyor.class);
  private final LoadedShot shot;
  private final FrameRenderer.Settings settings;
  private final @Nullable SurveyStore store;
  private volatile @Nullable FrameRenderer running;
  private volatile boolean stopped;
  private boolean warm;

  /** Whether anything was traced for long in this program. */
  private static volatile boolean compiled;

  /**
   * @param settings of the small traces: an even number of samples, not separately
   */
  public Surveyor(LoadedShot shot, FrameRenderer.Settings settings) {
    this(shot, settings, null);
  }

  /**
   * @param settings of the small traces: an even number of samples, not separately
   * @param store keeps what they told, or null
   */
  public Surveyor(LoadedShot shot, FrameRenderer.Settings settings, @Nullable SurveyStore store) {
    this.shot = shot;
    this.settings = settings;
    this.store = store;
  }

  /** Returns a surveyor of another plan of the shot, which knows that the code is compiled. */
  public Surveyor of(LoadedShot other) {
    Surveyor next = new Surveyor(other, settings, store);
    next.warm = warm;
    return next;
  }

  /** Pixels of a quick trace, about. */
  private static final int PIXELS = 16_000;

  /** Samples per pixel of a quick trace. */
  private static final int SAMPLES = 8;

  /** Pixels in a line of a thumbnail, and its samples. */
  private static final int THUMBNAIL = 112;

  private static final int THUMBNAIL_SAMPLES = 12;

  /** Most frames whose sight lines are cast. */
  private static final int MOST_FRAMES = 97;

  /**
   * Returns the settings of a quick trace.
   *
   * @param threads 0 means all processors, a negative number leaves that many free
   */
  public static FrameRenderer.Settings quick(LoadedShot shot, int threads) {
    var s = shot.plan().requireShot();
    double scale = Math.min(1, Math.sqrt(PIXELS / ((double) s.width() * s.height())));
    return FrameRenderer.Settings.of(shot, scale, SAMPLES, threads, false);
  }

  /**
   * Surveys a shot: sight lines at all frames, or spread over them if there are many; quick traces
   * at those that matter.
   *
   * @param frames which frames, ascending
   * @param traces how many are traced at most
   * @param progress receives the share that is done, 0 to 1
   */
  public ShotSurvey survey(List<Integer> frames, int traces, DoubleConsumer progress) {
    SortedMap<Integer, SightLines> sights = sights(looked(frames), p -> progress.accept(0.3 * p));
    ShotSurvey survey =
        new ShotSurvey(
            shot, Parts.of(shot.plan(), shot.members()), sights, Collections.emptySortedMap());
    SortedMap<Integer, FrameSurvey> traced = new TreeMap<>();
    List<Integer> chosen = survey.toTrace(traces);
    for (int frame : chosen) {
      double before = 0.3 + 0.7 * traced.size() / chosen.size();
      traced.put(frame, look(frame, p -> progress.accept(before + 0.7 * p / chosen.size())));
    }
    return survey.with(traced);
  }

  /**
   * Returns the frames whose sight lines are cast: all, or some spread over them if there are many.
   */
  public static List<Integer> looked(List<Integer> frames) {
    return spread(frames, MOST_FRAMES);
  }

  private static List<Integer> spread(List<Integer> frames, int most) {
    if (frames.size() <= most) {
      return frames;
    }
    TreeSet<Integer> out = new TreeSet<>();
    for (int k = 0; k < most; k++) {
      out.add(frames.get((int) ((long) k * (frames.size() - 1) / (most - 1))));
    }
    return List.copyOf(out);
  }

  /** Returns the settings of its traces. */
  public FrameRenderer.Settings settings() {
    return settings;
  }

  /** Stops what runs, from another thread; it ends with a {@link CancellationException}. */
  public void stop() {
    stopped = true;
    FrameRenderer renderer = running;
    if (renderer != null) {
      renderer.stop();
    }
  }

  private void goOn() {
    if (stopped) {
      throw new CancellationException("the survey was stopped");
    }
  }

  /** Returns the sight lines of frames; frames that are the same by the digest share theirs. */
  public SortedMap<Integer, SightLines> sights(List<Integer> frames, DoubleConsumer progress) {
    var s = shot.plan().requireShot();
    double scale = Math.sqrt(SIGHTS / ((double) s.width() * s.height()));
    int width = Math.max(1, (int) Math.round(s.width() * scale));
    int height = Math.max(1, (int) Math.round(s.height() * scale));
    SortedMap<Integer, SightLines> out = new TreeMap<>();
    Map<TransportClass, SightLines> known = new HashMap<>();
    int done = 0;
    for (int frame : frames) {
      goOn();
      TransportClass key = shot.resolve(frame).uncut();
      out.put(
          frame,
          known.computeIfAbsent(key, k -> shot.frame(frame).sights(shot.camera(), width, height)));
      progress.accept((double) ++done / frames.size());
    }
    return out;
  }

  /** Traces one frame quickly, unless what that told is kept. */
  public FrameSurvey look(int frame, DoubleConsumer progress) {
    goOn();
    if (store == null) {
      return made(frame, progress);
    }
    Optional<FrameSurvey> kept = store.read(shot, settings, frame);
    if (kept.isPresent()) {
      return kept.get();
    }
    FrameSurvey made = made(frame, progress);
    store.write(shot, settings, made);
    return made;
  }

  private FrameSurvey made(int frame, DoubleConsumer progress) {
    Plan plan = shot.plan();
    ResolvedShot resolved = shot.resolve(frame);
    boolean[] rendered = new boolean[plan.layers().size()];
    for (int l = 0; l < rendered.length; l++) {
      LayerDef layer = plan.layers().get(l);
      rendered[l] = layer.render() || plan.join(layer.name()).isPresent();
    }
    RenderedFrame traced = trace(frame, rendered, progress);
    double before = perSample(traced);
    int settled = 0;
    long start = System.nanoTime();
    for (int k = 0;
        !warm
            && k < MOST_REPEATS
            && (settled < 2 || (!compiled && (System.nanoTime() - start) / 1e9 < WARMING));
        k++) {
      traced = trace(frame, rendered, progress);
      double now = perSample(traced);
      settled = now > before * (1 - SETTLED) ? settled + 1 : 0;
      before = now;
    }
    compiled = true;
    FrameSurvey told = told(frame, resolved, rendered, traced);
    warm = true;
    return told;
  }

  /** Traces the uncut frame as small as it is shown beside others. */
  public Picture thumbnail(int frame) {
    var s = shot.plan().requireShot();
    double scale = Math.min(1, (double) THUMBNAIL / s.width());
    FrameRenderer renderer =
        new FrameRenderer(
            shot,
            FrameRenderer.Settings.of(shot, scale, THUMBNAIL_SAMPLES, settings.threads(), false));
    running = renderer;
    goOn();
    return renderer.render(frame, l -> false, true, p -> {}).uncut();
  }

  private RenderedFrame trace(int frame, boolean[] layers, DoubleConsumer progress) {
    FrameRenderer renderer = new FrameRenderer(shot, settings);
    running = renderer;
    goOn();
    return renderer.measure(frame, l -> layers[l], progress);
  }

  private static double perSample(RenderedFrame traced) {
    double cpu = 0;
    double samples = 0;
    for (HalfFrame.Cost c : traced.half().costs()) {
      cpu += c.cpuSeconds();
      samples += (double) c.pixels() * c.samples();
    }
    return cpu / samples;
  }

  private FrameSurvey told(
      int frame, ResolvedShot resolved, boolean[] rendered, RenderedFrame traced) {
    Plan plan = shot.plan();
    HalfFrame half = traced.half();
    Picture uncut = traced.uncut();
    List<Noise> noise = new ArrayList<>();
    int first = settings.samples() / 2;
    for (int l = 0; l < rendered.length; l++) {
      TraceSettings own = resolved.layers().get(l).transport().settings();
      noise.add(
          rendered[l]
              ? Noise.of(
                  like(half.layer(l), uncut),
                  like(traced.layer(l), uncut),
                  uncut,
                  own.samples(first),
                  own.samples(settings.samples()))
              : Noise.NONE);
    }
    Noise rejoined =
        Noise.of(
            rejoin(plan, uncut, new TracedSource(plan, traced.with(half::layer))),
            rejoin(plan, uncut, new TracedSource(plan, traced)),
            uncut,
            first,
            settings.samples());
    double[] written = new double[rendered.length];
    for (int l = 0; l < written.length; l++) {
      int layer = l;
      written[l] = rendered[l] ? written(traced.layer(l), () -> traced.passes(layer)) : 0;
    }
    return new FrameSurvey(
        frame,
        settings.width(),
        settings.height(),
        settings.samples(),
        settings.threads(),
        half.placedSeconds(),
        traced.coverage(),
        traced.interplay(),
        costs(plan, half),
        noise,
        Noise.of(half.uncut(), uncut, uncut, first, settings.samples()),
        rejoined,
        written,
        written(uncut, traced::uncutPasses),
        file());
  }

  /** Puts small files on the disk; returns the median time of one, seconds; 0 if none can be. */
  private static double file() {
    try {
      return DiskTime.ofFile(FILES);
    } catch (IOException e) {
      // a full disk is no reason not to read the shot; such times are small
      LOG.warn("files cannot be timed: {}", e.toString());
      return 0;
    }
  }

  private static Picture like(Picture layer, Picture frame) {
    return layer.resized(frame.width(), frame.height());
  }

  private static Picture rejoin(Plan plan, Picture like, LayerSource<RuntimeException> layers) {
    return Rejoiner.rejoin(plan.recipe(), like.width(), like.height(), layers).picture();
  }

  private List<FrameSurvey.Cost> costs(Plan plan, HalfFrame half) {
    List<FrameSurvey.Cost> out = new ArrayList<>();
    double pixels = (double) settings.width() * settings.height();
    for (HalfFrame.Cost c : half.costs()) {
      List<Integer> layers =
          IntStream.range(0, plan.layers().size())
              .filter(l -> c.layers().contains(plan.layers().get(l).name()))
              .boxed()
              .toList();
      double sum = (double) c.pixels() * c.samples();
      out.add(
          new FrameSurvey.Cost(
              layers,
              c.layers().size() > layers.size(),
              c.pixels() / pixels,
              c.samples() / (settings.samples() / 2.0),
              c.cpuSeconds() / sum,
              c.seconds() / sum));
    }
    return out;
  }

  /** Makes a layer's passes and a file of them; seconds for a pixel. */
  private double written(Picture picture, Supplier<List<PassPicture>> passes) {
    double best = Double.POSITIVE_INFINITY;
    double all = 0;
    // the code is compiled while it runs, so the least of several counts
    for (int k = 0; k < (warm ? FEW_WRITES : MOST_WRITES) && all < WRITING; k++) {
      goOn();
      long start = System.nanoTime();
      try {
        ExrFrames.write(
            OutputStream.nullOutputStream(), picture, passes.get(), shot.plan().output());
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
      double now = (System.nanoTime() - start) / 1e9;
      best = Math.min(best, now);
      all += now;
    }
    return best / ((double) picture.width() * picture.height());
  }
}

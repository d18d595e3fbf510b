package org.wedgecutter.app.live;

import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.concurrent.CancellationException;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.propose.StillBut;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.survey.FrameSurvey;
import org.wedgecutter.core.survey.Matter;
import org.wedgecutter.core.survey.Parts;
import org.wedgecutter.core.survey.ShotSurvey;
import org.wedgecutter.core.survey.SurveyStore;
import org.wedgecutter.core.survey.Surveyor;
import org.wedgecutter.core.survey.TimeEstimate;
import org.wedgecutter.core.survey.WhatIf;
import org.wedgecutter.core.trace.SightLines;

/**
 * Surveys the open shot in the background, on one thread: sight lines of all frames first, then
 * quick traces of the frames that matter.
 *
 * <p>Sight lines, coverage and interplay belong to the uncut frame, so they stay when layers are
 * edited and are grouped again; what layers cost is traced again after an edit. Nothing runs while
 * nobody looks. Results are handed on from its thread.
 */
public final class LiveSurvey implements AutoCloseable {
  private static final int TRACES = 4;

  /** Most small pictures. */
  private static final int THUMBNAILS = 24;

  private final Consumer<Result> listener;
  private final Consumer<Throwable> failed;
  private @Nullable LoadedShot wanted;
  private boolean active;
  private boolean closed;
  private long serial;
  private @Nullable Runnable stop;

  // what is known of the shot, on the survey's thread alone
  private @Nullable LoadedShot of;
  private SortedMap<Integer, SightLines> sights = Collections.emptySortedMap();
  private final SortedMap<Integer, FrameSurvey> light = new TreeMap<>();
  private final SortedMap<Integer, FrameSurvey> costs = new TreeMap<>();
  private final SortedMap<Integer, Picture> thumbnails = new TreeMap<>();
  private final Map<Integer, StillBut.Loss> losses = new HashMap<>();
  private List<WhatIf> whatIf = List.of();
  private @Nullable SurveyStore store;
  private @Nullable Surveyor surveyor;

  /**
   * What is known so far.
   *
   * @param shot the shot, with the plan that it was surveyed for
   * @param survey by the plan's parts
   * @param costs quick traces of this plan, by frame: what its layers cost
   * @param held which frames of its layers are the same
   * @param whatIf what changes of the shot's settings would make of its time
   * @param stillBut layers that are still but for something; empty until times are known
   * @param losses by layer, what holding such a layer would cost, by a trace of two frames
   * @param thumbnails small pictures of frames that matter
   * @param doing what goes on, in words; empty when it is done
   */
  public record Result(
      LoadedShot shot,
      ShotSurvey survey,
      SortedMap<Integer, FrameSurvey> costs,
      HeldFrames held,
      List<WhatIf> whatIf,
      List<StillBut> stillBut,
      Map<Integer, StillBut.Loss> losses,
      SortedMap<Integer, Picture> thumbnails,
      String doing) {
    /** Returns the estimate of time at the plan's size and samples; only if there are costs. */
    public TimeEstimate estimate() {
      var s = shot.plan().requireShot();
      return new TimeEstimate(
          shot,
          costs,
          held,
          s.width(),
          s.height(),
          s.samples(),
          Math.max(1, Runtime.getRuntime().availableProcessors()));
    }

    private Result withStillBut() {
      return costs.isEmpty()
          ? this
          : new Result(
              shot,
              survey,
              costs,
              held,
              whatIf,
              StillBut.of(shot, survey, held, estimate()),
              losses,
              thumbnails,
              doing);
    }
  }

  /**
   * @param listener is given results; called on the survey's thread
   * @param failed is given errors
   */
  public LiveSurvey(Consumer<Result> listener, Consumer<Throwable> failed) {
    this.listener = listener;
    this.failed = failed;
    Thread.ofPlatform().name("survey").daemon().start(this::loop);
  }

  /** Requests a plan; work on an earlier one is stopped. */
  public synchronized void show(LoadedShot shot) {
    wanted = shot;
    next();
  }

  /** Goes on while anybody looks, and rests otherwise. */
  public synchronized void setActive(boolean looks) {
    if (active != looks) {
      active = looks;
      next();
    }
  }

  private void next() {
    serial++;
    if (stop != null) {
      stop.run();
    }
    notifyAll();
  }

  @Override
  public synchronized void close() {
    closed = true;
    next();
  }

  private void loop() {
    long served = -1;
    while (true) {
      @Nullable LoadedShot shot;
      long own;
      synchronized (this) {
        while (!closed && (served == serial || !active || wanted == null)) {
          try {
            wait();
          } catch (InterruptedException e) {
            return;
          }
        }
        if (closed) {
          return;
        }
        shot = wanted;
        own = serial;
        served = serial;
      }
      try {
        if (shot != null) {
          survey(shot, own);
        }
      } catch (CancellationException e) {
        // another request came; the loop takes it up
        Thread.onSpinWait();
      } catch (Throwable e) {
        failed.accept(e);
      }
    }
  }

  private void survey(LoadedShot shot, long own) {
    LoadedShot before = of;
    boolean sameUncut = before != null && isSameUncut(before, shot);
    boolean samePlan = sameUncut && before != null && cut(before.plan()).equals(cut(shot.plan()));
    of = shot;
    if (before == null
        || !before.tracer().equals(shot.tracer())
        || !before.file().equals(shot.file())
        || !before.pictures().equals(shot.pictures())) {
      store = new SurveyStore(shot);
      surveyor = null;
    }
    if (!sameUncut) {
      sights = Collections.emptySortedMap();
      light.clear();
      thumbnails.clear();
    }
    if (!samePlan) {
      costs.clear();
      losses.clear();
      whatIf = List.of();
    }
    List<Integer> frames = shot.plan().requireShot().frames().frames();
    HeldFrames held = HeldFrames.of(shot.plan(), shot.members(), Surveyor.looked(frames));
    if (sights.isEmpty()) {
      sights = surveyor(shot, own).sights(Surveyor.looked(frames), p -> {});
    }
    tell(shot, held, "tracing");
    for (int frame : grouped(shot).toTrace(TRACES)) {
      if (!costs.containsKey(frame)) {
        FrameSurvey made = surveyor(shot, own).look(frame, p -> {});
        costs.put(frame, made);
        light.put(frame, made);
        tell(shot, held, "tracing");
      }
    }
    picture(shot, held, own);
    if (whatIf.isEmpty() && !costs.isEmpty()) {
      FrameSurvey one = Objects.requireNonNull(costs.get(costs.lastKey()));
      whatIf = WhatIf.of(shot, one, surveyor(shot, own));
    }
    confirm(shot, held, own);
    tell(shot, held, "");
  }

  /** Makes small pictures of the frames that matter most. */
  private void picture(LoadedShot shot, HeldFrames held, long own) {
    List<Matter> most = new ArrayList<>(grouped(shot).matters());
    most.sort(Comparator.comparingInt(m -> -m.weight()));
    for (Matter m : most.subList(0, Math.min(THUMBNAILS, most.size()))) {
      if (!thumbnails.containsKey(m.frame())) {
        thumbnails.put(m.frame(), surveyor(shot, own).thumbnail(m.frame()));
        tell(shot, held, "drawing");
      }
    }
  }

  /** Traces what holding layers would cost that are still but for something. */
  private void confirm(LoadedShot shot, HeldFrames held, long own) {
    int first = held.frames().getFirst();
    int last = costs.isEmpty() ? first : costs.lastKey();
    for (StillBut but : last == first ? List.<StillBut>of() : told(shot, held, "").stillBut()) {
      if (!losses.containsKey(but.layer())) {
        FrameRenderer renderer = new FrameRenderer(shot, Surveyor.quick(shot, 1));
        stoppedBy(renderer::stop, own);
        losses.put(but.layer(), but.loss(renderer, first, last));
        tell(shot, held, "comparing");
      }
    }
  }

  /** The part of a plan that decides what its layers cost. */
  private static Plan cut(Plan plan) {
    return plan.withShot(plan.requireShot().asTraced());
  }

  private static boolean isSameUncut(LoadedShot a, LoadedShot b) {
    return a.tracer().equals(b.tracer())
        && a.plan().requireShot().asTraced().equals(b.plan().requireShot().asTraced());
  }

  private ShotSurvey grouped(LoadedShot shot) {
    return new ShotSurvey(shot, Parts.of(shot.plan(), shot.members()), sights, light);
  }

  private void tell(LoadedShot shot, HeldFrames held, String doing) {
    listener.accept(told(shot, held, doing));
  }

  private Result told(LoadedShot shot, HeldFrames held, String doing) {
    return new Result(
            shot,
            grouped(shot),
            new TreeMap<>(costs),
            held,
            whatIf,
            List.of(),
            Map.copyOf(losses),
            new TreeMap<>(thumbnails),
            doing)
        .withStillBut();
  }

  private Surveyor surveyor(LoadedShot shot, long own) {
    Surveyor known = surveyor;
    FrameRenderer.Settings quick = Surveyor.quick(shot, 1);
    Surveyor made =
        known != null && known.settings().equals(quick)
            ? known.of(shot)
            : new Surveyor(shot, quick, store);
    surveyor = made;
    stoppedBy(made::stop, own);
    return made;
  }

  /** Notes what stops the work that begins, unless another request came. */
  private synchronized void stoppedBy(Runnable next, long own) {
    if (closed || own != serial) {
      throw new CancellationException();
    }
    stop = next;
  }
}

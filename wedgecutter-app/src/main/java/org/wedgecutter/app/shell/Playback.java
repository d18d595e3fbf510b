package org.wedgecutter.app.shell;

import java.util.List;
import java.util.function.IntConsumer;
import java.util.function.Supplier;
import javafx.animation.AnimationTimer;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.viewer.PicturePipe;
import org.wedgecutter.core.plan.Plan;

/**
 * Plays the shot's frames in a loop, at its rate, from pictures that are kept. Meanwhile frames are
 * traced of which there is none, then those whose pictures are small or have few samples, until it
 * stops. A frame without a picture leaves that of the frame before on the screen, with a mark.
 */
final class Playback extends AnimationTimer {
  private final PicturePipe pipe;
  private final Timeline timeline;
  private final Supplier<@Nullable Session> open;
  private final IntConsumer land;
  private @Nullable Session session;
  private @Nullable Plan plan;
  private List<Integer> frames = List.of();
  private int first;
  private int at;
  private long begun;
  private int traced;
  private long looked;

  /** How often it is looked which frame is traced next, nanoseconds: not at every pulse. */
  private static final long LOOK_EVERY = 100_000_000L;

  /**
   * @param open returns the open shot, or null
   * @param land goes to a frame, where playback stops
   */
  Playback(
      PicturePipe pipe, Timeline timeline, Supplier<@Nullable Session> open, IntConsumer land) {
    this.pipe = pipe;
    this.timeline = timeline;
    this.open = open;
    this.land = land;
  }

  boolean isPlaying() {
    return session != null;
  }

  /** Begins at the current frame, or stops where it is. */
  void toggle() {
    if (isPlaying()) {
      halt(true);
      return;
    }
    Session s = open.get();
    if (s != null && s.plan().requireShot().frames().frames().size() > 1) {
      session = s;
      plan = s.plan();
      frames = s.plan().requireShot().frames().frames();
      first = Math.max(0, frames.indexOf(s.frame()));
      at = first;
      begun = 0;
      traced = s.frame();
      timeline.setPlaying(true);
      pipe.play(true);
      start();
    }
  }

  /**
   * Stops.
   *
   * @param here whether the frame that is shown becomes the current one
   */
  void halt(boolean here) {
    if (!isPlaying()) {
      return;
    }
    stop();
    session = null;
    plan = null;
    timeline.setPlaying(false);
    pipe.play(false);
    if (here) {
      land.accept(frames.get(at));
    }
  }

  @Override
  public void handle(long now) {
    Session s = session;
    if (s == null || !s.equals(open.get()) || !s.plan().equals(plan)) {
      // another shot, or an edit: what is kept is of what was
      halt(false);
      return;
    }
    if (begun == 0) {
      begun = now;
    }
    double seconds = (now - begun) / 1e9;
    long passed = (long) Math.floor(seconds * s.plan().requireShot().fps());
    int next = (int) ((first + passed) % frames.size());
    if (next != at) {
      at = next;
      int frame = frames.get(at);
      timeline.setFrame(frame);
      timeline.setMissing(!pipe.showKept(s.plan(), frame));
    }
    if (now - looked > LOOK_EVERY) {
      looked = now;
      fill(s);
    }
  }

  /**
   * Goes on to the next of the frames whose pictures are the worst, once the one that is traced is
   * better than they are.
   */
  private void fill(Session s) {
    int worst = Integer.MAX_VALUE;
    for (int f : frames) {
      worst = Math.min(worst, pipe.quality(s.plan(), f));
    }
    boolean isComing = pipe.quality(s.plan(), traced) <= worst;
    // once all are of the shot's size, better ones take the place of others
    boolean needsRoom = worst < 2;
    if (worst == Integer.MAX_VALUE || isComing || (needsRoom && !pipe.hasRoom())) {
      return;
    }
    for (int k = 0; k < frames.size(); k++) {
      int f = frames.get((first + k) % frames.size());
      if (pipe.quality(s.plan(), f) == worst) {
        traced = f;
        pipe.trace(s.shot(), f);
        return;
      }
    }
  }
}

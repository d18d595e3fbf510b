package org.wedgecutter.app.shell;

import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.app.viewer.CameraDrag;
import org.wedgecutter.core.plan.PlacedCamera;

/** Moves the plan's own camera by drags in the picture; a whole drag is one edit. */
final class CameraMoves implements CameraDrag {
  private static final String NAME = "camera of the shot";
  private static final double DEGREES = 120;
  private static final long PAUSE = 60_000_000L;
  private static final long WHEEL_PAUSE = 600_000_000L;

  private final Bench bench;
  private @Nullable PlacedCamera base;
  private @Nullable PlacedCamera next;

  /** All moves of one drag, or turns of the wheel without a pause, are one step of the history. */
  private Object gesture = new Object();

  private long turned;
  private long last;

  CameraMoves(Bench bench) {
    this.bench = bench;
  }

  private @Nullable PlacedCamera placed() {
    Session s = bench.session();
    return s == null ? null : s.plan().requireShot().placed();
  }

  @Override
  public boolean begins() {
    base = placed();
    gesture = new Object();
    return base != null;
  }

  @Override
  public void dragged(double right, double down, boolean move) {
    PlacedCamera from = base;
    if (from != null) {
      next = move ? from.moved(-right, down) : from.turned(-DEGREES * right, DEGREES * down);
      // a picture needs a moment: what comes in between waits
      if (System.nanoTime() - last > PAUSE) {
        last = System.nanoTime();
        ends();
      }
    }
  }

  @Override
  public void ends() {
    PlacedCamera waiting = next;
    next = null;
    if (waiting != null) {
      set(waiting);
    }
  }

  @Override
  public void nearer(double steps) {
    PlacedCamera from = placed();
    if (from == null) {
      return;
    }
    long now = System.nanoTime();
    if (now - turned > WHEEL_PAUSE) {
      gesture = new Object();
    }
    turned = now;
    set(from.at(Math.pow(0.9, steps)));
  }

  private void set(PlacedCamera camera) {
    bench.adjust(NAME, gesture, p -> p.withShot(p.requireShot().with(d -> d.placed = camera)));
  }
}

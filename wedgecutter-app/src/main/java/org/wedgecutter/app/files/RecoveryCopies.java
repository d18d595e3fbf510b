package org.wedgecutter.app.files;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Optional;
import java.util.concurrent.ScheduledFuture;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Banner;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;

/**
 * Keeps a copy of unsaved changes a moment after each edit, and offers it when a plan is opened.
 */
final class RecoveryCopies {
  private static final long KEEP_AFTER = 700;

  private final Bench bench;
  private final FileWork work;
  private final Recovery recovery;
  private @Nullable ScheduledFuture<?> keeping;

  /** What is to be kept and is not yet. */
  private volatile @Nullable LoadedShot waiting;

  RecoveryCopies(Bench bench, FileWork work, Path stateFolder) {
    this.bench = bench;
    this.work = work;
    recovery = new Recovery(stateFolder);
  }

  /** Keeps a copy a moment after an edit. */
  void edited() {
    Session s = bench.session();
    if (s == null) {
      return;
    }
    if (keeping != null) {
      keeping.cancel(false);
    }
    if (s.history().names().size() == 1) {
      // nothing was edited yet: a copy from before is still to be offered
      return;
    }
    LoadedShot shot = s.shot();
    boolean dirty = s.history().dirty();
    waiting = dirty ? shot : null;
    keeping =
        work.later(
            KEEP_AFTER,
            "keeping a copy of unsaved changes",
            () -> {
              if (dirty) {
                keep(shot);
              } else {
                recovery.forget(shot.file());
              }
            });
  }

  private void keep(LoadedShot shot) throws IOException {
    recovery.keep(shot.file(), shot.plan());
    if (shot.equals(waiting)) {
      waiting = null;
    }
  }

  /** Keeps at once what waits to be kept: the window closes. */
  void flush() {
    if (keeping != null) {
      keeping.cancel(false);
    }
    LoadedShot shot = waiting;
    if (shot != null) {
      work.run("keeping a copy of unsaved changes", () -> keep(shot));
    }
  }

  /** Keeps at once what waits to be kept, on this thread: the program is being ended. */
  void keepNow() throws IOException {
    LoadedShot shot = waiting;
    if (shot != null) {
      keep(shot);
    }
  }

  /** Lets go what waits to be kept: the user does not want it. */
  void drop() {
    waiting = null;
    if (keeping != null) {
      keeping.cancel(false);
    }
  }

  /** Returns the copy of a plan, if it differs from the file; on the file thread. */
  Optional<Plan> find(LoadedShot read) throws IOException {
    return recovery.find(read.file(), read.plan());
  }

  /** Deletes the copy of a plan; on the file thread. */
  void forget(Path file) throws IOException {
    recovery.forget(file);
  }

  /** Offers a copy that was found. */
  void offer(Path file, Plan kept) {
    bench.offer(
        "Unsaved changes to %s found.".formatted(file.getFileName()),
        new Banner.Choice(
            "recover", "Restore", () -> bench.edit("restore unsaved changes", p -> kept)),
        new Banner.Choice(
            "forget",
            "Discard",
            () -> work.run("discarding unsaved changes", () -> recovery.forget(file))));
  }
}

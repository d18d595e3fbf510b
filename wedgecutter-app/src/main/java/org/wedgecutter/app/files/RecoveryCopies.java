package org.wedgecutter.app.files;

import java.io.IOException;
import java.nio.file.Path;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.ScheduledFuture;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Banner;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Plan;

/**
 * Keeps a copy of unsaved changes a moment after each edit, and offers it when a plan is opened.
 */
final class RecoveryCopies {
  private static final Logger LOG = LoggerFactory.getLogger(RecoveryCopies.class);
  private static final DateTimeFormatter WHEN =
      DateTimeFormatter.ofPattern("d MMMM, HH:mm:ss", Locale.ENGLISH);
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
            "keep a copy of unsaved changes",
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
      work.run("keep a copy of unsaved changes", () -> keep(shot));
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

  /**
   * Returns the copies of a plan that differ from its file, the newest last; on the file thread. A
   * copy that cannot be read is reported and kept: the plan opens without it.
   *
   * @param trouble takes a message for each copy that cannot be read
   */
  List<Recovery.Found> find(LoadedShot read, Consumer<String> trouble) {
    List<Recovery.Found> out = recovery.find(read.file(), read.plan(), trouble);
    if (!out.isEmpty()) {
      try {
        // the next edit keeps a copy too, and must not overwrite one that is on offer
        recovery.setAside(read.file());
      } catch (IOException e) {
        LOG.warn("set a copy of unsaved changes aside", e);
      }
    }
    return out;
  }

  /** Deletes the copy of a plan; on the file thread. */
  void forget(Path file) throws IOException {
    recovery.forget(file);
  }

  /** Offers a copy that was found. */
  void offer(Path file, Recovery.Found found) {
    Plan kept = found.plan();
    String at = WHEN.format(found.at().atZone(ZoneId.systemDefault()));
    Session s = bench.session();
    bench.offer(
        "Unsaved changes to %s found, kept on %s.".formatted(file.getFileName(), at),
        new Banner.Choice(
            "recover",
            "Restore",
            () -> {
              if (s != null && s.equals(bench.session())) {
                bench.edit("restore unsaved changes", p -> kept);
                work.run(
                    "keep the restored changes",
                    () -> {
                      recovery.keep(file, kept);
                      recovery.forgetAside(file, kept);
                    });
              }
            }),
        new Banner.Choice(
            "forget",
            "Discard",
            () -> work.run("discard unsaved changes", () -> recovery.forgetAside(file, kept))));
  }
}

package org.wedgecutter.app.shell;

import java.util.ArrayList;
import java.util.List;
import org.wedgecutter.app.files.PlanFiles;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Banner;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.app.station.Station;

/** Asks before the window closes with unsaved changes, or while a station is at work. */
final class Closing {
  private final Bench bench;
  private final List<Station> stations;
  private final PlanFiles plans;

  Closing(Bench bench, List<Station> stations, PlanFiles plans) {
    this.bench = bench;
    this.stations = List.copyOf(stations);
    this.plans = plans;
  }

  /**
   * Whether the window may close at once; if not, the user is asked.
   *
   * @param close closes it
   */
  boolean mayClose(Runnable close) {
    Session s = bench.session();
    boolean dirty = s != null && s.history().dirty();
    String work =
        stations.stream().map(Station::atWork).filter(t -> !t.isEmpty()).findFirst().orElse("");
    if (!dirty && work.isEmpty()) {
      return true;
    }
    List<Banner.Choice> choices = new ArrayList<>();
    if (dirty) {
      choices.add(new Banner.Choice("close-save", "Save and close", () -> plans.save(close)));
      choices.add(
          new Banner.Choice("close-discard", "Close without saving", () -> plans.discard(close)));
    } else {
      choices.add(new Banner.Choice("close-stop", "Stop and close", close));
    }
    choices.add(new Banner.Choice("banner-close", "Keep working", () -> {}));
    String unsaved = s != null && dirty ? s.shot().name() + " has unsaved changes. " : "";
    bench.offer((unsaved + work).strip(), choices.toArray(Banner.Choice[]::new));
    return false;
  }
}

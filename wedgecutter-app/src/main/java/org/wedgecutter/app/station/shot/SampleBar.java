package org.wedgecutter.app.station.shot;

import java.util.Locale;
import java.util.function.Consumer;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.FlowPane;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Entry;
import org.wedgecutter.core.survey.SampleSpread;
import org.wedgecutter.core.survey.Times;

/**
 * The target of the samples: a noise of the rejoined frame, or a time for the shot. Entering one
 * updates the other; a button writes the samples into the plan.
 */
final class SampleBar extends FlowPane {
  private static final double LEAST_NOISE = 0.01;
  private static final double MOST_NOISE = 100;

  private final Label trouble = Entry.trouble("aim-trouble");
  private final Button use = new Button("Use these samples");
  private @Nullable Aim aim;
  private Consumer<Aim> onAim = a -> {};

  /**
   * An aim.
   *
   * @param byTime whether for a time; else for a noise
   * @param value seconds for the shot, or noise as a share of the light
   */
  record Aim(boolean byTime, double value) {
    /** Returns the samples that reach it. */
    SampleSpread.Spread of(SampleSpread spread) {
      return byTime ? spread.forSeconds(value) : spread.forNoise(value);
    }
  }

  SampleBar() {
    super(6, 4);
    setId("sample-bar");
    setAlignment(Pos.CENTER_LEFT);
    use.setId("use-samples");
    use.setMinWidth(USE_PREF_SIZE);
    use.setTooltip(
        new Tooltip("set the samples of each layer; layers that share a trace share its samples"));
  }

  /** Returns what was asked for, or null: the time that the plan takes as it is. */
  @Nullable Aim aim() {
    return aim;
  }

  void setOnAim(Consumer<Aim> action) {
    onAim = action;
  }

  void setOnUse(Runnable action) {
    use.setOnAction(e -> action.run());
  }

  /**
   * Shows what the aim takes; null if noise is not known.
   *
   * @param changes whether the plan has other samples
   */
  void show(SampleSpread.@Nullable Spread spread, boolean changes) {
    use.setDisable(spread == null || !changes);
    if (isTyping()) {
      return;
    }
    if (spread == null) {
      getChildren().setAll(DetailPanel.dim("The noise is not known yet."));
      return;
    }
    Entry noise =
        Entry.number(
            "aim-noise",
            Double.parseDouble(String.format(Locale.ROOT, "%.2f", spread.noise() * 100)),
            LEAST_NOISE,
            MOST_NOISE,
            "noise of the rejoined frame that is aimed at, in % of its light",
            trouble,
            n -> take(new Aim(false, n / 100)));
    Entry time =
        new Entry(
            "aim-time",
            Times.words(spread.seconds()),
            5,
            "time for all layers of the shot, for example 40 min or 3.5 h",
            trouble,
            t -> take(new Aim(true, Times.parse(t))));
    getChildren()
        .setAll(
            DetailPanel.dim("best samples for"),
            noise,
            DetailPanel.dim("% noise in"),
            time,
            use,
            trouble);
  }

  private boolean isTyping() {
    return getChildren().stream().anyMatch(n -> n instanceof Entry && n.isFocused());
  }

  private void take(Aim next) {
    aim = next;
    // the entry is accepted, so the fields can be rebuilt
    use.requestFocus();
    onAim.accept(next);
  }
}

package org.wedgecutter.core.survey;

import java.util.List;

/**
 * A frame that matters, and why.
 *
 * @param frame the frame
 * @param reasons at least one
 */
public record Matter(int frame, List<Reason> reasons) {
  public Matter {
    reasons = List.copyOf(reasons);
  }

  /** What happens at a frame. */
  public enum Event {
    APPEARS("%s appears", 2),
    GOES("%s is about to go", 2),
    MOST_SEEN("%s covers most", 1),
    FASTEST("%s moves fastest", 1),
    CROSSING("%s crosses %s", 3),
    INTERPLAY("parts affect one another's light most", 3);

    private final String text;
    private final int weight;

    Event(String text, int weight) {
      this.text = text;
      this.weight = weight;
    }
  }

  /**
   * One reason.
   *
   * @param event what happens
   * @param part the part that it happens to; empty for the whole frame
   * @param other the other part; empty if there is none
   */
  public record Reason(Event event, String part, String other) {
    /** Returns it in words. */
    public String text() {
      return event.text.formatted(part, other);
    }
  }

  /** Returns how much the frame matters, to choose among many. */
  public int weight() {
    return reasons.stream().mapToInt(r -> r.event.weight).sum();
  }

  /** Returns its reasons in words, in one line. */
  public String text() {
    return String.join("; ", reasons.stream().map(Reason::text).toList());
  }
}

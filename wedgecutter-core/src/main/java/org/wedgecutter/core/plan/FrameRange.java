package org.wedgecutter.core.plan;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Frames as they are written: {@code 1-24x2,30} means every second from 1 to 24, and 30.
 *
 * @param text as written
 * @param frames ascending, without repeats, at least one
 */
public record FrameRange(String text, List<Integer> frames) {
  private static final Pattern PART = Pattern.compile("(\\d{1,6})(?:-(\\d{1,6})(?:x(\\d{1,6}))?)?");
  private static final int MAX_FRAMES = 100_000;

  public FrameRange {
    frames = List.copyOf(frames);
  }

  /**
   * Reads a range.
   *
   * @throws IllegalArgumentException with what was expected, if it is none
   */
  public static FrameRange parse(String text) {
    TreeSet<Integer> frames = new TreeSet<>();
    for (String part : text.split(",", -1)) {
      Matcher m = PART.matcher(part.trim());
      if (!m.matches()) {
        throw new IllegalArgumentException(
            "'%s' is not a frame range; expected for example 1-24x2,30".formatted(text));
      }
      int from = Integer.parseInt(m.group(1));
      int to = m.group(2) == null ? from : Integer.parseInt(m.group(2));
      int step = m.group(3) == null ? 1 : Integer.parseInt(m.group(3));
      if (to < from || step < 1 || (to - from) / step + frames.size() > MAX_FRAMES) {
        throw new IllegalArgumentException(
            "'%s': the last frame comes before the first, or there are too many".formatted(part));
      }
      for (int f = from; f <= to; f += step) {
        frames.add(f);
      }
    }
    return new FrameRange(text, new ArrayList<>(frames));
  }

  /**
   * Returns frames as a range in its shortest text.
   *
   * @param frames at least one
   */
  public static FrameRange of(Collection<Integer> frames) {
    List<Integer> sorted = new ArrayList<>(new TreeSet<>(frames));
    StringBuilder text = new StringBuilder();
    for (int k = 0; k < sorted.size(); ) {
      int from = k;
      while (k + 1 < sorted.size() && sorted.get(k + 1) == sorted.get(k) + 1) {
        k++;
      }
      text.append(text.isEmpty() ? "" : ",").append(sorted.get(from));
      if (k > from) {
        text.append(k > from + 1 ? "-" : ",").append(sorted.get(k));
      }
      k++;
    }
    return new FrameRange(text.toString(), sorted);
  }

  /** Returns the first frame. */
  public int first() {
    return frames.getFirst();
  }

  /** Returns the last frame. */
  public int last() {
    return frames.getLast();
  }
}

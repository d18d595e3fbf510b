package org.wedgecutter.core.fragment;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/**
 * How well a catch, laid over even backgrounds, gives what its surface gives on them.
 *
 * @param over the error on each background
 * @param aboveAlpha share, 0 to 1, of the catch's colour that lies above its alpha: light that is
 *     brighter than its cover, which files without premultiplied colours do not hold
 * @param colour sum of the catch's colours
 * @param pixels of the frame that something is caught in
 */
public record CatchFit(List<Over> over, double aboveAlpha, double colour, long pixels) {
  /**
   * The error on one background.
   *
   * @param background its level, scene-linear
   * @param mean difference, mean over the colours of the pixels that something is caught in
   * @param max largest difference
   */
  public record Over(double background, double mean, double max) {
    private Over plus(Over other, double share) {
      return new Over(background, mean + share * (other.mean - mean), Math.max(max, other.max));
    }
  }

  public CatchFit {
    over = List.copyOf(over);
  }

  /** Returns this of two parts of a frame together; both are of one layer. */
  public CatchFit plus(CatchFit other) {
    long all = pixels + other.pixels;
    double light = colour + other.colour;
    double share = all == 0 ? 0 : (double) other.pixels / all;
    List<Over> out = new ArrayList<>();
    for (int k = 0; k < over.size(); k++) {
      out.add(over.get(k).plus(other.over.get(k), share));
    }
    return new CatchFit(
        out,
        light > 0 ? (aboveAlpha * colour + other.aboveAlpha * other.colour) / light : 0,
        light,
        all);
  }

  /** Returns it as a line: how far it is from the surface over each background. */
  public String line() {
    if (pixels == 0) {
      return "nothing: no pixel catches anything";
    }
    String errors =
        over.stream()
            .map(o ->
                "%s over %s (max %s)".formatted(number(o.mean), level(o.background), number(o.max)))
            .collect(Collectors.joining(" \u00b7 "));
    return aboveAlpha < 0.001
        ? errors
        : "%s \u00b7 %s %% of its light above alpha".formatted(errors, number(100 * aboveAlpha));
  }

  private static String number(double x) {
    return String.format(Locale.ROOT, x < 100 ? "%.2g" : "%.0f", x);
  }

  private static String level(double background) {
    return background == Math.rint(background)
        ? Long.toString((long) background)
        : Double.toString(background);
  }
}

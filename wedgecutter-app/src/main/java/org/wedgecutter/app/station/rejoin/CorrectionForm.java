package org.wedgecutter.app.station.rejoin;

import java.util.List;
import java.util.Locale;
import org.wedgecutter.app.panel.Words;
import org.wedgecutter.core.plan.Correction;

/**
 * How a type of correction is shown and edited.
 *
 * @param type the type
 * @param captions of its values, with units; one stands for all where it has points
 * @param usual values that change nothing, or little: with which it begins
 * @param slider which value the slider moves; -1 for all alike
 * @param least where the slider ends to the left
 * @param most where it ends to the right
 */
record CorrectionForm(
    Correction.Type type,
    List<String> captions,
    List<Double> usual,
    int slider,
    double least,
    double most) {
  /** Returns the form of a type. */
  static CorrectionForm of(Correction.Type type) {
    return switch (type) {
      case EXPOSURE -> one(type, "exposure (EV)", 0, -6, 6);
      case GAIN -> three(type, 1, 0, 4);
      case OFFSET -> three(type, 0, -0.5, 0.5);
      case GAMMA -> one(type, "gamma", 1, 0.2, 4);
      case SATURATION -> one(type, "saturation", 1, 0, 3);
      case HUE -> one(type, "hue rotation (°)", 0, -180, 180);
      case CONTRAST -> many(type, List.of("contrast", "pivot"), List.of(1.0, 0.18), 0, 0.2, 4);
      case TEMPERATURE -> one(type, "temperature (K)", 6504, 2000, 12000);
      case CURVE ->
          many(type, List.of("points x, y"), List.of(0.0, 0.0, 0.5, 0.5, 1.0, 1.0), 3, 0, 1);
      case SOFT_CLIP -> many(type, List.of("threshold", "ceiling"), List.of(0.8, 1.0), 0, 0, 0.99);
      case FADE -> one(type, "what is left", 1, 0, 1);
      case SHADOW ->
          many(
              type,
              List.of("density", "red", "green", "blue"),
              List.of(1.0, 0.0, 0.0, 0.0),
              0,
              0,
              2);
      case BLUR -> one(type, "standard deviation (px)", 2, 0, 40);
      case GLOW ->
          many(
              type,
              List.of("threshold", "standard deviation (px)", "gain"),
              List.of(1.0, 12.0, 0.3),
              2,
              0,
              2);
      case DEFOCUS ->
          many(
              type,
              List.of("focus (m)", "radius at infinity (px)", "blades"),
              List.of(2.0, 8.0, 0.0),
              0,
              0.1,
              20);
      case SURFACE -> many(type, List.of("gain", "own light (0 to 1)"), List.of(1.0, 0.0), 0, 0, 4);
      case DISTORTION -> many(type, List.of("k1", "k2"), List.of(0.05, 0.0), 0, -0.4, 0.4);
    };
  }

  private static CorrectionForm one(
      Correction.Type type, String caption, double usual, double least, double most) {
    return many(type, List.of(caption), List.of(usual), 0, least, most);
  }

  private static CorrectionForm three(
      Correction.Type type, double usual, double least, double most) {
    return many(
        type, List.of("red", "green", "blue"), List.of(usual, usual, usual), -1, least, most);
  }

  private static CorrectionForm many(
      Correction.Type type,
      List<String> captions,
      List<Double> usual,
      int slider,
      double least,
      double most) {
    return new CorrectionForm(type, captions, usual, slider, least, most);
  }

  /** Returns what a type is called on screens. */
  static String title(Correction.Type type) {
    return type.word().replace('-', ' ');
  }

  /** Returns the value that the slider shows. */
  double shown(List<Double> values) {
    return slider >= 0
        ? values.get(Math.min(slider, values.size() - 1))
        : values.stream().mapToDouble(v -> v).max().orElse(0);
  }

  /** Returns values of which the slider has moved one, or all by as much. */
  List<Double> moved(List<Double> values, double to) {
    double now = shown(values);
    return java.util.stream.IntStream.range(0, values.size())
        .mapToObj(k -> {
          double v = values.get(k);
          if (slider >= 0) {
            return k == Math.min(slider, values.size() - 1) ? to : v;
          }
          // colours keep their hue where there is one
          return type == Correction.Type.GAIN && now > 0 ? v / now * to : v + to - now;
        })
        .map(v -> Math.round(v * 1000) / 1000.0)
        .toList();
  }

  /** Returns values in a word or two, for a cell. */
  static String text(Correction c) {
    if (c.isKeyed()) {
      return Words.counted(c.keys().size(), "key");
    }
    List<Double> v = c.values();
    return switch (c.type()) {
      case EXPOSURE -> String.format(Locale.ROOT, "%+.2g EV", v.getFirst());
      case HUE -> short3(v.getFirst()) + "°";
      case TEMPERATURE -> short3(v.getFirst()) + " K";
      case FADE -> Math.round(100 * v.getFirst()) + " %";
      case BLUR -> short3(v.getFirst()) + " px";
      case DEFOCUS -> short3(v.getFirst()) + " m";
      case SURFACE -> c.picture().isEmpty() ? "none" : c.picture().replaceAll(".*/", "");
      case SHADOW -> "×" + short3(v.getFirst());
      case GLOW -> "×" + short3(v.get(2));
      case CURVE -> v.size() / 2 + " points";
      case GAIN ->
          v.stream().distinct().count() == 1
              ? "×" + short3(v.getFirst())
              : String.join(" ", v.stream().map(CorrectionForm::short3).toList());
      case OFFSET ->
          v.stream().distinct().count() == 1
              ? String.format(Locale.ROOT, "%+.3g", v.getFirst())
              : String.join(" ", v.stream().map(CorrectionForm::short3).toList());
      default -> short3(v.getFirst());
    };
  }

  private static String short3(double v) {
    return v == Math.rint(v) && Math.abs(v) < 1e6
        ? Long.toString((long) v)
        : String.format(Locale.ROOT, "%.3g", v);
  }
}

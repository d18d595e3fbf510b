package org.wedgecutter.bench;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.DoubleSupplier;

/**
 * One line of a table of measures.
 *
 * @param key its name for programs
 * @param text its name for users
 * @param value what was measured
 * @param unit of the value; empty for a ratio
 */
record Measure(String key, String text, double value, String unit) {
  static String table(List<Measure> measures) {
    StringBuilder out = new StringBuilder();
    for (Measure m : measures) {
      out.append(
          String.format(
              Locale.ROOT,
              "%-72s %9.2f %s%n",
              m.text,
              m.value,
              m.unit.isEmpty() ? "times" : m.unit));
    }
    return out.toString().stripTrailing();
  }

  /** Measures as one JSON object, by key. */
  record All(@JsonValue Map<String, Double> byKey) {}

  static All all(List<Measure> measures) {
    Map<String, Double> out = new LinkedHashMap<>();
    measures.forEach(m -> out.put(m.key, m.value));
    return new All(out);
  }

  /** Returns the median of some rounds, the first third of which is warm-up. */
  static double median(int count, DoubleSupplier measure) {
    List<Double> values = new ArrayList<>();
    for (int k = 0; k < count; k++) {
      double value = measure.getAsDouble();
      if (k >= count / 3) {
        values.add(value);
      }
    }
    return median(values);
  }

  static double median(List<Double> values) {
    List<Double> sorted = new ArrayList<>(values);
    Collections.sort(sorted);
    return sorted.get(sorted.size() / 2);
  }

  /** Returns how many milliseconds something takes. */
  static double milliseconds(Runnable work) {
    long start = System.nanoTime();
    work.run();
    return (System.nanoTime() - start) / 1e6;
  }
}

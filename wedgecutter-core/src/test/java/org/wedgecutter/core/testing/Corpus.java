package org.wedgecutter.core.testing;

import java.util.List;
import java.util.stream.IntStream;

/**
 * How much of a large corpus a test run goes through. By default a part, the same each time; all of
 * it with {@code ./test -Dtest.corpus=whole}.
 */
public final class Corpus {
  private Corpus() {}

  /** Whether a run goes through all. */
  public static boolean isWhole() {
    return "whole".equals(System.getProperty("wedgecutter.corpus"));
  }

  /** Returns how many: by default, or in a whole run. */
  public static int many(int some, int whole) {
    return isWhole() ? whole : some;
  }

  /** Returns one in so many of a list, evenly spread, beginning with the first; or all of it. */
  public static <T> List<T> oneIn(int step, List<T> all) {
    return isWhole()
        ? all
        : IntStream.range(0, all.size()).filter(k -> k % step == 0).mapToObj(all::get).toList();
  }
}

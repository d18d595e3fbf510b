package org.wedgecutter.core.plan;

import java.util.function.Predicate;

/** Makes unique names. */
public final class Names {
  private Names() {}

  /** Returns a name, with a number appended if it is taken. */
  public static String free(String name, Predicate<String> taken) {
    String free = name;
    for (int k = 2; taken.test(free); k++) {
      free = name + " " + k;
    }
    return free;
  }
}

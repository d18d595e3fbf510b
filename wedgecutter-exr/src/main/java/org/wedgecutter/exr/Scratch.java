package org.wedgecutter.exr;

import java.util.Arrays;

/**
 * Arrays that a thread uses for chunk after chunk: what stays in the processor's cache is quicker
 * than new memory, which also has to be cleared. One chunk is packed or unpacked at a time, so each
 * purpose has one array. Arrays of large tiles are not kept.
 */
final class Scratch {
  private static final int MOST = 1 << 23;
  private static final ThreadLocal<Scratch> OWN = ThreadLocal.withInitial(Scratch::new);

  /** What bytes are used for. */
  enum Use {
    /** A whole chunk. */
    WHOLE,
    /** What is between packed and whole. */
    STEPS,
    /** A packed chunk in the making. */
    PACKED
  }

  private final byte[][] bytes = new byte[Use.values().length][0];
  private char[] numbers = {};
  private char[] values = {};
  private int[] steps = {};
  private long[] pairs = {};
  private int[] used = {};

  private Scratch() {}

  /** Returns at least so many bytes; their contents are anything. */
  static byte[] bytes(Use use, int size) {
    if (size > MOST) {
      return new byte[size];
    }
    byte[][] own = OWN.get().bytes;
    if (own[use.ordinal()].length < size) {
      own[use.ordinal()] = new byte[size];
    }
    return own[use.ordinal()];
  }

  /** Returns numbers for a whole chunk; their contents are anything. */
  static char[] numbers(int size) {
    Scratch own = OWN.get();
    if (size > MOST) {
      return new char[size];
    }
    if (own.numbers.length < size) {
      own.numbers = new char[size];
    }
    return own.numbers;
  }

  /** Returns a table of values; its contents are anything. */
  static char[] values(int size) {
    Scratch own = OWN.get();
    if (own.values.length < size) {
      own.values = new char[size];
    }
    return own.values;
  }

  /** Returns a list of symbols; its contents are anything. */
  static int[] used(int size) {
    Scratch own = OWN.get();
    if (own.used.length < size) {
      own.used = new int[size];
    }
    return own.used;
  }

  /** Returns a table of pairs; its contents are anything. */
  static long[] pairs(int size) {
    Scratch own = OWN.get();
    if (own.pairs.length < size) {
      own.pairs = new long[size];
    }
    return own.pairs;
  }

  /** Returns a table of steps, the first so many 0. */
  static int[] steps(int size) {
    Scratch own = OWN.get();
    if (own.steps.length < size) {
      own.steps = new int[size];
    } else {
      Arrays.fill(own.steps, 0, size, 0);
    }
    return own.steps;
  }
}

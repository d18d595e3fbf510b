package org.wedgecutter.app.sheet;

/**
 * A row of the sheet.
 *
 * @param key what it stands for, unique among the rows of a station
 * @param label its name
 * @param detail a short remark at the right of its name
 * @param depth how far it is indented
 * @param sort how it is drawn
 * @param open whether it shows its members; only if it has any
 * @param members whether it has members that can be shown
 * @param motion how much it moves in each frame, 0 to 1; empty if that is not told
 */
public record Row(
    String key,
    String label,
    String detail,
    int depth,
    Sort sort,
    boolean open,
    boolean members,
    double[] motion) {
  /** How a row is drawn. */
  public enum Sort {
    MAIN,
    MEMBER,
    /** Within another row, but with cells that are edited. */
    SETTING,
    REST,
    CHECK
  }

  /** A row without motion. */
  public static Row of(
      String key,
      String label,
      String detail,
      int depth,
      Sort sort,
      boolean open,
      boolean members) {
    return new Row(key, label, detail, depth, sort, open, members, new double[0]);
  }
}

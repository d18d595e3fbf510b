package org.wedgecutter.app.viewer;

/** Which picture is shown. */
public enum Look {
  LAYER("Layer"),
  UNCUT("Uncut"),
  REJOINED("Rejoined"),
  RESIDUAL("Residual"),
  PLATE("Plate"),
  /** What is rejoined, before corrections. */
  JOINED("Joined"),
  /** What the files of a delivery give. */
  FILES("Files");

  private final String title;

  Look(String title) {
    this.title = title;
  }

  /** Returns its name in the window. */
  public String title() {
    return title;
  }
}

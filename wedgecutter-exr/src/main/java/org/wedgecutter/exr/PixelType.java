package org.wedgecutter.exr;

/** How one number of a channel is stored. The order is the code in the file. */
public enum PixelType {
  /** Unsigned 32-bit whole numbers. */
  UINT(4),
  /** IEEE 754 binary16. */
  HALF(2),
  /** IEEE 754 binary32. */
  FLOAT(4);

  private final int bytes;

  PixelType(int bytes) {
    this.bytes = bytes;
  }

  /** Returns the size of one number in bytes. */
  public int bytes() {
    return bytes;
  }
}

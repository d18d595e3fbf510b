package org.wedgecutter.exr;

/** How the chunks of a part are packed. The order is the code in the file. */
public enum Compression {
  /** As they are. */
  NONE(1),
  /** Run lengths, one line a chunk. */
  RLE(1),
  /** Deflate, one line a chunk. */
  ZIPS(1),
  /** Deflate, sixteen lines a chunk. */
  ZIP(16);

  private final int lines;

  Compression(int lines) {
    this.lines = lines;
  }

  /** Returns how many lines one chunk holds. */
  public int linesPerChunk() {
    return lines;
  }
}

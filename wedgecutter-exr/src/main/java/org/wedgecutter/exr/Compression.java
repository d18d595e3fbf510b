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

  /** Returns how many bytes one packed byte can stand for at most. */
  int mostPerByte() {
    return switch (this) {
      case NONE -> 1;
      // two bytes stand for a run of 128
      case RLE -> 64;
      // a length and distance of two bits stand for 258 bytes (RFC 1951)
      case ZIPS, ZIP -> 1032;
    };
  }
}

package org.wedgecutter.exr;

/** How the chunks of a part are packed. The order is the code in the file. */
public enum Compression {
  /** As they are. */
  NONE(1, 1),
  /** Run lengths, one line a chunk. */
  RLE(1, 64),
  /** Deflate, one line a chunk. */
  ZIPS(1, 1032),
  /** Deflate, sixteen lines a chunk. */
  ZIP(16, 1032),
  /** Wavelets and a Huffman code, 32 lines a chunk; without loss. */
  PIZ(32, 512),
  /** Floats as 24 bits, deflated, sixteen lines a chunk; halves and wholes without loss. */
  PXR24(16, 1376),
  /** Halves in squares of 14 bytes, 32 lines a chunk; with loss. Read only. */
  B44(32, 3),
  /** The same with squares of one value in 3 bytes. Read only. */
  B44A(32, 11),
  /** Cosine transform, 32 lines a chunk; with loss. */
  DWAA(32, Integer.MAX_VALUE),
  /** Cosine transform, 256 lines a chunk; with loss. */
  DWAB(256, Integer.MAX_VALUE);

  private final int lines;
  private final int mostPerByte;

  Compression(int lines, int mostPerByte) {
    this.lines = lines;
    this.mostPerByte = mostPerByte;
  }

  /** Returns how many lines one chunk of a scanline part holds. */
  public int linesPerChunk() {
    return lines;
  }

  /** Whether what is read is, bit for bit, what was written. PXR24 is not: it shortens floats. */
  public boolean isLossless() {
    return ordinal() <= PIZ.ordinal();
  }

  /** Whether it can be written. */
  public boolean isWritten() {
    return this != B44 && this != B44A;
  }

  /** Whether the format allows it for deep parts. */
  public boolean isForDeep() {
    return ordinal() <= ZIPS.ordinal();
  }

  /**
   * Returns how many bytes one packed byte can stand for at most: two bytes are a run of 128 (RLE);
   * two bits are 258 bytes (RFC 1951), which PXR24 stretches by a third; ten bits are 256 numbers
   * (PIZ). What DWA can do has no use as a bound.
   */
  int mostPerByte() {
    return mostPerByte;
  }
}

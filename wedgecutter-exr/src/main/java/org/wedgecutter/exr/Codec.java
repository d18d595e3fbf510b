package org.wedgecutter.exr;

import java.nio.ByteBuffer;

/** Compresses and decompresses chunks; each class documents its layout. */
sealed interface Codec
    permits StoredCodec, RunLengthCodec, DeflateCodec, PizCodec, Pxr24Codec, B44Codec, DwaCodec {
  /**
   * Packs a chunk; what comes out may be longer.
   *
   * @param raw as described by {@link Block}
   */
  byte[] pack(byte[] raw, Block block);

  /**
   * Unpacks a chunk.
   *
   * @param packed from its position to its limit, with an array, little-endian
   * @param out takes what comes out
   * @param size of what comes out
   * @throws ExrException if the bytes are not of this kind, or are of another size
   */
  void unpack(ByteBuffer packed, Block block, byte[] out, int size) throws ExrException;

  /**
   * Unpacks a chunk of which only some bytes are needed; the others may be anything.
   *
   * @param spans where those that are needed begin and where they end, in pairs, as of {@link
   *     Block#spans}
   */
  default void unpack(ByteBuffer packed, Block block, byte[] out, int size, int[] spans)
      throws ExrException {
    unpack(packed, block, out, size);
  }

  /** Returns the codec of a compression. */
  static Codec of(Compression compression) {
    return of(compression, DwaCodec.LEVEL);
  }

  /**
   * Returns the codec of a compression.
   *
   * @param level how much DWA loses when packing
   */
  static Codec of(Compression compression, float level) {
    return switch (compression) {
      case NONE -> new StoredCodec();
      case RLE -> new RunLengthCodec();
      case ZIPS, ZIP -> new DeflateCodec();
      case PIZ -> new PizCodec();
      case PXR24 -> new Pxr24Codec();
      case B44, B44A -> new B44Codec();
      case DWAA, DWAB -> new DwaCodec(level);
    };
  }

  /** Packs a chunk, or returns {@code raw} itself if that gains nothing. */
  default byte[] shorter(byte[] raw, Block block) {
    byte[] packed = pack(raw, block);
    return packed.length < raw.length ? packed : raw;
  }

  /**
   * Returns a chunk, which is as it was if it has its full size: an array from an offset on. It
   * holds until the thread unpacks the next chunk.
   */
  default ByteBuffer full(ByteBuffer packed, Block block, int size) throws ExrException {
    return full(packed, block, size, new int[] {0, size});
  }

  /** Returns a chunk of which only some bytes are needed; the others may be anything. */
  default ByteBuffer full(ByteBuffer packed, Block block, int size, int[] spans)
      throws ExrException {
    if (packed.remaining() == size) {
      return packed;
    }
    byte[] out = Scratch.bytes(Scratch.Use.WHOLE, size);
    unpack(packed, block, out, size, spans);
    return ByteBuffer.wrap(out, 0, size);
  }

  /** Returns the bytes of a buffer from its position to its limit. */
  static byte[] bytes(ByteBuffer in) {
    byte[] out = new byte[in.remaining()];
    in.get(in.position(), out);
    return out;
  }
}

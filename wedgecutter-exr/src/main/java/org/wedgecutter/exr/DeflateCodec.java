package org.wedgecutter.exr;

/** ZIP and ZIPS: bytes prepared by {@link Deflate#predict} and deflated. */
final class DeflateCodec implements Codec {
  @Override
  public byte[] pack(byte[] raw, Block block) {
    return Deflate.pack(Deflate.predict(raw));
  }

  @Override
  public byte[] unpack(byte[] packed, Block block, int size) throws ExrException {
    return Deflate.restore(Deflate.unpack(packed, size));
  }
}

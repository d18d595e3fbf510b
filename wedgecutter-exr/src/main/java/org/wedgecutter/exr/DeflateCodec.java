package org.wedgecutter.exr;

import java.nio.ByteBuffer;

/** ZIP and ZIPS: bytes prepared by {@link Deflate#predict} and deflated. */
final class DeflateCodec implements Codec {
  @Override
  public byte[] pack(byte[] raw, Block block) {
    byte[] steps = Scratch.bytes(Scratch.Use.STEPS, raw.length);
    Deflate.predict(raw, steps);
    return Deflate.pack(steps, raw.length);
  }

  @Override
  public void unpack(ByteBuffer packed, Block block, byte[] out, int size) throws ExrException {
    unpack(packed, block, out, size, new int[] {0, size});
  }

  @Override
  public void unpack(ByteBuffer packed, Block block, byte[] out, int size, int[] spans)
      throws ExrException {
    byte[] steps = Scratch.bytes(Scratch.Use.STEPS, size);
    Deflate.unpack(packed, steps, size);
    Deflate.restore(steps, out, size, spans);
  }
}

package org.wedgecutter.exr;

import java.nio.ByteBuffer;

/** Bytes as they are. */
final class StoredCodec implements Codec {
  @Override
  public byte[] pack(byte[] raw, Block block) {
    return raw;
  }

  @Override
  public void unpack(ByteBuffer packed, Block block, byte[] out, int size) throws ExrException {
    throw new ExrException("%d bytes, expected %d".formatted(packed.remaining(), size));
  }
}

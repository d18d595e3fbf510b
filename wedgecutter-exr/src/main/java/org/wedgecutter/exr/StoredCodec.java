package org.wedgecutter.exr;

/** Bytes as they are. */
final class StoredCodec implements Codec {
  @Override
  public byte[] pack(byte[] raw, Block block) {
    return raw;
  }

  @Override
  public byte[] unpack(byte[] packed, Block block, int size) throws ExrException {
    throw new ExrException("%d bytes, expected %d".formatted(packed.length, size));
  }
}

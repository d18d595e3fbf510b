package org.wedgecutter.exr;

import java.io.Closeable;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;

/** Bytes that are read from any place, by any thread. */
interface ByteSource extends Closeable {
  /** Returns how many there are. */
  long size() throws IOException;

  /** Returns bytes, little-endian; fewer than asked for only at the end. */
  ByteBuffer read(long at, int count) throws IOException;

  /** Returns those in memory. */
  static ByteSource of(byte[] all) {
    return new InMemory(all);
  }

  /** Opens a file. */
  static ByteSource open(Path file) throws IOException {
    if (Files.exists(file) && !Files.isRegularFile(file)) {
      // a pipe would be waited for
      throw new ExrException(file + ": is no regular file");
    }
    return new OnDisk(FileChannel.open(file, StandardOpenOption.READ));
  }

  /** An array. */
  record InMemory(byte[] all) implements ByteSource {
    @Override
    public long size() {
      return all.length;
    }

    @Override
    public ByteBuffer read(long at, int count) {
      int from = (int) Math.min(at, all.length);
      return ByteBuffer.wrap(all, from, Math.min(count, all.length - from))
          .slice()
          .order(ByteOrder.LITTLE_ENDIAN);
    }

    @Override
    public void close() {}
  }

  /** A file. */
  record OnDisk(FileChannel channel) implements ByteSource {
    @Override
    public long size() throws IOException {
      return channel.size();
    }

    @Override
    public ByteBuffer read(long at, int count) throws IOException {
      int size = (int) Math.max(0, Math.min(count, channel.size() - at));
      ByteBuffer out = ByteBuffer.allocate(size).order(ByteOrder.LITTLE_ENDIAN);
      while (out.hasRemaining()) {
        if (channel.read(out, at + out.position()) < 0) {
          break;
        }
      }
      return out.flip();
    }

    @Override
    public void close() throws IOException {
      channel.close();
    }
  }
}

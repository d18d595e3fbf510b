package org.wedgecutter.core.io;

import java.io.BufferedOutputStream;
import java.io.Closeable;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.UUID;

/**
 * Writes a file beside its name and moves it into place whole, so that a stop leaves no half file.
 */
public final class AtomicFile implements Closeable {
  private final Path beside;
  private final Path target;
  private final FileChannel channel;

  /** Writes bytes to a stream. */
  @FunctionalInterface
  public interface Body {
    /** Writes all bytes; the stream is buffered and is closed by the caller. */
    void writeTo(OutputStream out) throws IOException;
  }

  /**
   * Begins a file beside its name, for one that is written bit by bit; creates missing folders.
   * Closing it without {@link #commit} leaves what was there.
   */
  public AtomicFile(Path file) throws IOException {
    target = file.toAbsolutePath();
    Path folder = target.getParent();
    if (folder == null) {
      throw new IOException(file + ": not a file name");
    }
    Files.createDirectories(folder);
    beside = folder.resolve(".%s.%s.part".formatted(target.getFileName(), UUID.randomUUID()));
    channel =
        FileChannel.open(
            beside,
            StandardOpenOption.READ,
            StandardOpenOption.WRITE,
            StandardOpenOption.CREATE_NEW);
  }

  /** Returns where its bytes go. */
  public FileChannel channel() {
    return channel;
  }

  /** Forces the bytes to the disk and replaces what was there. */
  public void commit() throws IOException {
    channel.force(true);
    channel.close();
    Files.move(beside, target, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
  }

  @Override
  public void close() throws IOException {
    channel.close();
    Files.deleteIfExists(beside);
  }

  /** Creates missing folders, writes, forces the bytes to the disk, and replaces what was there. */
  public static void write(Path file, Body body) throws IOException {
    try (AtomicFile writing = new AtomicFile(file)) {
      OutputStream out =
          new BufferedOutputStream(Channels.newOutputStream(writing.channel), 1 << 16);
      body.writeTo(out);
      out.flush();
      writing.commit();
    }
  }
}

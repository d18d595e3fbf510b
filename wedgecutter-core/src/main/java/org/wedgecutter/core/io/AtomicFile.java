package org.wedgecutter.core.io;

import java.io.BufferedOutputStream;
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
public final class AtomicFile {
  private AtomicFile() {}

  /** Writes bytes to a stream. */
  @FunctionalInterface
  public interface Body {
    /** Writes all bytes; the stream is buffered and is closed by the caller. */
    void writeTo(OutputStream out) throws IOException;
  }

  /** Creates missing folders, writes, forces the bytes to the disk, and replaces what was there. */
  public static void write(Path file, Body body) throws IOException {
    Path target = file.toAbsolutePath();
    Path folder = target.getParent();
    if (folder == null) {
      throw new IOException(file + ": not a file name");
    }
    Files.createDirectories(folder);
    Path beside = folder.resolve(".%s.%s.part".formatted(target.getFileName(), UUID.randomUUID()));
    try {
      try (FileChannel channel =
          FileChannel.open(beside, StandardOpenOption.WRITE, StandardOpenOption.CREATE_NEW)) {
        OutputStream out = new BufferedOutputStream(Channels.newOutputStream(channel), 1 << 16);
        body.writeTo(out);
        out.flush();
        channel.force(true);
      }
      Files.move(
          beside, target, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
    } finally {
      Files.deleteIfExists(beside);
    }
  }
}

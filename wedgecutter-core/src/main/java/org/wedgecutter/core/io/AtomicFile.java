package org.wedgecutter.core.io;

import java.io.BufferedOutputStream;
import java.io.Closeable;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.AccessDeniedException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Writes a file beside its name and moves it into place whole, so that a stop leaves no half file.
 */
public final class AtomicFile implements Closeable {
  private static final Logger LOG = LoggerFactory.getLogger(AtomicFile.class);
  private static final Pattern PART = Pattern.compile("\\..+\\.[0-9a-f-]{36}\\.part");

  /**
   * What this process is writing. Locks show whether another process does; on this process's own
   * files they must not be tried, since closing any channel of a file gives up the lock that the
   * process holds on it.
   */
  private static final Set<Path> WRITING = ConcurrentHashMap.newKeySet();

  private final Path folder;
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
    Path parent = target.getParent();
    if (parent == null) {
      throw new IOException(file + ": not a file name");
    }
    folder = parent;
    Files.createDirectories(folder);
    beside = folder.resolve(".%s.%s.part".formatted(target.getFileName(), UUID.randomUUID()));
    WRITING.add(beside);
    channel =
        FileChannel.open(
            beside,
            StandardOpenOption.READ,
            StandardOpenOption.WRITE,
            StandardOpenOption.CREATE_NEW);
    lock();
  }

  /** Marks the file as being written; the system takes the mark away when the process ends. */
  private void lock() {
    try {
      channel.tryLock();
    } catch (IOException e) {
      // some file systems have no locks; then nothing is swept there either
      LOG.debug("{} cannot be locked", beside, e);
    }
  }

  /**
   * Deletes what stopped writers left in a folder and in those below it: files beside their names
   * that nobody is writing any more.
   *
   * @return how many were deleted
   */
  public static int sweep(Path folder) throws IOException {
    int swept = 0;
    try (Stream<Path> files = Files.walk(folder)) {
      for (Path file : files.filter(AtomicFile::isLeft).toList()) {
        swept += isWritten(file) ? 0 : Files.deleteIfExists(file) ? 1 : 0;
      }
    } catch (UncheckedIOException e) {
      throw e.getCause();
    }
    return swept;
  }

  private static boolean isLeft(Path file) {
    return PART.matcher(String.valueOf(file.getFileName())).matches()
        && Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS);
  }

  private static boolean isWritten(Path file) {
    if (WRITING.contains(file.toAbsolutePath())) {
      return true;
    }
    try (FileChannel other = FileChannel.open(file, StandardOpenOption.WRITE)) {
      FileLock lock = other.tryLock();
      return lock == null;
    } catch (OverlappingFileLockException | IOException e) {
      return true;
    }
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
    WRITING.remove(beside);
    sync(folder);
  }

  /** Forces the names in a folder to the disk, so that a new one is not lost with the power. */
  private static void sync(Path folder) throws IOException {
    try (FileChannel names = FileChannel.open(folder, StandardOpenOption.READ)) {
      names.force(true);
    } catch (AccessDeniedException e) {
      // a system on which folders cannot be opened keeps its names itself
      LOG.debug("{} cannot be synced", folder, e);
    }
  }

  @Override
  public void close() throws IOException {
    channel.close();
    Files.deleteIfExists(beside);
    WRITING.remove(beside);
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

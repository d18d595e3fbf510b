package org.wedgecutter.core.io;

import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.OpenOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/**
 * A folder whose contents may come from anybody: a delivery, a store of surveys. Everything below
 * it is opened, written, listed and deleted through this and nothing else, which follows no
 * symbolic link below the root, and opens regular files only: a pipe or a device is refused and not
 * waited for.
 *
 * <p>The root itself was chosen by the user and may be a link, or lie behind one. A name is
 * relative to it, with {@code /} between folders; none may be empty, {@code .} or {@code ..}. Each
 * folder on the way is looked at without following links, again after a twentieth of a second.
 * Whoever can write into the folder while it is used can still exchange one between the look and
 * the use; what a file that lies there can do, a mail or an archive, is what this prevents.
 */
public final class RootFolder {
  /** How long a folder that was looked at counts as looked at, nanoseconds. */
  private static final long FRESH = 50_000_000;

  private final Path root;

  /** When folders below the root were looked at last: thousands of files lie in few of them. */
  private final Map<Path, Long> looked = new ConcurrentHashMap<>();

  /** A folder, which need not be there yet. */
  public RootFolder(Path root) {
    this.root = root;
  }

  /** Returns the folder. */
  public Path path() {
    return root;
  }

  /**
   * Returns where a name is, for messages and for reading by what checks for itself.
   *
   * @throws InputException if the name leads out, or by a link
   */
  public Path at(String name) throws InputException {
    Path at = root.resolve(check(name, root, ""));
    noLinkTo(at.getParent());
    noLink(at);
    return at;
  }

  private void noLinkTo(@Nullable Path folder) throws InputException {
    if (folder == null || folder.getNameCount() <= root.getNameCount()) {
      return;
    }
    long now = System.nanoTime();
    Long before = looked.get(folder);
    if (before != null && now - before < FRESH) {
      return;
    }
    noLinkTo(folder.getParent());
    noLink(folder);
    looked.put(folder, now);
  }

  private static void noLink(Path at) throws InputException {
    if (Files.isSymbolicLink(at)) {
      throw new InputException(
          at, "", "is a symbolic link; expected the file or folder itself, as links may lead out");
    }
  }

  /**
   * Checks that a name that was read leads nowhere out, without looking at what is there.
   *
   * @param file where it was read
   * @param place in that file
   */
  public static Path check(String name, Path file, String place) throws InputException {
    try {
      Path path = Path.of(name);
      boolean isOwn = !name.isEmpty() && !path.isAbsolute();
      for (Path each : path) {
        String text = each.toString();
        isOwn &= !text.isEmpty() && !text.equals(".") && !text.equals("..");
      }
      if (isOwn) {
        return path;
      }
    } catch (InvalidPathException e) {
      throw new InputException(file, place, "'%s' is not a file name".formatted(name), e);
    }
    throw new InputException(
        file, place, "'%s' leads out of the folder; expected a name inside it".formatted(name));
  }

  /**
   * Returns the regular file of a name.
   *
   * @throws NoSuchFileException if there is nothing of that name
   * @throws InputException if it is anything else than a regular file, or behind a link
   */
  public Path file(String name) throws IOException {
    Path at = root.resolve(check(name, root, ""));
    noLinkTo(at.getParent());
    BasicFileAttributes own =
        Files.readAttributes(at, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS);
    if (own.isSymbolicLink()) {
      noLink(at);
    }
    if (!own.isRegularFile()) {
      throw new InputException(at, "", "is no regular file");
    }
    return at;
  }

  /** Whether a name is a regular file, and no link leads to it. */
  public boolean isFile(String name) {
    try {
      Path at = root.resolve(check(name, root, ""));
      noLinkTo(at.getParent());
      return Files.isRegularFile(at, LinkOption.NOFOLLOW_LINKS);
    } catch (InputException e) {
      return false;
    }
  }

  /** Whether a name is a folder, and no link leads to it. */
  public boolean isFolder(String name) {
    try {
      return Files.isDirectory(at(name), LinkOption.NOFOLLOW_LINKS);
    } catch (InputException e) {
      return false;
    }
  }

  /** Opens a file for reading. */
  public InputStream read(String name) throws IOException {
    return Channels.newInputStream(
        FileChannel.open(file(name), StandardOpenOption.READ, LinkOption.NOFOLLOW_LINKS));
  }

  /** Begins a file, as {@link AtomicFile} does. */
  public AtomicFile begin(String name) throws IOException {
    return new AtomicFile(writable(name));
  }

  /** Writes a file whole, as {@link AtomicFile} does. */
  public void write(String name, AtomicFile.Body body) throws IOException {
    AtomicFile.write(writable(name), body);
  }

  /**
   * Returns where a file may be written: over a regular file, or where nothing is.
   *
   * @throws InputException if anything else is there, or a link leads there
   */
  public Path writable(String name) throws IOException {
    Path at = at(name);
    if (Files.exists(at, LinkOption.NOFOLLOW_LINKS)
        && !Files.isRegularFile(at, LinkOption.NOFOLLOW_LINKS)) {
      throw new InputException(at, "", "is no regular file, and is not replaced");
    }
    return at;
  }

  /** Adds bytes at the end of a file, which is created if it is not there. */
  public void append(String name, byte[] bytes) throws IOException {
    OpenOption[] options = {
      StandardOpenOption.CREATE,
      StandardOpenOption.WRITE,
      StandardOpenOption.APPEND,
      LinkOption.NOFOLLOW_LINKS
    };
    Files.write(writable(name), bytes, options);
  }

  /**
   * Deletes a file, or a folder that is empty.
   *
   * @return whether there was one
   */
  public boolean delete(String name) throws IOException {
    return Files.deleteIfExists(at(name));
  }

  /**
   * Returns the names of files in a folder, in order; none if there is no such folder. What is no
   * regular file is left out.
   *
   * @param folder its name; empty for the root
   * @param own tells files of ours by their names in the folder
   * @return names relative to the root
   */
  public List<String> list(String folder, Predicate<String> own) throws IOException {
    List<String> out = new ArrayList<>();
    Path at = folder.isEmpty() ? root : at(folder);
    if (!Files.isDirectory(at)) {
      return out;
    }
    try (DirectoryStream<Path> all = Files.newDirectoryStream(at)) {
      for (Path each : all) {
        String name = String.valueOf(each.getFileName());
        if (own.test(name) && Files.isRegularFile(each, LinkOption.NOFOLLOW_LINKS)) {
          out.add(folder.isEmpty() ? name : folder + "/" + name);
        }
      }
    }
    out.sort(null);
    return out;
  }
}

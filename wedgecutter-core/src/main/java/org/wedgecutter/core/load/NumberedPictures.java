package org.wedgecutter.core.load;

import com.google.common.cache.Cache;
import com.google.common.cache.CacheBuilder;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.PictureFiles;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.SafePath;

/**
 * Pictures that a plan names once for all frames, with {@code {frame:4}} for the frame's number:
 * the plate, the recipe's backgrounds, and what surfaces show. They are read when they are asked
 * for, in scene-linear light, and kept as long as memory lasts and the file is the same.
 */
public final class NumberedPictures {
  private static final Pattern FRAME = Pattern.compile("\\{frame(?::(\\d))?}");

  /** All that was read, for whoever asks next: recipes are put together again at every edit. */
  private static final Cache<Key, Picture> READ =
      CacheBuilder.newBuilder().softValues().maximumSize(32).build();

  /** Errors of files that cannot be read: they are not read again before they change. */
  private static final Cache<Key, InputException> UNREADABLE =
      CacheBuilder.newBuilder().maximumSize(32).build();

  private record Key(Path file, FileTime changed, long bytes) {}

  private final List<Path> folders;

  /**
   * @param folders to which paths are relative; the first that holds a file counts
   */
  public NumberedPictures(List<Path> folders) {
    this.folders = List.copyOf(folders);
  }

  /** Returns the name of a picture at a frame. */
  public static String at(String name, int frame) {
    return FRAME
        .matcher(name)
        .replaceAll(m ->
            Matcher.quoteReplacement(
                m.group(1) == null
                    ? String.valueOf(frame)
                    : String.format(
                        Locale.ROOT, "%0" + Math.max(1, digit(m.group(1))) + "d", frame)));
  }

  /**
   * Returns the name of all frames where a file's name ends in the number of a frame, of three
   * digits or more; the name itself where it does not.
   */
  public static String sequence(String name, int frame) {
    Matcher m = Pattern.compile("(\\d{3,})(\\.\\w+)$").matcher(name);
    if (!m.find() || m.group(1).length() > 9 || Integer.parseInt(m.group(1)) != frame) {
      return name;
    }
    return name.substring(0, m.start()) + "{frame:%d}".formatted(m.group(1).length()) + m.group(2);
  }

  private static int digit(String text) {
    return text.charAt(0) - '0';
  }

  /**
   * Returns the file of a picture.
   *
   * @throws InputException if there is none
   */
  public Path file(String name, int frame) throws InputException {
    Path found = find(name, frame);
    if (found != null) {
      return found;
    }
    String own = at(name, frame);
    throw new InputException(
        folders.isEmpty() ? Path.of(own) : folders.getFirst().resolve(own),
        "",
        "no such file, which is shown at frame " + frame);
  }

  /** Whether there is a file of a picture. */
  public boolean exists(String name, int frame) {
    try {
      return find(name, frame) != null;
    } catch (InputException e) {
      return false;
    }
  }

  private @Nullable Path find(String name, int frame) throws InputException {
    for (Path folder : folders) {
      Path file = SafePath.inside(folder, at(name, frame), folder, "recipe");
      if (Files.isRegularFile(file)) {
        return file;
      }
    }
    return null;
  }

  /** Returns why a picture cannot be used, as words about its file; empty if it can. */
  public String trouble(String name, int frame) {
    try {
      picture(name, frame);
      return "";
    } catch (InputException e) {
      return e.reason();
    }
  }

  /**
   * Returns a picture, premultiplied.
   *
   * @throws InputException if there is none, or it cannot be used
   */
  public Picture picture(String name, int frame) throws InputException {
    Path file = file(name, frame);
    try {
      Key key = new Key(file, Files.getLastModifiedTime(file), Files.size(file));
      Picture known = READ.getIfPresent(key);
      InputException error = UNREADABLE.getIfPresent(key);
      if (error != null) {
        throw error;
      }
      if (known == null) {
        known = read(file, key);
        READ.put(key, known);
      }
      return known;
    } catch (InputException e) {
      throw e;
    } catch (IOException e) {
      throw new InputException(file, "", "cannot be read: " + e.getMessage(), e);
    }
  }

  private static Picture read(Path file, Key key) throws IOException {
    try {
      return premultiplied(PictureFiles.read(file), file);
    } catch (InputException e) {
      UNREADABLE.put(key, e);
      throw e;
    }
  }

  /** PNG files hold colours that are not premultiplied. */
  private static Picture premultiplied(Picture read, Path file) {
    if (file.toString().toLowerCase(Locale.ROOT).endsWith(".png")) {
      float[] v = read.rgba();
      for (int i = 0; i < v.length; i++) {
        v[i] *= (i & 3) == 3 ? 1 : v[i | 3];
      }
    }
    return read;
  }
}

package org.wedgecutter.core.io;

import java.io.IOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileSystemException;
import java.nio.file.NoSuchFileException;

/** What went wrong with a file, in words: the system's own messages are often only its name. */
public final class FileTrouble {
  private FileTrouble() {}

  /** Returns what went wrong. */
  public static String words(IOException e) {
    String file = e instanceof FileSystemException f ? String.valueOf(f.getFile()) : "";
    return switch (e) {
      case AccessDeniedException _ -> "no right to write " + file;
      case NoSuchFileException _ -> "there is no " + file;
      case FileAlreadyExistsException _ -> "a file is in the way: " + file;
      default -> e.getMessage() == null ? e.getClass().getSimpleName() : e.getMessage();
    };
  }
}

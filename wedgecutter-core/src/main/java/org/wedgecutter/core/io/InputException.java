package org.wedgecutter.core.io;

import java.io.EOFException;
import java.io.IOException;
import java.nio.file.Path;

/**
 * Input that cannot be used. The message is one line: the file, the place in it, and what was
 * expected.
 */
public final class InputException extends IOException {
  private static final long serialVersionUID = 1L;

  private final String reason;

  /**
   * @param file the file's path as the user gave it
   * @param place where in the file, such as {@code nodes[3].children} or {@code layers/2/name}; may
   *     be empty if the file as a whole is meant
   * @param problem what is wrong and what was expected
   */
  public InputException(Path file, String place, String problem) {
    this(file, reason(place, problem));
  }

  private InputException(Path file, String reason) {
    super(file + ": " + reason);
    this.reason = reason;
  }

  private static String reason(String place, String problem) {
    return (place.isEmpty() ? "" : place + ": ") + problem.replaceAll("\\s+", " ");
  }

  /** Returns the message without the file. */
  public String reason() {
    return reason;
  }

  /** Makes the exception with its cause, for the log. */
  public InputException(Path file, String place, String problem, Throwable cause) {
    this(file, place, problem);
    initCause(cause);
  }

  /**
   * Returns an error of a file that a library could not read.
   *
   * @param what "not a readable image"
   * @param error the library's; its text is kept unless it is empty or names code
   */
  public static InputException unreadable(Path file, String place, String what, Exception error) {
    String text = String.valueOf(error.getMessage());
    String why = "its data is damaged";
    if (error instanceof EOFException) {
      why = "it ends too early";
    } else if (error instanceof IOException
        && !text.contains("Exception")
        && !text.equals("null")) {
      why = text;
    }
    return new InputException(file, place, what + ": " + why, error);
  }
}

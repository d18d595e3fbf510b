package org.wedgecutter.app.shell;

/** Says in words what went wrong in the program itself. */
final class Trouble {
  private Trouble() {}

  /** Returns an error in words, with what can be done about it where there is anything. */
  static String words(Throwable error) {
    for (Throwable t = error; t != null; t = t.getCause()) {
      if (t instanceof OutOfMemoryError) {
        return "there is not enough memory. A smaller size or fewer passes take less.";
      }
    }
    String message = error.getMessage();
    return (message == null || message.isBlank() ? error.toString() : message) + ".";
  }
}

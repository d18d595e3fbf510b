package org.wedgecutter.core.check;

import org.wedgecutter.core.mistake.Mistake;

/** The catalogue of findings as a page. */
public final class Catalogue {
  private Catalogue() {}

  /** Returns the page, in Markdown. */
  public static String page() {
    StringBuilder out = new StringBuilder();
    out.append(
        """
        # Findings

        What `wedgecutter check` and the bottom of the window find in a plan before anything is traced,
        and the causes that a proof names. This page is written by the program (`wedgecutter check
        --catalogue`).

        An **error** means that the result will be wrong, a **warning** that it may not be what you
        meant, a **note** that something is approximated. A fix takes one click; it is an edit like
        any other and can be undone.

        | finding | | mistake | what it means | the fix |
        |---|---|---|---|---|
        """);
    for (Mistake kind : Mistake.values()) {
      out.append(
          "| `%s` | %s | %s | %s | %s |\n"
              .formatted(
                  kind.word(),
                  kind.severity().word(),
                  kind.title(),
                  kind.meaning(),
                  kind.fix().isEmpty() ? "you decide" : kind.fix()));
    }
    return out.toString();
  }
}

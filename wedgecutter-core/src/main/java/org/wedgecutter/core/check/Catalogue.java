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

        What `wedgecutter check` and the foot of the window tell about a plan, before anything is
        traced. This page is made from the program (`wedgecutter check --catalogue`).

        An **error** means that the result will be wrong, a **warning** that it may not be what was
        meant, a **note** an approximation or an oddity. Where there is a fix, one click makes it; it
        is a step like any other and can be undone.

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
                  kind.fix().isEmpty() ? "a person must decide" : kind.fix()));
    }
    return out.toString();
  }
}

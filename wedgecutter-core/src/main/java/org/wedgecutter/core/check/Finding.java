package org.wedgecutter.core.check;

import java.util.Locale;

/**
 * Something about a plan that a TD should know before rendering.
 *
 * @param severity how bad it is
 * @param layer name of the layer, or empty
 * @param entity path of the entity or name of the collection, or empty
 * @param text what is the matter, in plain words
 * @param fix what to do about it
 */
public record Finding(Severity severity, String layer, String entity, String text, String fix) {
  /** How bad a finding is. */
  public enum Severity {
    /** The result will be wrong. */
    ERROR,
    /** The result may not be what was meant. */
    WARNING,
    /** An approximation that was chosen. */
    NOTE;

    /** Returns the word in documents. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }
  }
}

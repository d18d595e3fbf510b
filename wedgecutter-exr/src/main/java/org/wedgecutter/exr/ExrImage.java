package org.wedgecutter.exr;

import java.util.List;

/** A file's parts, in order; at least one. */
public record ExrImage(List<ExrPart> parts) {
  public ExrImage {
    parts = List.copyOf(parts);
    if (parts.isEmpty()) {
      throw new IllegalArgumentException("an image has at least one part");
    }
    if (parts.size() > 1 && parts.stream().map(ExrPart::name).distinct().count() < parts.size()) {
      throw new IllegalArgumentException("the parts of one file need different names");
    }
  }
}

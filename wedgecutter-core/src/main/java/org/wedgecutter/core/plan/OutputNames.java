package org.wedgecutter.core.plan;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;

/** The names of all files that are written of a frame: what is rendered, and copies of it. */
public final class OutputNames {
  private OutputNames() {}

  /**
   * Returns what a copy is called where the names of passes stand.
   *
   * @throws IllegalArgumentException for copies of passes and of frames, which have other names
   */
  public static String word(Output.Copy copy) {
    return switch (copy) {
      case PNG8 -> "srgb8";
      case PNG16, TIFF16 -> "srgb16";
      case TIFF32, HDR -> "linear";
      case PASSES, FRAME -> throw new IllegalArgumentException(copy + " has no name of its own");
    };
  }

  /** Returns the name under which the file of a pass is written: ranks of one ID matte are one. */
  public static String pass(String title) {
    return title.replaceFirst("^(Crypto[A-Za-z]+)\\d+$", "$1");
  }

  /**
   * Returns the names of the files of one layer at a frame, relative to the delivery: its own, the
   * deep one, and copies.
   *
   * @param layer its name; {@link FileNames#UNCUT} for the uncut frame
   * @param passes titles of the passes that are written with it
   */
  public static List<String> of(
      Output output, FileNames names, String layer, int frame, Collection<String> passes) {
    List<String> out = new ArrayList<>(List.of(names.name(layer, frame, "exr")));
    boolean uncut = layer.equals(FileNames.UNCUT);
    if (!uncut && output.more(layer).contains(Output.More.DEEP)) {
      out.add(names.name(layer, Output.More.DEEP.word(), frame, "exr"));
    }
    for (Output.Copy copy : output.copies()) {
      switch (copy) {
        case PASSES -> {
          Set<String> each = new LinkedHashSet<>(List.of(Output.BEAUTY));
          passes.forEach(p -> each.add(pass(p)));
          each.forEach(p -> out.add(names.name(layer, p, frame, copy.extension())));
        }
        case FRAME -> {}
        default -> out.add(names.name(layer, word(copy), frame, copy.extension()));
      }
    }
    return out;
  }
}

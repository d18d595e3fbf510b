package org.wedgecutter.core.testing;

import java.util.List;
import java.util.stream.Stream;

/** Names that somebody's file may hold: what they do anywhere but in their place is a defect. */
public final class HostileNames {
  private HostileNames() {}

  /** Returns them all. Where one of them runs as a command, it makes a file {@code pwned}. */
  public static List<String> all() {
    return List.of(
        "X$(touch pwned)",
        "X`touch pwned`",
        "a\ntouch pwned\n",
        "a; touch pwned #",
        "a' ; touch pwned ; '",
        "a\" ; touch pwned ; \"",
        "a|touch pwned&",
        "-o",
        "--help",
        "-{layer}",
        "$HOME ${PATH} ~",
        "*?[a-z]",
        "it's",
        "\"quoted\"",
        "back\\slash\\n\\x41\\",
        "%s%n%d %04d",
        "frame.####.@@",
        "{TOP.width}{1+1}",
        "a\rb\tc",
        "\u001b[31mred\u001b]0;title\u0007",
        "a\u202eb\u2066c\u200b",
        "line\u2028paragraph\u2029next\u0085end",
        "\ufffe\uffff",
        "\ud800 alone",
        "]]></x><!--&amp;&#10;",
        "<img src=x onerror=\"document.title='pwned'\">",
        "=1+1,\"a\",;",
        "日本語 Ünï çödé 🎬",
        " leading and trailing ");
  }

  /** Returns those that a file of most systems can be called. */
  public static Stream<String> files() {
    return all().stream()
        .filter(n -> !n.contains("/") && n.chars().noneMatch(c -> Character.isSurrogate((char) c)))
        .filter(n -> n.chars().noneMatch(c -> c == 0xfffe || c == 0xffff));
  }
}

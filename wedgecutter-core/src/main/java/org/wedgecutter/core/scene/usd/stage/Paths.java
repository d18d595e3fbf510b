package org.wedgecutter.core.scene.usd.stage;

import org.jspecify.annotations.Nullable;

/**
 * Paths of prims and properties: {@code /a/b} and {@code /a/b.c:d}. Sites within variants have the
 * variant in braces, and a slash before what is in it: {@code /a{set=name}/b}.
 */
final class Paths {
  private Paths() {}

  static String variant(String site, String set, String name) {
    return site + "{" + set + "=" + name + "}";
  }

  /** Returns the set and the name of the variant that a site is; null if it is none. */
  static String @Nullable [] variant(String site) {
    if (!site.endsWith("}")) {
      return null;
    }
    String choice = site.substring(site.lastIndexOf('{') + 1, site.length() - 1);
    int equals = choice.indexOf('=');
    return new String[] {choice.substring(0, equals), choice.substring(equals + 1)};
  }

  /** Returns a path without the variants in it. */
  static String plain(String site) {
    if (site.indexOf('{') < 0) {
      return site;
    }
    StringBuilder out = new StringBuilder();
    boolean inside = false;
    for (int i = 0; i < site.length(); i++) {
      char c = site.charAt(i);
      if (c == '{') {
        inside = true;
      } else if (c == '}') {
        inside = false;
      } else if (!inside) {
        out.append(c);
      }
    }
    return out.toString();
  }

  /** Returns the path above; empty for that of a root prim. */
  static String parent(String path) {
    return path.substring(0, Math.max(0, path.lastIndexOf('/')));
  }

  static String name(String path) {
    return path.substring(path.lastIndexOf('/') + 1);
  }

  /** Returns how many prims there are on the way to a site, itself included. */
  static int depth(String site) {
    int out = 0;
    for (int i = 0; i < site.length(); i++) {
      out += site.charAt(i) == '/' ? 1 : 0;
    }
    return out;
  }

  /** Whether a path is another one, or below it. */
  static boolean within(String path, String other) {
    return path.startsWith(other)
        && (path.length() == other.length()
            || path.charAt(other.length()) == '/'
            || path.charAt(other.length()) == '.');
  }

  /** Returns a path as an absolute one; relative ones start at a prim. */
  static String absolute(String prim, String path) {
    if (path.startsWith("/")) {
      return path.length() > 1 && path.endsWith("/") ? path.substring(0, path.length() - 1) : path;
    }
    String at = plain(prim);
    String rest = path;
    while (rest.startsWith("..")) {
      at = parent(at);
      rest = rest.substring(rest.startsWith("../") ? 3 : 2);
    }
    if (rest.startsWith("./")) {
      rest = rest.substring(2);
    }
    return rest.isEmpty() || rest.equals(".")
        ? at
        : rest.startsWith(".") ? at + rest : at + "/" + rest;
  }
}

package org.wedgecutter.core.scene.usd.stage;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A place in a layer stack from which a prim has opinions, in the tree of all such places. Its
 * children are places that arcs of its prim, or of one above it, lead to.
 */
final class Site {
  /** How a place comes in, the strongest way first. */
  enum Arc {
    ROOT,
    INHERIT,
    VARIANT,
    REFERENCE,
    PAYLOAD,
    SPECIALIZE
  }

  final LayerStack stack;
  final String path;
  final Arc arc;
  final @Nullable Site parent;

  /** How deep the prim is whose arc leads here, in the parent's stack. */
  final int depth;

  /** Counts places as they come; of two alike the first is stronger. */
  final int order;

  /** Where the arc leads, and from where, without variants: how its names become the parent's. */
  final String from;

  final String to;
  final LayerOffset offset;

  /** Whether an arc of a prim above leads here. */
  boolean ancestral;

  /** Whether it says nothing, though what is below it in the tree may. */
  boolean silent;

  final List<Site> children = new ArrayList<>();

  Site(
      LayerStack stack,
      String path,
      Arc arc,
      @Nullable Site parent,
      int depth,
      int order,
      String from,
      String to,
      LayerOffset offset) {
    this.stack = stack;
    this.path = path;
    this.arc = arc;
    this.parent = parent;
    this.depth = depth;
    this.order = order;
    this.from = from;
    this.to = to;
    this.offset = offset;
  }

  /**
   * Returns a path as the parent's stack names it; null if it has no name there. Classes, and what
   * variants and specializes hold, keep paths outside the arc's prim.
   */
  @Nullable String outwards(String name, boolean global) {
    if (arc == Arc.ROOT || arc == Arc.VARIANT) {
      return name;
    }
    if (Paths.within(name, from)) {
      return to + name.substring(from.length());
    }
    boolean same = isClass() || global;
    // what has the name outside already is what the arc brings in
    return same && !Paths.within(name, to) ? name : null;
  }

  /** Returns a path as the stage names it; null if it has no name there. */
  @Nullable String inStage(String name) {
    String out = name;
    for (Site at = this; at != null && out != null; at = at.parent) {
      out = at.outwards(out, false);
    }
    return out;
  }

  /** Whether a class is here: what is inherited or specialized. */
  boolean isClass() {
    return arc == Arc.INHERIT || arc == Arc.SPECIALIZE;
  }

  /** Whether it is inherited, or lies within what is. */
  boolean isInherited() {
    for (Site at = this; at != null; at = at.parent) {
      if (at.arc == Arc.INHERIT) {
        return true;
      }
    }
    return false;
  }

  /** Returns how this place's time codes become the stage's. */
  LayerOffset toStage() {
    LayerOffset out = LayerOffset.NONE;
    for (Site at = this; at != null; at = at.parent) {
      out = out.then(at.offset);
    }
    return out;
  }

  /** Returns the tree of a child prim: the same places, one name further. */
  Site descend(String name, @Nullable Site above) {
    Site out = new Site(stack, path + "/" + name, arc, above, depth, order, from, to, offset);
    out.ancestral = true;
    out.silent = silent;
    for (Site child : children) {
      Site next = child.descend(name, out);
      // a class that says nothing here may still say something in a stack that brings this one in
      if (next.isClass()
          || !next.children.isEmpty()
          || (!next.silent && next.stack.says(next.path))) {
        out.children.add(next);
      }
    }
    return out;
  }

  /** Marks all as new. */
  void own() {
    ancestral = false;
    children.forEach(Site::own);
  }

  /** Returns all places, the strongest first; what is specialized is weaker than all else. */
  List<Site> strongestFirst() {
    List<Site> out = new ArrayList<>();
    List<Site> last = new ArrayList<>();
    collect(out, last);
    for (int k = 0; k < last.size(); k++) {
      last.get(k).collect(out, last);
    }
    return out;
  }

  private void collect(List<Site> out, List<Site> last) {
    out.add(this);
    children.sort((a, b) ->
        a.arc != b.arc
            ? a.arc.compareTo(b.arc)
            : a.depth != b.depth
                ? Integer.compare(b.depth, a.depth)
                : Integer.compare(a.order, b.order));
    children.stream().filter(c -> c.arc == Arc.SPECIALIZE).forEach(last::add);
    children.stream().filter(c -> c.arc != Arc.SPECIALIZE).forEach(c -> c.collect(out, last));
  }
}

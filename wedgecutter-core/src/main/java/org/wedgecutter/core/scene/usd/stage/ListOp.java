package org.wedgecutter.core.scene.usd.stage;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.function.Function;

/**
 * Edits of a list, as a layer holds them: a list of its own, or what it does to the list of weaker
 * layers (OpenUSD's list editing).
 *
 * @param explicit whether {@code items} replace everything
 * @param items the list, where it is explicit
 * @param prepended put in front
 * @param appended put behind
 * @param deleted taken out
 * @param added put behind unless they are there
 * @param ordered an order for those that are there
 */
public record ListOp<T>(
    boolean explicit,
    List<T> items,
    List<T> prepended,
    List<T> appended,
    List<T> deleted,
    List<T> added,
    List<T> ordered) {
  public ListOp {
    items = List.copyOf(items);
    prepended = List.copyOf(prepended);
    appended = List.copyOf(appended);
    deleted = List.copyOf(deleted);
    added = List.copyOf(added);
    ordered = List.copyOf(ordered);
  }

  /** A list that replaces everything. */
  public static <T> ListOp<T> explicit(List<T> items) {
    return new ListOp<>(true, items, List.of(), List.of(), List.of(), List.of(), List.of());
  }

  /** No edits. */
  public static <T> ListOp<T> none() {
    return new ListOp<>(false, List.of(), List.of(), List.of(), List.of(), List.of(), List.of());
  }

  /**
   * Returns it with one more edit of the same layer.
   *
   * @param edit prepend, append, delete, add or reorder; empty for an explicit list
   */
  ListOp<T> with(String edit, List<T> more) {
    return switch (edit) {
      case "prepend" -> new ListOp<>(false, items, more, appended, deleted, added, ordered);
      case "append" -> new ListOp<>(false, items, prepended, more, deleted, added, ordered);
      case "delete" -> new ListOp<>(false, items, prepended, appended, more, added, ordered);
      case "add" -> new ListOp<>(false, items, prepended, appended, deleted, more, ordered);
      case "reorder" -> new ListOp<>(false, items, prepended, appended, deleted, added, more);
      default -> explicit(more);
    };
  }

  /** Returns the edits on what a function makes of each item. */
  <U> ListOp<U> map(Function<T, U> each) {
    return new ListOp<>(
        explicit,
        items.stream().map(each).toList(),
        prepended.stream().map(each).toList(),
        appended.stream().map(each).toList(),
        deleted.stream().map(each).toList(),
        added.stream().map(each).toList(),
        ordered.stream().map(each).toList());
  }

  /** Returns the edits without an item. */
  ListOp<T> without(T item) {
    java.util.function.UnaryOperator<List<T>> rest =
        l -> l.stream().filter(i -> !i.equals(item)).toList();
    return new ListOp<>(
        explicit,
        rest.apply(items),
        rest.apply(prepended),
        rest.apply(appended),
        rest.apply(deleted),
        rest.apply(added),
        rest.apply(ordered));
  }

  /** Returns what becomes of the list of weaker layers. */
  public List<T> over(List<T> weaker) {
    if (explicit) {
      return new ArrayList<>(new LinkedHashSet<>(items));
    }
    LinkedHashSet<T> out = new LinkedHashSet<>(weaker);
    deleted.forEach(out::remove);
    out.addAll(added);
    if (!prepended.isEmpty()) {
      LinkedHashSet<T> front = new LinkedHashSet<>(prepended);
      front.addAll(out);
      out = front;
    }
    for (T item : appended) {
      out.remove(item);
      out.add(item);
    }
    return ordered.isEmpty() ? new ArrayList<>(out) : ordered(new ArrayList<>(out), ordered);
  }

  /**
   * Sorts a list by an order of some of its items: each of those takes what follows it, up to the
   * next of them, along; what stands before all of them stays in front.
   */
  static <T> List<T> ordered(List<T> list, List<T> order) {
    List<T> known = new LinkedHashSet<>(order).stream().filter(list::contains).toList();
    List<T> out = new ArrayList<>();
    int first = 0;
    while (first < list.size() && !known.contains(list.get(first))) {
      out.add(list.get(first++));
    }
    for (T item : known) {
      int at = list.indexOf(item);
      out.add(list.get(at++));
      while (at < list.size() && !known.contains(list.get(at))) {
        out.add(list.get(at++));
      }
    }
    return out;
  }
}

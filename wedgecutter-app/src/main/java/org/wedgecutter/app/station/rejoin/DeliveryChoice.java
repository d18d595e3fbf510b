package org.wedgecutter.app.station.rejoin;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Supplier;
import javafx.scene.control.ChoiceBox;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.panel.Words;

/** A choice among deliveries: those beside the plan, as they come and go, and any other. */
final class DeliveryChoice extends ChoiceBox<Path> {
  private final Supplier<List<Path>> found;
  private final int fromLast;
  private final List<Path> others = new ArrayList<>();

  /**
   * @param found finds those beside the plan
   * @param fromLast which of them is chosen as long as nobody chose: 0 for the last, -1 for none
   */
  DeliveryChoice(String id, Supplier<List<Path>> found, int fromLast) {
    this.found = found;
    this.fromLast = fromLast;
    setId(id);
    setConverter(Words.of(p -> String.valueOf(p.getFileName())));
    setOnShowing(e -> refresh());
    refresh();
  }

  /** Looks for them again; what is chosen stays while it is there. */
  void refresh() {
    List<Path> all = new ArrayList<>(found.get());
    int first = all.size() - 1 - fromLast;
    others.stream().filter(o -> !all.contains(o)).forEach(all::add);
    Path chosen = getValue();
    if (!getItems().equals(all)) {
      getItems().setAll(all);
    }
    if (chosen != null && all.contains(chosen)) {
      setValue(chosen);
    } else {
      setValue(fromLast >= 0 && first >= 0 ? all.get(first) : null);
    }
  }

  /** Adds one from elsewhere. */
  void add(@Nullable Path other) {
    if (other != null) {
      others.add(other);
      refresh();
    }
  }
}

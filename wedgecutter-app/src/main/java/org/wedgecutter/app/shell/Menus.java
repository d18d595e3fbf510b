package org.wedgecutter.app.shell;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;
import java.util.function.Supplier;
import javafx.application.Platform;
import javafx.scene.control.Menu;
import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.control.RadioMenuItem;
import javafx.scene.control.SeparatorMenuItem;
import javafx.scene.control.ToggleGroup;
import javafx.scene.input.KeyCombination;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.app.viewer.Look;
import org.wedgecutter.app.viewer.ViewerPane;

/** The menus of the top bar. Their shortcuts work wherever the focus is in the window. */
final class Menus {
  /** What the Plan menu does. */
  enum PlanAction {
    OPEN("Open…", "Shortcut+O"),
    SAVE("Save", "Shortcut+S"),
    SAVE_AS("Save as…", "Shortcut+Shift+S"),
    HISTORY("Edit history…", "Shortcut+H"),
    PROPOSE("Propose a cut…", ""),
    CARRY("Carry to another scene…", ""),
    TEMPLATE("Save as template…", ""),
    EXPORT_COLLECTIONS("Export collections…", ""),
    EXPORT_RECIPE("Export recipe…", ""),
    IMPORT("Import layer, cells, collections or recipe…", "");

    private final String text;
    private final String keys;

    PlanAction(String text, String keys) {
      this.text = text;
      this.keys = keys;
    }
  }

  /** What the Edit menu does. */
  enum EditAction {
    UNDO("Undo", "Shortcut+Z"),
    REDO("Redo", "Shortcut+Shift+Z");

    private final String text;
    private final String keys;

    EditAction(String text, String keys) {
      this.text = text;
      this.keys = keys;
    }
  }

  private final MenuButton plan = new MenuButton("Plan");
  private final MenuButton edit = new MenuButton("Edit");
  private final MenuButton view = new MenuButton("View");
  private final Menu recent = new Menu("Open recent");
  private final ToggleGroup themes = new ToggleGroup();

  /**
   * @param recentFiles tells the files that were open last; for the thread of files
   */
  Menus(
      Consumer<PlanAction> onPlan,
      Supplier<List<Path>> recentFiles,
      Consumer<Path> onRecent,
      Consumer<EditAction> onEdit,
      List<MenuItem> viewItems,
      Consumer<Theme> onTheme) {
    plan.setId("plan-menu");
    for (PlanAction action : PlanAction.values()) {
      if (action == PlanAction.HISTORY || action == PlanAction.TEMPLATE) {
        plan.getItems().add(new SeparatorMenuItem());
      }
      // dialogs block: the menu closes first
      plan.getItems()
          .add(
              item(action.text, action.keys, () -> Platform.runLater(() -> onPlan.accept(action))));
      if (action == PlanAction.OPEN) {
        plan.getItems().add(recent);
      }
    }
    plan.setOnShowing(e -> fillRecent(recentFiles.get(), onRecent));
    edit.setId("edit-menu");
    for (EditAction action : EditAction.values()) {
      edit.getItems().add(item(action.text, action.keys, () -> onEdit.accept(action)));
    }
    view.setId("view-menu");
    view.getItems().addAll(viewItems);
    view.setOnShowing(e -> refresh(view));
    view.getItems().add(new SeparatorMenuItem());
    for (Theme theme : Theme.values()) {
      String name = theme.name().toLowerCase(Locale.ROOT);
      RadioMenuItem item = new RadioMenuItem(theme == Theme.DARK ? "Dark theme" : "Light theme");
      item.setId("theme-" + name);
      item.setToggleGroup(themes);
      item.setUserData(theme);
      item.setOnAction(e -> onTheme.accept(theme));
      view.getItems().add(item);
    }
  }

  /** Returns the buttons that open the menus. */
  List<MenuButton> buttons() {
    return List.of(plan, edit, view);
  }

  /** Marks the theme in use. */
  void setTheme(Theme theme) {
    themes.getToggles().stream()
        .filter(t -> theme.equals(t.getUserData()))
        .findFirst()
        .ifPresent(themes::selectToggle);
  }

  /** Says what undo and redo would do. */
  void setHistory(String undo, String redo) {
    name(EditAction.UNDO, undo);
    name(EditAction.REDO, redo);
  }

  private void name(EditAction action, String what) {
    MenuItem item = edit.getItems().get(action.ordinal());
    item.setText(what.isEmpty() ? action.text : action.text + ": " + what);
    item.setDisable(what.isEmpty());
  }

  /** Returns a menu item with a real shortcut; an empty text gives none. */
  static MenuItem item(String text, String keys, Runnable action) {
    MenuItem item = new MenuItem(text);
    if (!keys.isEmpty()) {
      item.setAccelerator(KeyCombination.valueOf(keys));
    }
    item.setOnAction(e -> action.run());
    return item;
  }

  /**
   * Returns the items of the View menu that are about the picture.
   *
   * @param play begins or ends playback
   */
  static List<MenuItem> view(ViewerPane viewer, Runnable play) {
    List<MenuItem> out = new ArrayList<>();
    for (Look look : Look.values()) {
      String text = "%s   (%d)".formatted(look.title(), look.ordinal() + 1);
      out.add(item(text, () -> viewer.look(look), () -> viewer.offers(look)));
    }
    out.add(item("Flip   (F)", "", viewer::flip));
    out.add(item("Wipe   (W)", "", viewer::toggleWipe));
    out.add(item("Play or stop   (L)", "", play));
    out.add(item("Fit", "Shortcut+0", viewer::fit));
    out.add(item("1:1", "Shortcut+1", viewer::oneToOne));
    return out;
  }

  /** Returns a menu item that can be chosen only while something holds. */
  static MenuItem item(String text, Runnable action, BooleanSupplier possible) {
    MenuItem item = item(text, "", action);
    item.setUserData(possible);
    return item;
  }

  /** Greys out what can not be chosen now. */
  private static void refresh(MenuButton menu) {
    for (MenuItem item : menu.getItems()) {
      if (item.getUserData() instanceof BooleanSupplier possible) {
        item.setDisable(!possible.getAsBoolean());
      }
    }
  }

  private void fillRecent(List<Path> files, Consumer<Path> open) {
    recent.getItems().clear();
    for (Path file : files) {
      recent.getItems().add(item(shortened(file), "", () -> open.accept(file)));
    }
    recent.setDisable(files.isEmpty());
  }

  private static String shortened(Path file) {
    Path parent = file.getParent();
    return parent == null || parent.getFileName() == null
        ? file.toString()
        : parent.getFileName() + "/" + file.getFileName();
  }
}

package org.wedgecutter.app.shell;

import java.nio.file.Path;
import java.util.function.BiConsumer;
import org.wedgecutter.app.files.CarryFiles;
import org.wedgecutter.app.files.FileAsker;
import org.wedgecutter.app.files.FileWork;
import org.wedgecutter.app.files.ImageFiles;
import org.wedgecutter.app.files.PartFiles;
import org.wedgecutter.app.files.PlanFiles;
import org.wedgecutter.app.files.Preferences;
import org.wedgecutter.app.files.RejoinFiles;
import org.wedgecutter.app.files.ShotScenes;
import org.wedgecutter.app.panel.Bench;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.carry.Carry;

/** Everything in a window that touches files, and what the Plan menu does with it. */
final class WindowFiles implements AutoCloseable {
  private final FileWork work;
  private final PlanFiles plans;
  private final PartFiles parts;
  private final CarryFiles carrying;
  private final ImageFiles images;
  private final ShotScenes scenes;
  private final RejoinFiles rejoins;
  private final Preferences preferences;

  /**
   * @param carried shows what carrying did
   */
  WindowFiles(
      Bench bench, WindowSetup setup, FileAsker asker, BiConsumer<Path, Carry.Report> carried) {
    work = new FileWork(bench);
    plans = new PlanFiles(bench, work, asker, setup.ahead(), setup.stateFolder());
    parts = new PartFiles(bench, work, asker);
    carrying = new CarryFiles(bench, work, asker, plans, carried);
    images = new ImageFiles(bench, work, asker);
    scenes = new ShotScenes(bench, work);
    rejoins = new RejoinFiles(bench, work, asker);
    preferences = new Preferences(setup.stateFolder());
  }

  PlanFiles plans() {
    return plans;
  }

  PartFiles parts() {
    return parts;
  }

  ImageFiles images() {
    return images;
  }

  ShotScenes scenes() {
    return scenes;
  }

  RejoinFiles rejoins() {
    return rejoins;
  }

  /**
   * Does what the Plan menu asks for.
   *
   * @param layer the layer that imported cells go into
   */
  void run(Menus.PlanAction action, String layer) {
    switch (action) {
      case OPEN -> plans.openAsk();
      case SAVE -> plans.save();
      case SAVE_AS -> plans.saveAs();
      case TEMPLATE -> parts.saveTemplate();
      case CARRY -> carrying.carryAsk();
      case EXPORT_COLLECTIONS -> parts.exportCollections();
      case EXPORT_RECIPE -> rejoins.exportRecipe();
      case IMPORT -> parts.importPart(layer);
      case HISTORY, PROPOSE -> throw new IllegalArgumentException(action + " is no file");
    }
  }

  /** Remembers the theme for the next start. */
  void remember(Theme theme) {
    work.run("remember the theme", () -> preferences.setTheme(theme.name()));
  }

  @Override
  public void close() {
    plans.close();
    scenes.close();
    work.close();
  }
}

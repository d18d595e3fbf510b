package org.wedgecutter.app.stations;

import java.util.List;
import java.util.function.Consumer;
import java.util.function.IntConsumer;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.sheet.CutRows;
import org.wedgecutter.app.sheet.OutputRows;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Subjects;
import org.wedgecutter.core.scene.Entity;

/**
 * The panel of what is selected in the sheet, and what is drawn over the picture with it: where a
 * catcher reaches, what the depth ramp does not.
 */
final class SelectionPanels {
  private final Bench bench;
  private final DetailPanel detail;
  private final CutRows cutRows;
  private final OutputRows outputRows;
  private final PicturePipe pipe;
  private final ShotPanel.Asker images;
  private boolean hatched;
  private boolean range;
  private int reaching = -1;
  private double soft;

  SelectionPanels(
      Bench bench,
      DetailPanel detail,
      CutRows cutRows,
      OutputRows outputRows,
      PicturePipe pipe,
      ShotPanel.Asker images) {
    this.bench = bench;
    this.detail = detail;
    this.cutRows = cutRows;
    this.outputRows = outputRows;
    this.pipe = pipe;
    this.images = images;
  }

  /** Shows a sentence, and nothing over the picture. */
  void text(String why) {
    overPicture(null, -1, false);
    detail.showText(why);
  }

  /** Shows what can be changed at Output. */
  void output(Session s, int row, @Nullable LayerDef layer, String why) {
    OutputRows.PassRow pass = outputRows.pass(row);
    overPicture(null, -1, pass != null && pass.pass() == Output.More.RAMP);
    if (pass != null) {
      detail.show(
          null,
          "pass %s — for the whole shot".formatted(pass.title()),
          new PassPanel(bench, s.plan(), pass, lamps(s)));
    } else if (layer == null || outputRows.property(row) == null) {
      detail.show(null, "settings — for the whole shot", new ShotPanel(bench, s.plan(), images));
    } else {
      detail.show(
          layer,
          "settings of layer " + layer.name() + " — for this layer only",
          new SettingPanel(bench, s.plan().requireShot(), layer, s.frame(), why));
    }
  }

  private static List<String> lamps(Session s) {
    EntitySet emitters = Subjects.emitters(s.plan().requireShot(), s.shot().scene());
    return s.plan().collections().stream()
        .filter(c -> s.shot().members().of(c).meets(emitters))
        .map(CollectionDef::name)
        .toList();
  }

  /** What the check row needs: what is wrong, and what can be done about it. */
  record Checked(List<Finding> found, IntConsumer show, Consumer<Finding.Fix> mend) {}

  /** Shows what can be changed at Cut. */
  void cut(Session s, int row, @Nullable LayerDef layer, String why, Checked checked) {
    CollectionDef collection = cutRows.collection(row);
    Entity entity = cutRows.entity(row);
    var members = s.shot().members();
    boolean cell = entity == null && cutRows.takesRoles(row) && layer != null;
    overPicture(
        cell && layer != null ? layer.cell(collection == null ? null : collection.name()) : null,
        layer == null ? -1 : s.plan().layerIndex(layer.name()),
        false);
    if (entity != null) {
      detail.show(
          null,
          entity.path() + " — for the whole shot",
          new EntityPanel(bench, s.plan(), members, layer, entity, s.frame()));
    } else if (cutRows.isCheck(row)) {
      detail.show(
          null,
          "Is everything seen exactly once?",
          new CheckPanel(
              cutRows.seen(), checked.found, checked.show::accept, checked.mend::accept));
    } else if (cell && layer != null) {
      String name = collection == null ? null : collection.name();
      detail.show(
          layer,
          "%s in layer %s — for this layer only"
              .formatted(name == null ? "the rest" : name, layer.name()),
          new CellPanel(
              bench, s.plan(), layer, name, cutRows.entities(row), members, s.frame(), why));
    } else if (collection != null) {
      detail.show(
          null,
          "Collection " + collection.name() + " — for the whole shot",
          new CollectionPanel(bench, collection, members, pipe::highlight));
    } else {
      detail.showText(why);
    }
  }

  /** Draws over new pictures what was drawn over those before. */
  void picturesCame() {
    draw();
  }

  private void overPicture(@Nullable Cell cell, int layer, boolean range) {
    CatcherTuning.Reach reach =
        cell == null || cell.role() != Role.CATCHER ? null : cell.catching().tuning().reach();
    reaching = reach == null ? -1 : layer;
    soft = reach == null ? 0 : reach.soft();
    this.range = range;
    draw();
  }

  private void draw() {
    pipe.reach(reaching, soft);
    if (range) {
      pipe.depthRange();
    } else if (hatched) {
      pipe.highlight(EntitySet.NONE);
    }
    hatched = range;
  }
}

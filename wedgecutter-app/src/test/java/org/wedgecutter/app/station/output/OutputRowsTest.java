package org.wedgecutter.app.station.output;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.wedgecutter.app.sheet.Row;
import org.wedgecutter.app.theme.Theme;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.testing.ShotFolder;

/** What the rows of the Output station are and say. */
class OutputRowsTest {
  private final OutputRows rows = new OutputRows(() -> Theme.DARK);
  private Plan plan;

  @BeforeEach
  void read() throws Exception {
    plan = PlanReader.parse(ShotFolder.PLAN, Path.of("set.wedge"));
    rows.update(plan, 1);
  }

  private int row(String label) {
    return rows.rows().stream().map(Row::label).toList().indexOf(label);
  }

  @Test
  void everySettingOfALayerHasARow() {
    for (Property p : Property.values()) {
      boolean shown = false;
      for (int r = 0; r < rows.rows().size(); r++) {
        shown |= rows.property(r) == p;
      }
      assertThat(shown).as(p.word()).isEqualTo(p.isSetting());
    }
  }

  @Test
  void everyPassHasARowThatCanBeFoldedAway() {
    int all = rows.rows().size();
    for (Output.More more : Output.More.values()) {
      int r = row(more.word().replace('-', ' '));
      OutputRows.PassRow pass = rows.pass(r);
      assertThat(pass).as(more.word()).isNotNull();
      assertThat(pass.pass()).isEqualTo(more);
      assertThat(pass.on(plan.output())).isFalse();
      Output with = pass.with(plan.output(), true);
      assertThat(with.more()).containsExactly(more);
      assertThat(pass.with(with, false)).isEqualTo(plan.output());
    }
    rows.toggle("passes");
    assertThat(rows.rows()).hasSize(all - Output.More.values().length - 1);
    assertThat(rows.pass(all - 1)).isNull();
    rows.toggle("passes");
    assertThat(rows.rows()).hasSize(all);
  }

  @Test
  void thePartsOfTheBeautyAreOneRow() {
    OutputRows.PassRow parts = rows.pass(row("beauty components"));
    assertThat(parts.on(plan.output())).isTrue();
    assertThat(parts.with(plan.output(), false).passes()).isFalse();
    assertThat(parts.with(plan.output(), false).more()).isEqualTo(plan.output().more());
  }

  @Test
  void cellsSayWhoseValueTheyHave() {
    int samples = row("samples");
    assertThat(rows.describe(samples, -1)).isEqualTo("samples: 2 for the whole shot");
    assertThat(rows.describe(samples, 1)).isEqualTo("samples in layer Back: 2 (shot setting)");
    rows.update(LayerEdits.setting(plan, "Back", CellOverride.of(Property.MOTION_BLUR, false)), 1);
    assertThat(rows.describe(row("motion blur"), 1)).contains("in layer Back", "the shot has off");
    assertThat(rows.describe(row("depth ramp"), 0))
        .isEqualTo("depth ramp: not written with layer Floor");
    assertThat(rows.describe(row("passes"), 0)).contains("in addition to the beauty");
  }
}

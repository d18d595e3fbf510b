package org.wedgecutter.core.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.plan.Property.Verb;
import org.wedgecutter.core.testing.ShotFolder;

class OverrideTest {
  private static Plan plan(String heroCell, String settings) throws InputException {
    String text =
        ShotFolder.PLAN.replace(
            "\"hue\": 2, \"cells\": {\"Front\": {\"role\": \"Seen\"}}",
            "\"hue\": 2, \"cells\": {\"Front\": {\"role\": \"Seen\", \"overrides\": [%s]}}, \"settings\": [%s]"
                .formatted(heroCell, settings));
    return PlanReader.parse(text, Path.of("t.wedge"));
  }

  @Test
  void everySortOfValueIsWrittenAsItWasRead() throws Exception {
    Plan plan =
        plan(
            """
            {"property": "material", "verb": "set", "value": "clay", "reason": {"by": "us"}},
            {"property": "material.base-color", "verb": "scale", "value": [0.5, 1, 0.25]},
            {"property": "material.roughness", "verb": "add", "value": 0.1, "on": false},
            {"property": "shadow.self", "verb": "set", "value": false},
            {"property": "light.intensity", "verb": "scale",
             "keys": [[1, 0.2], [24, 1]], "between": "step"}
            """,
            """
            {"property": "size", "verb": "set", "value": [20, 12]},
            {"property": "size", "verb": "scale", "value": 0.5, "on": false},
            {"property": "frames", "value": "1-2"},
            {"property": "bounces", "verb": "set", "value": 1}
            """);
    String text = PlanWriter.text(plan);
    Plan again = PlanReader.parse(text, Path.of("t.wedge"));
    assertThat(again).isEqualTo(plan);
    assertThat(PlanWriter.text(again)).isEqualTo(text);
    assertThat(text).contains("\"reason\"", "\"by\" : \"us\"".replace(" :", " :"));
    assertThat(plan.layers().get(2).cell("Front").overrides()).hasSize(5);
    assertThat(plan.layers().get(2).settings()).hasSize(4);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "{\"property\": \"colour\", \"value\": 1} | property",
        "{\"property\": \"samples\", \"value\": 1} | unknown property 'samples'",
        "{\"property\": \"shadow.casts\", \"verb\": \"scale\", \"value\": 2} | can only be set",
        "{\"property\": \"shadow.casts\", \"value\": 2} | true or false",
        "{\"property\": \"material.roughness\", \"value\": 2} | must be between 0 and 1",
        "{\"property\": \"material.roughness\", \"value\": \"x\"} | material.roughness is a number",
        "{\"property\": \"material.roughness\"} | expected value or keys",
        "{\"property\": \"material.roughness\", \"keys\": [[5, 0.1], [5, 0.2]]} | frames of keys must increase"
      })
  void aWrongOverrideIsToldWithItsPlace(String override, String expected) {
    assertThatThrownBy(() -> plan(override, ""))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("layers/2/cells/Front/overrides/0")
        .hasMessageContaining(expected);
  }

  @Test
  void theSchemaListsEveryProperty() {
    for (Property p : Property.values()) {
      assertThat(PlanSchema.plan().text()).contains("\"" + p.word() + "\"");
      assertThat(Property.of(p.word())).contains(p);
    }
  }

  @Test
  void valuesBetweenKeysAreOnALineOrHold() {
    CellOverride line =
        CellOverride.of(Property.ROUGHNESS, Verb.SET, new Value.Num(0))
            .with(
                Verb.SET,
                List.of(
                    new CellOverride.Key(10, new Value.Num(0.2)),
                    new CellOverride.Key(20, new Value.Num(0.6))),
                false);
    assertThat(line.at(1)).isEqualTo(new Value.Num(0.2));
    assertThat(((Value.Num) line.at(15)).number()).isEqualTo(0.4);
    assertThat(line.at(20)).isEqualTo(new Value.Num(0.6));
    assertThat(line.at(99)).isEqualTo(new Value.Num(0.6));
    CellOverride step = line.with(Verb.SET, line.keys(), true);
    assertThat(step.at(19)).isEqualTo(new Value.Num(0.2));
    assertThat(step.at(20)).isEqualTo(new Value.Num(0.6));
    assertThat(line.text()).contains("0.2 … 0.6 over frames 10 to 20");
  }

  @Test
  void scaleAndAddStayWithinTheRange() {
    Random random = new Random(4);
    for (int k = 0; k < 500; k++) {
      Property p = Property.values()[random.nextInt(Property.values().length)];
      if (p.sort() != Property.Sort.NUMBER) {
        continue;
      }
      Value before = new Value.Num(p.least() + random.nextDouble() * Math.min(1, p.most()));
      for (Verb verb : Verb.values()) {
        Value after = Value.apply(p, verb, before, new Value.Num(random.nextGaussian() * 3));
        assertThat(((Value.Num) after).number()).isBetween(p.least(), p.most());
      }
      assertThat(Value.apply(p, Verb.SCALE, before, new Value.Num(1))).isEqualTo(before);
      assertThat(Value.apply(p, Verb.ADD, before, new Value.Num(0))).isEqualTo(before);
    }
  }

  @ParameterizedTest
  @EnumSource(Property.class)
  void whatIsTypedIsReadAsItIsShown(Property p) {
    Value value =
        switch (p.sort()) {
          case SWITCH -> new Value.Switch(false);
          case NUMBER -> new Value.Num(0.25);
          case WHOLE -> new Value.Num(3);
          case COLOUR -> new Value.Colour(0.5, 0.25, 1);
          case MATERIAL -> new Value.Text("old brass");
          case SIZE -> new Value.Size(320, 200);
          case FRAMES -> new Value.Text("1-24x2,30");
        };
    assertThat(Value.parse(p, Verb.SET, value.text())).isEqualTo(value);
    assertThatThrownBy(
            () -> Value.parse(p, Verb.SET, p.sort() == Property.Sort.MATERIAL ? " " : "?!"))
        .isInstanceOf(IllegalArgumentException.class);
  }

  @Test
  void cellsAreCopiedWithTheirOverridesAndFillWhatIsLarger() throws Exception {
    Plan plan = plan("{\"property\": \"shadow.casts\", \"value\": false}", "");
    CellBlock block = CellBlock.copy(plan, List.of("Front"), List.of("Front"));
    CellBlock again = CellBlock.parse(block.text());
    assertThat(again).isEqualTo(block);
    java.util.List<String> rows = new java.util.ArrayList<>(List.of("Back", "Floor"));
    rows.add(null);
    Plan pasted = again.paste(plan, List.of("Floor", "Back"), rows);
    for (int l = 0; l < 2; l++) {
      for (String row : rows) {
        assertThat(pasted.layers().get(l).cell(row)).isEqualTo(block.cells().get(0).get(0));
      }
    }
    assertThatThrownBy(() -> CellBlock.parse("a, b")).hasMessageContaining("holds no cells");
    assertThatThrownBy(() -> CellBlock.parse("{\"wedgecutter_cells\": [[{\"role\": \"Ghost\"}]]}"))
        .hasMessageContaining("wedgecutter_cells/0/0");
  }

  @Test
  void partsTravelFromPlanToPlan(@TempDir Path dir) throws Exception {
    Plan plan = plan("{\"property\": \"shadow.casts\", \"value\": false}", "");
    Path collections = dir.resolve("c.json");
    PlanParts.save(PlanParts.collections(plan), collections);
    Plan bare = CollectionEdits.remove(plan, "Back");
    var got = PlanParts.read(bare, "", collections);
    assertThat(got.plan().collection("Back")).isEqualTo(plan.collection("Back"));
    assertThat(got.notes()).containsExactly("collection Back is new");

    Path layer = dir.resolve("l.json");
    PlanParts.save(PlanParts.layer(plan, "Front"), layer);
    var with = PlanParts.read(plan, "Floor", layer);
    assertThat(with.plan().layers().get(1).name()).isEqualTo("Front 2");
    assertThat(with.plan().layers().get(1).cells()).isEqualTo(plan.layers().get(2).cells());
    assertThat(with.plan().join("Front 2")).contains(Join.PLUS);

    Path cells = dir.resolve("k.json");
    PlanParts.save(PlanParts.cells(plan, "Front"), cells);
    var put = PlanParts.read(CollectionEdits.remove(plan, "Front"), "Back", cells);
    assertThat(put.notes()).anyMatch(n -> n.contains("cell of Front skipped"));
    assertThat(PlanParts.read(plan, "Back", cells).plan().layers().get(1).cell("Front"))
        .isEqualTo(plan.layers().get(2).cell("Front"));
    assertThatThrownBy(() -> PlanParts.read(plan, "Nobody", cells))
        .hasMessageContaining("expected a layer");
    Files.writeString(cells, "{\"wedgecutter\": 1}");
    assertThatThrownBy(() -> PlanParts.read(plan, "Back", cells))
        .hasMessageContaining("expected a layer, cells or collections");
  }

  @Test
  void namesFollowLayersAndCollectionsThroughEveryEdit() throws Exception {
    Plan plan = plan("{\"property\": \"shadow.casts\", \"value\": false}", "");
    Plan renamed = CollectionEdits.rename(plan, "Front", "Star");
    assertThat(renamed.layers().get(2).cells()).containsOnlyKeys("Star");
    assertThat(CollectionEdits.rename(plan, "Front", "Back")).isEqualTo(plan);
    Plan removed = CollectionEdits.remove(plan, "Front");
    assertThat(removed.layers()).allMatch(l -> !l.cells().containsKey("Front"));
    Plan moved = LayerEdits.move(plan, "Front", -2);
    assertThat(moved.layers().getFirst().name()).isEqualTo("Front");
    assertThat(moved.recipe().joins().getFirst().layer()).isEqualTo("Front");
    assertThat(LayerEdits.move(moved, "Front", 2)).isEqualTo(plan);
    Plan order = CollectionEdits.move(plan, "Floor", -5);
    assertThat(order.collections().getFirst().name()).isEqualTo("Floor");
    Plan copied = LayerEdits.copy(plan, "Front");
    assertThat(copied.layers().get(3).hue()).isNotIn(0, 1, 2);
  }
}

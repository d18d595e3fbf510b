package org.wedgecutter.core.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.io.InputException;

class PlanFileTest {
  static final Path FILE = Path.of("test.wedge");

  static final String PLAN =
      """
      {
        "wedgecutter": 1,
        "studio": {"desk": 7},
        "shot": {
          "scene": "a.glb", "frames": "1-4", "fps": 24, "size": [64, 36], "samples": 2,
          "mood": "dusk",
          "environment": {"image": "sky.hdr", "turn": 12.5, "level": 2, "sun": true}
        },
        "collections": [
          {"name": "Hero", "rule": "tag:hero", "added": ["/x"], "removed": ["/y"], "why": "star"},
          {"name": "Rest of it", "rule": "path:/**"}
        ],
        "layers": [
          {
            "name": "Back", "hue": 2, "render": false, "lens": 3,
            "cells": {
              "Hero": {
                "role": "Holdout",
                "catcher": {"caster": true, "later": 1},
                "overrides": [
                  {"property": "shadow.casts", "verb": "set", "value": false, "on": false, "by": "me"}
                ],
                "note": "cut around her",
                "extra": [1, 2]
              },
              "Rest of it": {"role": "Catcher", "catcher": {"output": "ratio"}}
            },
            "rest": {"role": "Absent"}
          },
          {"name": "Front", "cells": {"Hero": {"role": "Seen"}}}
        ],
        "recipe": {
          "joins": [
            {"layer": "Back", "join": "plus", "fade": 0.5},
            {"layer": "Front", "join": "over"}
          ],
          "grade": "warm"
        },
        "output": {"name": "{layer}/{frame:4}", "colour": "float", "compression": "rle", "passes": false, "x": 1}
      }
      """;

  @Test
  void everythingIsReadAsWritten() throws Exception {
    Plan plan = PlanReader.parse(PLAN, FILE);
    Shot shot = plan.requireShot();
    assertThat(shot.scene()).isEqualTo("a.glb");
    assertThat(shot.frames().frames()).containsExactly(1, 2, 3, 4);
    assertThat(shot.width()).isEqualTo(64);
    assertThat(shot.samples()).isEqualTo(2);
    assertThat(shot.bounces().surfaces()).isEqualTo(5);
    assertThat(shot.environment().turn()).isEqualTo(12.5);
    assertThat(shot.time(13)).isEqualTo(0.5);
    assertThat(plan.collections().getFirst().added()).containsExactly("/x");
    LayerDef back = plan.layers().getFirst();
    assertThat(back.render()).isFalse();
    assertThat(back.rest().role()).isEqualTo(Role.ABSENT);
    Cell hero = back.cells().get("Hero");
    assertThat(hero.role()).isEqualTo(Role.HOLDOUT);
    assertThat(hero.catcher().caster()).isTrue();
    assertThat(hero.overrides())
        .singleElement()
        .satisfies(o -> {
          assertThat(o.property()).isEqualTo(Property.SHADOW_CASTS);
          assertThat(o.at(1)).isEqualTo(new Value.Switch(false));
          assertThat(o.on()).isFalse();
        });
    assertThat(back.cells().get("Rest of it").catcher().output()).isEqualTo(CatcherOutput.RATIO);
    assertThat(plan.layers().get(1).rest().role()).isEqualTo(Role.HOLDOUT);
    assertThat(plan.join("Front")).contains(Join.OVER);
    assertThat(plan.join("Nobody")).isEmpty();
    assertThat(plan.output().half()).isFalse();
    assertThat(plan.output().passes()).isFalse();
  }

  @Test
  void unknownKeysAreKeptEverywhere() throws Exception {
    String text = PlanWriter.text(PlanReader.parse(PLAN, FILE));
    assertThat(text)
        .contains("\"studio\"", "\"desk\" : 7", "\"mood\" : \"dusk\"", "\"sun\" : true")
        .contains("\"why\" : \"star\"", "\"lens\" : 3", "\"later\" : 1", "\"by\" : \"me\"")
        .contains("\"extra\"", "\"fade\" : 0.5", "\"grade\" : \"warm\"", "\"x\" : 1");
  }

  @Test
  void writingAndReadingGivesTheSamePlanAndTheSameText() throws Exception {
    Plan plan = PlanReader.parse(PLAN, FILE);
    String text = PlanWriter.text(plan);
    Plan again = PlanReader.parse(text, FILE);
    assertThat(again).isEqualTo(plan);
    assertThat(PlanWriter.text(again)).isEqualTo(text);
    assertThat(PlanSchema.plan().check(text)).isEmpty();
  }

  @Test
  void aTemplateHasNoShot() throws Exception {
    Plan template = PlanReader.parse(PLAN, FILE).withShot(null);
    Plan again = PlanReader.parse(PlanWriter.text(template), FILE);
    assertThat(again.shot()).isNull();
    assertThatThrownBy(again::requireShot).hasMessageContaining("template");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      quoteCharacter = '`',
      value = {
        "\"layer\": \"Front\"; \"layer\": \"Frnt\"; recipe/joins/1/layer: there is no layer 'Frnt'; the layers are Back, Front",
        "\"layer\": \"Front\"; \"layer\": \"Back\"; recipe/joins/1/layer: 'Back' is joined twice",
        "\"name\": \"Front\"; \"name\": \"Back\"; layers/1/name: 'Back' occurs twice",
        "\"name\": \"Rest of it\"; \"name\": \"Hero\"; collections/1/name: 'Hero' occurs twice",
        "\"cells\": {\"Hero\": {\"role\": \"Seen\"}}; \"cells\": {\"Heroes\": {\"role\": \"Seen\"}}; layers/1/cells/Heroes: there is no collection",
        "\"tag:hero\"; \"tag:hero &\"; collections/0/rule: at character 11",
        "\"role\": \"Absent\"; \"role\": \"Gone\"; layers/0/rest/role",
        "\"shadow.casts\"; \"shadow.colour\"; layers/0/cells/Hero/overrides/0/property",
        "\"1-4\"; \"four\"; shot/frames: 'four' is not a frame range",
        "\"size\": [64, 36]; \"size\": [64, -1]; shot/size/1",
        "\"wedgecutter\": 1; \"wedgecutter\": 2; wedgecutter: format version 2 is newer",
        "\"wedgecutter\": 1,; ; required property 'wedgecutter'",
        "\"join\": \"over\"; \"join\": \"under\"; recipe/joins/1/join",
        "\"fps\": 24; \"fps\": 0; shot/fps",
      })
  void mistakesAreToldWithTheirPlace(String from, String to, String message) {
    assertThat(PLAN).contains(from);
    String bad = PLAN.replace(from, to == null ? "" : to);
    assertThatThrownBy(() -> PlanReader.parse(bad, FILE))
        .isInstanceOf(InputException.class)
        .hasMessageStartingWith("test.wedge: ")
        .hasMessageContaining(message)
        .satisfies(e -> assertThat(e.getMessage()).doesNotContain("\n"));
  }

  @Test
  void whatIsNotJsonIsToldWithLineAndColumn() {
    assertThatThrownBy(() -> PlanReader.parse("{\n \"a\": ]", FILE))
        .hasMessageContaining("line 2, column 7")
        .hasMessageContaining("not JSON");
    assertThatThrownBy(() -> PlanReader.parse("{\"a\": 1, \"a\": 2}", FILE))
        .isInstanceOf(InputException.class);
    assertThatThrownBy(() -> PlanReader.parse("[".repeat(100000), FILE))
        .isInstanceOf(InputException.class);
    assertThatThrownBy(() -> PlanReader.parse("", FILE)).isInstanceOf(InputException.class);
  }

  @Test
  void missingFilesAndFoldersAreTold(@TempDir Path dir) {
    assertThatThrownBy(() -> PlanReader.read(dir.resolve("no.wedge")))
        .hasMessageContaining("no such file");
    assertThatThrownBy(() -> PlanReader.read(dir)).isInstanceOf(InputException.class);
  }

  @Test
  void savingReplacesTheFileWhole(@TempDir Path dir) throws Exception {
    Path file = dir.resolve("deep/a.wedge");
    Plan plan = PlanReader.parse(PLAN, FILE);
    PlanWriter.save(plan, file);
    PlanWriter.save(plan.withCollections(plan.collections()), file);
    assertThat(PlanReader.read(file)).isEqualTo(plan);
    try (var list = Files.list(file.getParent())) {
      assertThat(list).containsExactly(file);
    }
  }

  @Test
  void damagedPlansNeverEscapeAsOtherExceptions() {
    int read = 0;
    for (int seed = 0; seed < 800; seed++) {
      Random random = new Random(seed);
      StringBuilder text = new StringBuilder(PLAN);
      for (int k = 0; k <= random.nextInt(3); k++) {
        int at = random.nextInt(text.length());
        switch (random.nextInt(3)) {
          case 0 -> text.deleteCharAt(at);
          case 1 -> text.setCharAt(at, "{}[]\",:0x".charAt(random.nextInt(9)));
          default -> text.insert(at, "9");
        }
      }
      try {
        PlanReader.parse(text.toString(), FILE);
        read++;
      } catch (InputException e) {
        assertThat(e.getMessage()).startsWith("test.wedge: ");
      }
    }
    assertThat(read).isBetween(20, 780);
  }
}

package org.wedgecutter.core.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.util.List;
import java.util.Random;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;

class RuleTest {
  private static Entity entity(String path, EntityKind kind, boolean moves, String... words) {
    return new Entity(0, path, kind, 0, 0, List.of("brass_old", "steel"), List.of(words), moves);
  }

  private static final Entity RING =
      entity("/orrery/arms/great ring", EntityKind.MESH, true, "hero");

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      quoteCharacter = '`',
      value = {
        "great*; true",
        "name:great*; true",
        "name:\"great ring\"; true",
        "'great ring'; true",
        "name:ring; false",
        "*ring; true",
        "great?ring; true",
        "great??ring; false",
        "path:/orrery/**; true",
        "path:/orrery/*; false",
        "path:/orrery/*/*; true",
        "path:/orrery/**/great*; true",
        "path:**ring; true",
        "path:/**; true",
        "path:/table/**; false",
        "kind:mesh; true",
        "kind:light; false",
        "material:brass*; true",
        "material:steel; true",
        "material:wood; false",
        "tag:hero; true",
        "tag:her; false",
        "moves:yes; true",
        "moves:no; false",
        "!moves:no; true",
        "kind:mesh & tag:hero; true",
        "kind:mesh & tag:villain; false",
        "tag:villain | tag:hero; true",
        "tag:villain | kind:light | kind:mesh & moves:yes; true",
        "(tag:villain | kind:mesh) & moves:no; false",
        "!(tag:villain | kind:light); true",
        "!!tag:hero; true",
        "~name:GREAT*; true",
        "name:GREAT*; false",
        "~ TAG*|tag:HERO; true",
        "'great*'; false",
        "  tag:hero  ; true",
        "``; false",
      })
  void takesWhatItSays(String rule, boolean expected) throws Exception {
    assertThat(RuleParser.parse(rule).matches(RING)).isEqualTo(expected);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      quoteCharacter = '`',
      value = {
        "name:; 5; expected a value",
        "a &; 3; expected a name",
        "& a; 0; expected a name",
        "(a | b; 6; expected )",
        "a b; 2; expected &, | or the end",
        "colour:red; 0; unknown key 'colour'",
        "a | farbe:rot; 4; unknown key",
        "name:\"open; 5; quote is not closed",
        "moves:maybe; 6; yes or no",
        "a); 1; expected &",
        "!; 1; expected a name",
        "~; 1; expected a name",
      })
  void saysAtWhichCharacterItIsWrong(String rule, int at, String message) {
    RuleException e = catchThrowableOfType(RuleException.class, () -> RuleParser.parse(rule));
    assertThat(e).as(rule).isNotNull();
    assertThat(e.at()).isEqualTo(at);
    assertThat(e).hasMessageContaining(message).hasMessageContaining("at character " + (at + 1));
  }

  @Test
  void hostileRulesEndInAnErrorNotInACrash() {
    assertThatThrownBy(() -> RuleParser.parse("(".repeat(1500))).isInstanceOf(RuleException.class);
    assertThatThrownBy(() -> RuleParser.parse("!".repeat(1500))).isInstanceOf(RuleException.class);
    assertThatThrownBy(() -> RuleParser.parse("a".repeat(5000))).isInstanceOf(RuleException.class);
  }

  @Test
  void manyStarsTakeNoLongerThanTheirLengthTimesTheText() throws Exception {
    Rule rule = RuleParser.parse("*a".repeat(800) + "b");
    assertThat(rule.matches(entity("/" + "a".repeat(900), EntityKind.MESH, false))).isFalse();
  }

  @Test
  void randomTextNeverDoesAnythingButParseOrExplain() {
    String alphabet = "ab*?/:&|!()\"' ~nametgpki";
    int parsed = 0;
    for (int seed = 0; seed < 20000; seed++) {
      Random random = new Random(seed);
      StringBuilder text = new StringBuilder();
      for (int k = random.nextInt(14); k >= 0; k--) {
        text.append(alphabet.charAt(random.nextInt(alphabet.length())));
      }
      try {
        Rule rule = RuleParser.parse(text.toString());
        rule.matches(RING);
        assertThat(rule.text()).isEqualTo(text.toString());
        parsed++;
      } catch (RuleException e) {
        assertThat(e.at()).isBetween(0, text.length());
      }
    }
    assertThat(parsed).isGreaterThan(500);
  }

  @Test
  void globsAgreeWithRegularExpressions() {
    for (int seed = 0; seed < 20000; seed++) {
      Random random = new Random(seed);
      StringBuilder glob = new StringBuilder();
      StringBuilder regex = new StringBuilder();
      for (int k = random.nextInt(6); k >= 0; k--) {
        switch (random.nextInt(5)) {
          case 0 -> {
            // a star beside a star would read as the double one
            if (glob.isEmpty() || glob.charAt(glob.length() - 1) != '*') {
              glob.append('*');
              regex.append("[^/]*");
            }
          }
          case 1 -> {
            if (glob.isEmpty() || glob.charAt(glob.length() - 1) != '*') {
              glob.append("**");
              regex.append(".*");
            }
          }
          case 2 -> {
            glob.append('?');
            regex.append("[^/]");
          }
          default -> {
            char c = "ab/".charAt(random.nextInt(3));
            glob.append(c);
            regex.append(c);
          }
        }
      }
      StringBuilder text = new StringBuilder();
      for (int k = random.nextInt(7); k >= 0; k--) {
        text.append("ab/".charAt(random.nextInt(3)));
      }
      assertThat(Rule.Glob.of(glob.toString(), false, false).matches(text.toString()))
          .as("%s on %s", glob, text)
          .isEqualTo(Pattern.matches(regex.toString(), text));
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "1; 1",
        "1-4; 1 2 3 4",
        "1-9x4; 1 5 9",
        "3,1-2; 1 2 3",
        "1-5x2,4,4; 1 3 4 5",
        " 7 ; 7"
      })
  void frameRangesReadAsWritten(String text, String frames) {
    assertThat(FrameRange.parse(text).frames())
        .containsExactlyElementsOf(
            java.util.Arrays.stream(frames.trim().split(" ")).map(Integer::valueOf).toList());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {"x", "1-", "4-1", "1-9x0", "1,,2", "-3", "1-999999x1", "''"})
  void wrongFrameRangesAreExplained(String text) {
    assertThatThrownBy(() -> FrameRange.parse(text))
        .isInstanceOf(IllegalArgumentException.class)
        .message()
        .isNotBlank();
  }

  /** The entity has two materials, brass_old and steel. */
  @ParameterizedTest
  @CsvSource({
    "material:brass*, true",
    "material:*, false",
    "name:*, false",
    "material:brass* | material:steel, false",
    "material:brass* | name:*, false",
    "!material:wood, false",
    "!(material:brass* & material:steel), false",
    "material:wood, false",
  })
  void aRuleMatchesInPartWhereOneOfTheMaterialsAloneWouldNotDo(String rule, boolean inPart)
      throws Exception {
    Entity lamp = entity("/set/lamp", EntityKind.MESH, false);
    assertThat(RuleParser.parse(rule).matchesInPart(lamp)).isEqualTo(inPart);
  }
}

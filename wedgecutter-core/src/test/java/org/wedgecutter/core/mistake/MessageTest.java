package org.wedgecutter.core.mistake;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** All messages at once: that they are sentences, with nothing of the code in them. */
class MessageTest {
  private static final Pattern PLACE = Pattern.compile("\\{(\\w+)[:}]");

  /** Words of the trade with a dot or a capital in them. */
  private static final Pattern ALLOWED =
      Pattern.compile("shadow\\.self|\\{layer}|\\{frame:4}|/front/a|/front/b|/front/c|HERO|1\\.5");

  private static Map<String, Object> arguments(Sentence sentence, boolean many) {
    Map<String, Object> out = new TreeMap<>();
    for (String template : List.of(sentence.text(), sentence.advice())) {
      Matcher m = PLACE.matcher(template);
      while (m.find()) {
        out.put(
            m.group(1),
            switch (m.group(1)) {
              case "entities", "holders" ->
                  many ? List.of("/front/a", "/front/b", "/front/c") : List.of("/front/a");
              case "lost" -> 1.5;
              case "count", "total", "frame", "held", "first", "last", "shotFirst", "shotLast" -> 7;
              case "padded" -> "{frame:4}";
              case "tokens" -> "{layer} and {frame:4}";
              default -> "HERO";
            });
      }
    }
    return out;
  }

  private static void isSentence(String text) {
    String plain = ALLOWED.matcher(text).replaceAll("x");
    assertThat(plain)
        .as(text)
        .isNotBlank()
        .doesNotContain("{", "}", "|", "  ", "null", "%")
        // a name of the code: two words grown together, or joined by a dot or an underscore
        .doesNotContainPattern("[a-z][A-Z]")
        .doesNotContainPattern("\\w[._]\\w")
        .doesNotEndWith(".")
        .doesNotContain(" ,", " :", " ;");
    assertThat(Character.isUpperCase(text.charAt(0)) && !text.startsWith("HERO"))
        .as("begins small: %s", text)
        .isFalse();
  }

  @ParameterizedTest
  @EnumSource(Sentence.class)
  void everySentenceIsPlainEnglishForOneThingAndForMany(Sentence sentence) {
    for (boolean many : new boolean[] {false, true}) {
      Message message = new Message(sentence, arguments(sentence, many));
      isSentence(message.text());
      isSentence(message.advice());
    }
  }

  @ParameterizedTest
  @EnumSource(Mistake.class)
  void everyMistakeIsExplainedAndCanBeTold(Mistake mistake) {
    for (String text : List.of(mistake.title(), mistake.meaning())) {
      assertThat(text).isNotBlank().doesNotContainPattern("[a-z][A-Z]").doesNotContain("  ");
    }
    assertThat(mistake.title()).doesNotEndWith(".");
    assertThat(mistake.meaning()).endsWith(".");
    assertThat(mistake.fix().isEmpty() || mistake.fix().endsWith(".")).isTrue();
    assertThat(Sentence.values()).anyMatch(s -> s.mistake() == mistake);
  }

  @Test
  void namesAreCountedAndVerbsFollow() {
    assertThat(Message.of(Sentence.SEEN_NOWHERE, "entities", List.of("/a")).text())
        .isEqualTo("/a is seen in no layer and missing from the rejoined picture");
    assertThat(Message.of(Sentence.SEEN_NOWHERE, "entities", List.of("/a", "/b")).text())
        .startsWith("/a and /b are seen");
    Message many = Message.of(Sentence.SEEN_NOWHERE, "entities", List.of("/a", "/b", "/c"));
    assertThat(many.text()).startsWith("/a and 2 more are seen");
    assertThat(many.advice()).isEqualTo("make them Seen in one layer");
    assertThat(many.during(3, 9).text()).endsWith(" in frames 3 to 9");
    assertThat(many.during(3, 3).text()).endsWith(" in frame 3");
    assertThat(many.during(3, 9)).isNotEqualTo(many);
    assertThat(Message.all(List.of("A", "B", "C"))).isEqualTo("A, B and C");
  }

  @Test
  void aNameThatLooksLikeAPlaceholderStaysAName() {
    assertThat(Message.of(Sentence.LAYER_EMPTY, "layer", "{layer} $1 \\").text())
        .isEqualTo("layer {layer} $1 \\ shows nothing and catches nothing");
  }

  @Test
  void aMissingArgumentIsRefused() {
    assertThatThrownBy(() -> Message.of(Sentence.LAYER_EMPTY, "entity", "x"))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining("LAYER_EMPTY")
        .hasMessageContaining("layer");
  }
}

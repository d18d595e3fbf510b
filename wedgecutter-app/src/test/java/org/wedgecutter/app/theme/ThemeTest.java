package org.wedgecutter.app.theme;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import javafx.scene.paint.Color;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/**
 * All text can be read: its size, and its contrast by the Web Content Accessibility Guidelines 2.1
 * (relative luminance, 4.5 to 1).
 */
class ThemeTest {
  private static final double LEAST = 4.5;
  private static final Pattern RULE = Pattern.compile("([^{}]+)\\{([^{}]*)}");

  private static Map<String, Color> colors(Theme t) {
    return Map.of(
        "-w-ground", t.ground,
        "-w-panel", t.panel,
        "-w-raised", t.raised,
        "-w-text", t.text,
        "-w-dim", t.dim,
        "-w-accent", t.accent,
        "-w-error", t.error,
        "-w-warning", t.warning);
  }

  private static double luminance(Color c) {
    double[] rgb = {c.getRed(), c.getGreen(), c.getBlue()};
    for (int i = 0; i < 3; i++) {
      rgb[i] = rgb[i] <= 0.03928 ? rgb[i] / 12.92 : Math.pow((rgb[i] + 0.055) / 1.055, 2.4);
    }
    return 0.2126 * rgb[0] + 0.7152 * rgb[1] + 0.0722 * rgb[2];
  }

  private static double contrast(Color a, Color b) {
    double la = luminance(a) + 0.05;
    double lb = luminance(b) + 0.05;
    return Math.max(la, lb) / Math.min(la, lb);
  }

  private static List<MatchResult> rules() throws Exception {
    try (InputStream in = Theme.class.getResourceAsStream("wedgecutter.css")) {
      String css = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      return RULE.matcher(css).results().toList();
    }
  }

  private static String value(String body, String property) {
    var m = Pattern.compile("(?:^|[;\\s])" + property + ":\\s*([^;]+)").matcher(body);
    return m.find() ? m.group(1).strip() : "";
  }

  @ParameterizedTest
  @EnumSource(Theme.class)
  void everyTextOfTheStyleSheetStandsOutFromWhatIsBehindIt(Theme theme) throws Exception {
    Map<String, Color> colors = colors(theme);
    int checked = 0;
    for (MatchResult rule : rules()) {
      String fill = value(rule.group(2), "-fx-text-fill");
      if (fill.isEmpty()) {
        continue;
      }
      assertThat(colors).as(rule.group(1)).containsKey(fill);
      String background = value(rule.group(2), "-fx-background-color");
      List<Color> behind = new ArrayList<>();
      if (colors.containsKey(background)) {
        behind.add(colors.get(background));
      } else if (rule.group(1).contains(".banner")) {
        behind.addAll(List.of(theme.error, theme.warning));
      } else {
        behind.addAll(List.of(theme.ground, theme.panel, theme.raised));
      }
      for (Color b : behind) {
        assertThat(contrast(colors.get(fill), b))
            .as("%s: %s on %s", rule.group(1).strip(), fill, Theme.web(b))
            .isGreaterThanOrEqualTo(LEAST);
        checked++;
      }
    }
    assertThat(checked).isGreaterThan(20);
  }

  @ParameterizedTest
  @EnumSource(Theme.class)
  void whatTheSheetDrawsStandsOut(Theme theme) {
    for (Color surface : List.of(theme.panel, theme.raised, theme.ground)) {
      for (Color text : List.of(theme.text, theme.dim, theme.error, theme.warning)) {
        assertThat(contrast(text, surface)).isGreaterThanOrEqualTo(LEAST);
      }
    }
    for (Color surface : List.of(theme.panel, theme.raised)) {
      assertThat(contrast(theme.inherited, surface)).isGreaterThanOrEqualTo(LEAST);
    }
    assertThat(contrast(theme.ground, theme.accent)).isGreaterThanOrEqualTo(LEAST);
    // roles of a layer's own are drawn over its hue
    for (int hue = 0; hue < 8; hue++) {
      Color tinted = theme.raised.interpolate(Theme.hue(hue), 0.16);
      assertThat(contrast(theme.text, tinted)).as("hue %d", hue).isGreaterThanOrEqualTo(LEAST);
    }
  }

  @org.junit.jupiter.api.Test
  void noTextIsSmall() throws Exception {
    for (MatchResult rule : rules()) {
      String size = value(rule.group(2), "-fx-font-size");
      if (!size.isEmpty()) {
        assertThat(Double.parseDouble(size.replace("px", "")))
            .as(rule.group(1))
            .isGreaterThanOrEqualTo(Theme.MIN_SIZE);
      }
    }
    assertThatThrownBy(() -> Theme.sans(11)).isInstanceOf(IllegalArgumentException.class);
  }
}

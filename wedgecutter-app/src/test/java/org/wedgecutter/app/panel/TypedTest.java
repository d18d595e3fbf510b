package org.wedgecutter.app.panel;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class TypedTest {
  @Test
  void numbersAreTakenWithinTheirBounds() {
    assertThat(Typed.number("0.5", 0, 1)).isEqualTo(0.5);
    assertThat(Typed.number(" 1 ", 0, 1)).isEqualTo(1);
    assertThat(Typed.number("0,5", 0, 1)).isEqualTo(0.5);
    assertThat(Typed.number("-2e1", -100, 1)).isEqualTo(-20);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {"", "much", "1.5", "-0.1", "NaN", "Infinity", "1,5", "0,500", "1,0,0", "0x10"})
  void whatIsNoneIsToldWithWhatWasExpected(String text) {
    assertThatThrownBy(() -> Typed.number(text, 0, 1))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining("'" + text + "'")
        .hasMessageContaining("expected a number from 0 to 1");
  }

  @Test
  void wholeNumbersAreWrittenWithoutAPoint() {
    assertThat(Typed.text(3)).isEqualTo("3");
    assertThat(Typed.text(-0.25)).isEqualTo("-0.25");
    assertThat(Typed.text(-1.9e-4)).isEqualTo("-0.00019");
    assertThat(Typed.text(1e-9)).isEqualTo("1.0E-9");
    assertThat(Typed.text(1e20)).isEqualTo("1.0E20");
  }
}

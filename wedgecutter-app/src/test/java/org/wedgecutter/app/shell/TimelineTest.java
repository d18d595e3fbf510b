package org.wedgecutter.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;

/** Where small pictures stand: 10 wide, in 0 to 100. */
class TimelineTest {
  private static List<Double> places(Double... wanted) {
    return Timeline.places(List.of(wanted), 10, 0, 100);
  }

  @Test
  void picturesStandAtTheirFramesWhereThereIsRoom() {
    assertThat(places(20.0, 50.0, 80.0)).containsExactly(20.0, 50.0, 80.0);
  }

  @Test
  void noneCoversAnother() {
    assertThat(places(20.0, 22.0, 24.0, 50.0)).containsExactly(20.0, 30.0, 40.0, 50.0);
  }

  @Test
  void noneLeavesTheTimeline() {
    assertThat(places(1.0, 2.0)).containsExactly(5.0, 15.0);
    assertThat(places(97.0, 98.0, 99.0)).containsExactly(75.0, 85.0, 95.0);
  }

  @Test
  void withoutPicturesThereAreNoPlaces() {
    assertThat(places()).isEmpty();
  }
}

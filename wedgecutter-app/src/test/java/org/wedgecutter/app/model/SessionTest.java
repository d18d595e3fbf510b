package org.wedgecutter.app.model;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanEdits;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.testing.ShotFolder;

class SessionTest {
  @TempDir Path dir;
  private Session session;

  @BeforeEach
  void open() throws Exception {
    session = new Session(Session.Opened.of(ShotFolder.load(dir)));
  }

  private boolean role(String layer, String collection, Role role) {
    return session.edit(
        collection + " " + role.word(),
        p -> PlanEdits.cell(p, layer, collection, c -> c.withRole(role)));
  }

  @Test
  void anEditIsResolvedAtOnce() {
    assertThat(role("Back", "Front", Role.SEEN)).isTrue();
    assertThat(session.resolved().layers().get(1).seen().size()).isEqualTo(2);
    assertThat(session.shot().plan()).isEqualTo(session.plan());
    assertThat(session.history().dirty()).isTrue();
  }

  @Test
  void anEditThatChangesNothingIsNoStep() {
    assertThat(role("Back", "Back", Role.SEEN)).isFalse();
    assertThat(session.undo()).isFalse();
    assertThat(session.history().dirty()).isFalse();
  }

  @Test
  void undoAndRedoWalkThroughEveryStateByName() {
    Plan[] states = new Plan[6];
    states[0] = session.plan();
    for (int k = 1; k < 6; k++) {
      role("Floor", "Front", Role.values()[k - 1]);
      states[k] = session.plan();
    }
    assertThat(session.history().undoName()).isEqualTo("Front Absent");
    for (int k = 4; k >= 0; k--) {
      assertThat(session.undo()).isTrue();
      assertThat(session.plan()).isEqualTo(states[k]);
    }
    assertThat(session.undo()).isFalse();
    assertThat(session.history().redoName()).isEqualTo("Front Seen");
    for (int k = 1; k < 6; k++) {
      assertThat(session.redo()).isTrue();
      assertThat(session.plan()).isEqualTo(states[k]);
      assertThat(session.resolved().layers()).hasSize(3);
    }
    assertThat(session.redo()).isFalse();
    assertThat(session.history().redoName()).isEmpty();
  }

  @Test
  void anEditAfterUndoForgetsWhatWasUndone() {
    role("Floor", "Front", Role.UNSEEN);
    session.undo();
    role("Floor", "Front", Role.ABSENT);
    assertThat(session.redo()).isFalse();
    session.undo();
    assertThat(session.history().undoName()).isEmpty();
  }

  @Test
  void savingWritesThePlanAndIsRemembered() throws Exception {
    role("Floor", "Front", Role.UNSEEN);
    session.shot().save();
    session.saved(session.plan(), session.shot().noted());
    assertThat(session.history().dirty()).isFalse();
    assertThat(PlanReader.read(session.shot().file())).isEqualTo(session.plan());
    session.undo();
    assertThat(session.history().dirty()).isTrue();
    session.redo();
    assertThat(session.history().dirty()).isFalse();
    session.undo();
    role("Floor", "Front", Role.ABSENT);
    assertThat(session.history().dirty()).as("the saved state can't be reached again").isTrue();
  }

  @Test
  void theFrameIsNoEdit() {
    assertThat(session.frame()).isEqualTo(1);
    assertThat(session.setFrame(2)).isTrue();
    assertThat(session.setFrame(2)).isFalse();
    assertThat(session.history().dirty()).isFalse();
    assertThat(session.motion().mean()).hasSize(2);
  }
}

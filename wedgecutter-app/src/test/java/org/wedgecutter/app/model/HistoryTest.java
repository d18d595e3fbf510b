package org.wedgecutter.app.model;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.testing.ShotFolder;

/** Edits that go on while something is dragged. */
class HistoryTest {
  private Plan plan;
  private History history;

  @BeforeEach
  void open() throws Exception {
    plan = PlanReader.parse(ShotFolder.PLAN, Path.of("set.wedge"));
    history = new History(plan);
    history.saved();
  }

  private Plan at(double opacity) {
    return LayerEdits.opacity(plan, "Front", opacity);
  }

  @Test
  void allOfAGestureIsOneStep() {
    Object drag = new Object();
    assertThat(history.adjust("opacity", drag, at(0.9))).isTrue();
    assertThat(history.adjust("opacity", drag, at(0.5))).isTrue();
    assertThat(history.adjust("opacity", drag, at(0.5))).as("nothing changed").isFalse();
    assertThat(history.plan()).isEqualTo(at(0.5));
    history.adjust("opacity", new Object(), at(0.2));
    assertThat(history.names()).hasSize(3);
    history.undo();
    assertThat(history.plan()).isEqualTo(at(0.5));
    history.undo();
    assertThat(history.plan()).isEqualTo(plan);
    assertThat(history.dirty()).isFalse();
  }

  @Test
  void aDragThatEndsWhereItBeganLeavesNothingToUndo() {
    history.edit("first", at(0.7));
    Object drag = new Object();
    history.adjust("opacity", drag, at(0.9));
    assertThat(history.adjust("opacity", drag, at(0.7))).as("the plan is another").isTrue();
    assertThat(history.plan()).isEqualTo(at(0.7));
    assertThat(history.names()).hasSize(2);
    history.adjust("opacity", drag, at(0.5));
    assertThat(history.names()).hasSize(3);
    history.undo();
    assertThat(history.undoName()).isEqualTo("first");
  }

  @Test
  void aGestureDoesNotGoOnAfterAnythingElse() {
    Object drag = new Object();
    history.adjust("opacity", drag, at(0.9));
    history.edit("another", at(0.7));
    history.adjust("opacity", drag, at(0.5));
    assertThat(history.names()).hasSize(4);
    history.undo();
    history.adjust("opacity", drag, at(0.4));
    history.undo();
    assertThat(history.plan()).as("what was undone is not changed").isEqualTo(at(0.7));
  }

  @Test
  void whatIsSavedWhileDraggingStaysAStep() {
    Object drag = new Object();
    history.adjust("opacity", drag, at(0.9));
    history.saved();
    history.adjust("opacity", drag, at(0.5));
    assertThat(history.dirty()).isTrue();
    history.undo();
    assertThat(history.dirty()).isFalse();
  }

  /** Saving takes a while, and edits go on. */
  @Test
  void whatIsSavedIsThePlanThatWasWritten() {
    history.edit("one", at(0.9));
    Plan written = history.plan();
    history.edit("two", at(0.5));
    history.saved(written, written);
    assertThat(history.dirty()).isTrue();
    history.undo();
    assertThat(history.dirty()).isFalse();
    history.undo();
    assertThat(history.dirty()).as("the disk holds an edit that is undone here").isTrue();
    history.redo();
    history.redo();
    history.edit("back", at(0.9));
    assertThat(history.dirty()).as("the same plan by another way").isFalse();
    history.undo();
    history.undo();
    history.undo();
    history.edit("other", at(0.1));
    history.saved(at(0.7), at(0.7));
    assertThat(history.dirty()).as("what was written is in no step").isTrue();
  }
}

package org.wedgecutter.app.files;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.app.model.History;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.testing.ShotFolder;

/** What is kept beside the plan's own file: copies for recovery, recent files, marks of files. */
class FilesKeptTest {
  @TempDir private Path dir;
  private Path file;
  private Plan saved;

  @BeforeEach
  void make() throws Exception {
    file = ShotFolder.make(dir.resolve("shot"));
    saved = PlanReader.read(file);
  }

  private Plan edited() {
    return LayerEdits.copy(saved, "Front");
  }

  private static List<Plan> found(Recovery recovery, Path file, Plan saved) {
    List<String> troubles = new ArrayList<>();
    List<Plan> out =
        recovery.find(file, saved, troubles::add).stream().map(Recovery.Found::plan).toList();
    assertThat(troubles).isEmpty();
    return out;
  }

  /** Each copy that nobody answered stays, and an answered one goes alone. */
  @Test
  void copiesOnOfferStayBesideNewOnes() throws Exception {
    Recovery recovery = new Recovery(dir);
    Plan other = LayerEdits.remove(saved, "Front");
    recovery.keep(file, edited());
    recovery.setAside(file);
    recovery.keep(file, other);
    assertThat(found(recovery, file, saved)).containsExactly(edited(), other);
    recovery.forget(file);
    assertThat(found(recovery, file, saved)).containsExactly(edited());
    recovery.keep(file, edited());
    recovery.forgetAside(file, edited());
    assertThat(found(recovery, file, saved)).as("the one kept now").containsExactly(edited());
  }

  @Test
  void aKeptCopyIsFoundUntilItIsForgotten() throws Exception {
    Recovery recovery = new Recovery(dir);
    assertThat(found(recovery, file, saved)).isEmpty();
    recovery.keep(file, edited());
    assertThat(found(new Recovery(dir), file, saved)).contains(edited());
    assertThat(Files.readString(file))
        .as("the file itself is not touched")
        .isEqualTo(ShotFolder.PLAN);
    recovery.forget(file);
    assertThat(found(recovery, file, saved)).isEmpty();
    recovery.forget(file);
  }

  @Test
  void aCopyThatSaysWhatTheFileSaysIsNothingToOffer() throws Exception {
    Recovery recovery = new Recovery(dir);
    recovery.keep(file, saved);
    assertThat(found(recovery, file, saved)).isEmpty();
    assertThat(found(recovery, file, edited())).contains(saved);
  }

  @Test
  void plansOfTheSameNameInOtherFoldersHaveCopiesOfTheirOwn() throws Exception {
    Recovery recovery = new Recovery(dir);
    Path other = ShotFolder.make(dir.resolve("other"));
    recovery.keep(file, edited());
    assertThat(found(recovery, other, saved)).isEmpty();
    recovery.keep(other, LayerEdits.remove(saved, "Front"));
    assertThat(found(recovery, file, saved)).contains(edited());
  }

  @Test
  void recentFilesAreInOrderWithoutRepeatsAndAtMostTen() throws Exception {
    RecentFiles recent = new RecentFiles(dir);
    assertThat(recent.list()).isEmpty();
    for (int k = 0; k < 13; k++) {
      Path p = dir.resolve("p" + k + ".wedge");
      Files.writeString(p, "{}");
      recent.add(p);
    }
    recent.add(dir.resolve("p7.wedge"));
    assertThat(new RecentFiles(dir).list()).hasSize(10);
    assertThat(recent.list().getFirst()).isEqualTo(dir.resolve("p7.wedge"));
    assertThat(recent.list()).doesNotHaveDuplicates();
    Files.delete(dir.resolve("p7.wedge"));
    assertThat(recent.list()).as("what is gone is not offered").hasSize(9);
  }

  @Test
  void aListOfRecentFilesThatIsBrokenIsAnEmptyOne() throws Exception {
    Files.write(dir.resolve("recent.txt"), new byte[] {(byte) 0xff, (byte) 0xfe, 0, 10});
    assertThat(new RecentFiles(dir).list()).isEmpty();
    new RecentFiles(dir).add(file);
    assertThat(new RecentFiles(dir).list()).containsExactly(file.toAbsolutePath().normalize());
  }

  @Test
  void aChangeOfTheFileIsNoticedButNotASaveOfOurs() throws Exception {
    DiskWatch watch = new DiskWatch();
    assertThat(watch.changed()).isFalse();
    watch.know(file);
    assertThat(watch.changed()).isFalse();
    Files.writeString(file, ShotFolder.PLAN);
    assertThat(watch.changed()).as("the same again is no change").isFalse();
    Files.writeString(file, ShotFolder.PLAN + " ");
    assertThat(watch.changed()).isTrue();
    watch.know(file);
    assertThat(watch.changed()).isFalse();
    Files.delete(file);
    assertThat(watch.changed()).as("what is gone may be about to come").isFalse();
    Files.writeString(file, ShotFolder.PLAN.replace("Front", "Fore"));
    assertThat(watch.changed()).isTrue();
  }

  @Test
  void historyGoesToAnyStepAndKeepsThoseThatFollow() {
    History history = new History(saved);
    history.saved();
    Plan one = edited();
    Plan two = LayerEdits.remove(one, "Back");
    history.edit("one", one);
    history.edit("two", two);
    assertThat(history.names()).containsExactly("", "one", "two");
    assertThat(history.goTo(0)).isTrue();
    assertThat(history.plan()).isEqualTo(saved);
    assertThat(history.dirty()).isFalse();
    assertThat(history.redoName()).isEqualTo("one");
    assertThat(history.goTo(2)).isTrue();
    assertThat(history.plan()).isEqualTo(two);
    assertThat(history.at()).isEqualTo(2);
    assertThat(history.goTo(2)).isFalse();
    assertThat(history.goTo(-1)).isFalse();
    assertThat(history.goTo(3)).isFalse();
  }

  @Test
  void whatASaveKnowsOfTheSceneHoldsForEveryStepAndIsNoEdit() {
    History history = new History(saved);
    history.edit("one", edited());
    Plan noted =
        edited().withShot(edited().requireShot().withKnown(java.util.List.of("/front", "/back")));
    history.saved(edited(), noted);
    assertThat(history.dirty()).isFalse();
    assertThat(history.plan()).isEqualTo(noted);
    history.undo();
    assertThat(history.plan().requireShot().known()).containsExactly("/front", "/back");
    assertThat(history.names()).hasSize(2);
  }
}

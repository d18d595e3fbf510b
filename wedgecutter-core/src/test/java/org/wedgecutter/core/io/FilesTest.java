package org.wedgecutter.core.io;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class FilesTest {
  @TempDir Path dir;

  @Test
  void aFailureLeavesWhatWasThereAndNothingBeside() throws Exception {
    Path file = dir.resolve("a/b.txt");
    AtomicFile.write(file, out -> out.write("first".getBytes()));
    assertThatThrownBy(() ->
            AtomicFile.write(
                file,
                out -> {
                  out.write("sec".getBytes());
                  throw new IOException("disk full");
                }))
        .hasMessage("disk full");
    assertThat(file).hasContent("first");
    try (var list = Files.list(file.getParent())) {
      assertThat(list).containsExactly(file);
    }
    AtomicFile.write(file, out -> out.write("third".getBytes()));
    assertThat(file).hasContent("third");
  }

  @Test
  void aFileWrittenBitByBitIsThereWhenItIsCommitted() throws Exception {
    Path file = dir.resolve("deep/down.bin");
    try (AtomicFile writing = new AtomicFile(file)) {
      writing.channel().write(java.nio.ByteBuffer.wrap("one".getBytes()));
      assertThat(file).doesNotExist();
      writing.commit();
      assertThat(file).hasContent("one");
    }
    assertThat(file).hasContent("one");
    try (AtomicFile given = new AtomicFile(file)) {
      given.channel().write(java.nio.ByteBuffer.wrap("two".getBytes()));
    }
    assertThat(file).hasContent("one");
    try (var list = Files.list(file.getParent())) {
      assertThat(list).containsExactly(file);
    }
    assertThatThrownBy(() -> new AtomicFile(Path.of("/"))).isInstanceOf(IOException.class);
  }

  @Test
  void whatStoppedWritersLeftIsSweptAndWhatIsBeingWrittenIsNot() throws Exception {
    Path file = dir.resolve("a/b.exr");
    AtomicFile.write(file, out -> out.write("whole".getBytes()));
    Path left = file.resolveSibling(".b.exr.%s.part".formatted(java.util.UUID.randomUUID()));
    Files.writeString(left, "half of it, when the power went");
    Path other = file.resolveSibling("notes.part");
    Files.writeString(other, "somebody's own");
    try (AtomicFile writing = new AtomicFile(dir.resolve("a/c.exr"))) {
      writing.channel().write(java.nio.ByteBuffer.wrap("new".getBytes()));
      assertThat(AtomicFile.sweep(dir)).isEqualTo(1);
      assertThat(left).doesNotExist();
      assertThat(other).exists();
      writing.commit();
    }
    assertThat(dir.resolve("a/c.exr")).hasContent("new");
    assertThat(file).hasContent("whole");
    assertThat(AtomicFile.sweep(dir)).isZero();
  }

  @Test
  void namesInsideStayInside() throws Exception {
    assertThat(SafePath.inside(dir, "a/../b.png", dir, "x")).isEqualTo(dir.resolve("b.png"));
    for (String name : new String[] {"../x", "a/../../x", "/etc/passwd", "", "\0"}) {
      assertThatThrownBy(() -> SafePath.inside(dir, name, Path.of("f.gltf"), "images[0]"))
          .isInstanceOf(InputException.class)
          .hasMessageStartingWith("f.gltf: images[0]: ");
    }
  }

  @Test
  void messagesAreOneLine() {
    assertThat(new InputException(Path.of("f"), "here", "two\nlines"))
        .hasMessage("f: here: two lines");
    assertThat(new InputException(Path.of("f"), "", "wrong")).hasMessage("f: wrong");
  }
}

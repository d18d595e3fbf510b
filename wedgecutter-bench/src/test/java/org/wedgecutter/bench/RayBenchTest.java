package org.wedgecutter.bench;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.command.Commands;
import org.wedgecutter.core.io.InputException;

/** Files of triangles and rays are read as they are documented, and their hits are right. */
class RayBenchTest {
  private static final int GEOMETRY = 0x314F4547;
  private static final int RAYS = 0x31594152;

  @TempDir private Path dir;

  private Path file(String name, ByteBuffer bytes) throws IOException {
    Path out = dir.resolve(name);
    byte[] all = new byte[bytes.position()];
    bytes.flip().get(all);
    Files.write(out, all);
    return out;
  }

  private static ByteBuffer bytes(int magic) {
    return ByteBuffer.allocate(1 << 20).order(ByteOrder.LITTLE_ENDIAN).putInt(magic);
  }

  /** Two squares, one behind the other, across the z axis. */
  private Path squares() throws IOException {
    ByteBuffer b = bytes(GEOMETRY).putInt(8).putInt(4);
    for (int z = 0; z < 2; z++) {
      for (int k = 0; k < 4; k++) {
        b.putFloat(k == 1 || k == 2 ? 1 : -1).putFloat(k > 1 ? 1 : -1).putFloat(-z);
      }
    }
    for (int z = 0; z < 2; z++) {
      int o = 4 * z;
      b.putInt(o).putInt(o + 1).putInt(o + 2).putInt(o).putInt(o + 2).putInt(o + 3);
    }
    return file("squares.geom", b);
  }

  private Path rays(int count) throws IOException {
    Random random = new Random(2);
    ByteBuffer b = bytes(RAYS).putInt(2);
    for (String name : new String[] {"down", "short"}) {
      byte[] padded = new byte[16];
      byte[] word = name.getBytes(StandardCharsets.UTF_8);
      System.arraycopy(word, 0, padded, 0, word.length);
      b.put(padded).putInt(count);
      for (int r = 0; r < count; r++) {
        b.putFloat(4 * random.nextFloat() - 2).putFloat(4 * random.nextFloat() - 2).putFloat(2);
        b.putFloat(0.5f).putFloat(0).putFloat(0).putFloat(-1);
        b.putFloat(name.equals("short") ? 1.5f : 100);
      }
    }
    return file("rays.bin", b);
  }

  private static String printed(Path geometry, Path rays, String... more) {
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    List<String> args = new ArrayList<>(List.of("--rays", geometry.toString(), rays.toString()));
    args.addAll(List.of(more));
    int status =
        Commands.run(
            new BenchMain.Bench(),
            new PrintWriter(out),
            new PrintWriter(err, true),
            args.toArray(String[]::new));
    assertThat(err.toString()).isEmpty();
    assertThat(status).isEqualTo(Commands.FINE);
    return out.toString();
  }

  @Test
  void oneDocumentTellsHitsTimesAndSums() throws Exception {
    JsonNode told = new ObjectMapper().readTree(printed(squares(), rays(4000), "--json"));
    assertThat(told.get("triangles").asInt()).isEqualTo(4);
    for (String build : new String[] {"build_s_1t", "build_s_2t", "build_cpu_s_1t"}) {
      assertThat(told.get(build).asDouble()).isNotNegative();
    }
    JsonNode down = told.get("sets").get(0);
    assertThat(down.get("name").asText()).isEqualTo("down");
    assertThat(down.get("rays").asInt()).isEqualTo(4000);
    // a quarter of the rays meets the squares, two away
    int hits = down.get("closest_hits").asInt();
    assertThat(hits).isBetween(900, 1100);
    assertThat(down.get("any_hits").asInt()).isEqualTo(hits);
    assertThat(down.get("closest_sum_t").asDouble()).isEqualTo(2.0 * hits);
    for (String kind : new String[] {"closest", "any"}) {
      for (String end : new String[] {"_mrays_1t", "_mrays_2t", "_mrays_1t_cpu"}) {
        assertThat(down.get(kind + end).asDouble()).as(kind + end).isPositive();
      }
    }
    JsonNode cut = told.get("sets").get(1);
    assertThat(cut.get("closest_hits").asInt()).as("what ends before them").isZero();
    assertThat(cut.get("any_hits").asInt()).isZero();
  }

  @Test
  void aTableIsForPeople() throws Exception {
    assertThat(printed(squares(), rays(500)))
        .contains("4 triangles: built in")
        .contains("closest 1 thread")
        .contains("down")
        .contains("short");
  }

  @Test
  void whatIsWrongWithAFileIsTold() throws Exception {
    Path good = squares();
    Path none = file("none.bin", bytes(7).putInt(0));
    assertThatThrownBy(() -> RayBench.run(none, none))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("none.bin")
        .hasMessageContaining("0x314F4547");
    assertThatThrownBy(() -> RayBench.run(good, none))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("0x31594152");
    Path few = file("few.geom", bytes(GEOMETRY).putInt(8).putInt(4).putInt(0));
    assertThatThrownBy(() -> RayBench.run(few, rays(1)))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("few.geom")
        .hasMessageContaining("as much data as it says");
    ByteBuffer astray = bytes(GEOMETRY).putInt(1).putInt(1);
    astray.putFloat(0).putFloat(0).putFloat(0).putInt(0).putInt(0).putInt(5);
    Path out = file("astray.geom", astray);
    assertThatThrownBy(() -> RayBench.run(out, rays(1)))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("indices below 1");
    Path cut = file("cut.bin", bytes(RAYS).putInt(1).put(new byte[16]).putInt(9));
    assertThatThrownBy(() -> RayBench.run(good, cut))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("eight numbers a ray in set 0");
  }
}

package org.wedgecutter.exr;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.Random;
import java.util.stream.Stream;
import java.util.zip.Deflater;
import java.util.zip.DeflaterOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledOnOs;
import org.junit.jupiter.api.condition.OS;

/** Bytes that zlib has deflated, inflated by it and by the system's quicker library. */
class DeflateTest {
  /** Runs, noise and text of several lengths. */
  private static byte[] bytes(int seed) {
    Random random = new Random(seed);
    byte[] out = new byte[random.nextInt(200_000)];
    int values = 1 + random.nextInt(255);
    for (int i = 0; i < out.length; i++) {
      boolean again = i > 300 && random.nextInt(8) < seed % 8;
      out[i] = again ? out[i - 1 - random.nextInt(300)] : (byte) random.nextInt(values);
    }
    return out;
  }

  private static byte[] deflated(byte[] bytes, int level) throws Exception {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    Deflater deflater = new Deflater(level);
    try (var to = new DeflaterOutputStream(out, deflater)) {
      to.write(bytes);
    }
    deflater.end();
    return out.toByteArray();
  }

  @Test
  @EnabledOnOs(OS.LINUX)
  void theQuickerLibraryIsFound() {
    assertThat(QuickInflate.isThere()).as("libdeflate, which readers of TIFF need").isTrue();
  }

  @Test
  void bothGiveWhatWasDeflated() throws Exception {
    for (int seed = 0; seed < 60; seed++) {
      byte[] wanted = bytes(seed);
      byte[] packed = deflated(wanted, seed % 10);
      // somewhere in an array, as chunks are
      ByteBuffer in = ByteBuffer.allocate(packed.length + 9).position(5).put(packed).flip();
      in.position(5);
      byte[] quick = new byte[wanted.length + 3];
      byte[] slow = new byte[wanted.length + 3];
      assertThat(QuickInflate.unpack(in.slice(), quick, wanted.length))
          .isEqualTo(QuickInflate.isThere());
      Deflate.unpackByZlib(in.slice(), slow, wanted.length);
      assertThat(Arrays.copyOf(slow, wanted.length)).isEqualTo(wanted);
      if (QuickInflate.isThere()) {
        assertThat(quick).as("nothing is written behind").isEqualTo(slow);
      }
    }
  }

  @Test
  void whatIsWrongIsToldAlikeOnEveryMachine() throws Exception {
    int refused = 0;
    for (int seed = 0; seed < 400; seed++) {
      Random random = new Random(seed);
      byte[] packed = deflated(bytes(seed % 16), 6);
      packed[random.nextInt(packed.length)] ^= (byte) (1 << random.nextInt(8));
      int size = Math.max(0, bytes(seed % 16).length + random.nextInt(3) - 1);
      ByteBuffer in = ByteBuffer.wrap(packed, 0, packed.length - random.nextInt(2));
      byte[] own = new byte[size];
      byte[] slow = new byte[size];
      try {
        Deflate.unpackByZlib(in.duplicate(), slow, size);
      } catch (ExrException e) {
        refused++;
        assertThatThrownBy(() -> Deflate.unpack(in.duplicate(), own, size))
            .hasMessage(e.getMessage());
        continue;
      }
      Deflate.unpack(in.duplicate(), own, size);
      assertThat(own).isEqualTo(slow);
    }
    assertThat(refused).isBetween(100, 399);
  }

  @Test
  void manyThreadsInflateAtOnce() throws Exception {
    byte[] wanted = bytes(7);
    byte[] packed = deflated(wanted, 6);
    assertThat(
            Stream.generate(() -> packed)
                .limit(2000)
                .parallel()
                .map(p -> {
                  try {
                    return Deflate.unpack(ByteBuffer.wrap(p), wanted.length);
                  } catch (ExrException e) {
                    throw new AssertionError(e);
                  }
                })
                .allMatch(b -> Arrays.equals(b, wanted)))
        .isTrue();
  }
}

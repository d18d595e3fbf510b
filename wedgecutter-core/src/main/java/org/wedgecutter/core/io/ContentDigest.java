package org.wedgecutter.core.io;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.RecordComponent;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;
import java.util.Collection;
import java.util.HexFormat;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.joml.Matrix4f;
import org.joml.Quaternionf;
import org.joml.Vector3f;
import org.jspecify.annotations.Nullable;

/**
 * The SHA-256 of what a value holds: two values have the same digest exactly if all that is in them
 * is equal, whichever file or run they come from.
 *
 * <p>Values are records, lists, sets and maps (in any order), arrays of numbers, strings, numbers,
 * enumerations, matrices, vectors and rotations, down to their parts. Every part is preceded by its
 * kind, and by its length where it has one, so that no two values run together. A path counts as
 * nothing: where a file lies is not what it holds.
 */
public final class ContentDigest {
  private static final int BLOCK = 8192;

  /** How the parts of a record are read; found once for each sort. */
  private static final ClassValue<Method[]> PARTS =
      new ClassValue<>() {
        @Override
        protected Method[] computeValue(Class<?> type) {
          Method[] out =
              Arrays.stream(type.getRecordComponents())
                  .map(RecordComponent::getAccessor)
                  .toArray(Method[]::new);
          for (Method part : out) {
            part.setAccessible(true);
          }
          return out;
        }
      };

  private final MessageDigest digest;
  private final ByteBuffer buffer = ByteBuffer.allocate(BLOCK);
  private final UnaryOperator<@Nullable Object> stands;

  private ContentDigest(UnaryOperator<@Nullable Object> stands) {
    this.stands = stands;
    try {
      digest = MessageDigest.getInstance("SHA-256");
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has SHA-256", e);
    }
  }

  /**
   * Returns the digest of some values, hexadecimal.
   *
   * @throws IllegalArgumentException if a part is of another kind
   */
  public static String of(@Nullable Object... values) {
    return of(v -> v, values);
  }

  /**
   * Returns the digest of some values, hexadecimal.
   *
   * @param stands returns for a value what counts in its place: the value itself, or another, for
   *     parts of other kinds and for those that only point to what they mean
   * @throws IllegalArgumentException if a part is of another kind
   */
  public static String of(UnaryOperator<@Nullable Object> stands, @Nullable Object... values) {
    return HexFormat.of().formatHex(new ContentDigest(stands).bytes(values));
  }

  private byte[] bytes(@Nullable Object value) {
    ContentDigest own = new ContentDigest(stands);
    own.put(value);
    own.flush();
    return own.digest.digest();
  }

  private void flush() {
    digest.update(buffer.array(), 0, buffer.position());
    buffer.clear();
  }

  private void room(int bytes) {
    if (buffer.remaining() < bytes) {
      flush();
    }
  }

  private void kind(char kind, int length) {
    room(6);
    buffer.putChar(kind).putInt(length);
  }

  private void number(long bits) {
    room(8);
    buffer.putLong(bits);
  }

  private void put(@Nullable Object given) {
    Object value = stands.apply(given);
    switch (value) {
      case null -> kind('0', 0);
      case String s -> bytes('s', s.getBytes(StandardCharsets.UTF_8));
      case Path p -> kind('p', 0);
      case Enum<?> e -> bytes('e', e.name().getBytes(StandardCharsets.UTF_8));
      case Boolean b -> kind('b', b ? 1 : 0);
      case Float f -> real(f);
      case Double d -> real(d);
      case Number n -> {
        kind('n', 0);
        number(n.longValue());
      }
      case Optional<?> o -> put(o.orElse(null));
      case Map<?, ?> m -> map(m);
      case Set<?> s -> set(s);
      case Collection<?> c -> {
        kind('l', c.size());
        c.forEach(this::put);
      }
      case Record r -> record(r);
      case Matrix4f m -> array(m.get(new float[16]));
      case Vector3f v -> array(new float[] {v.x, v.y, v.z});
      case Quaternionf q -> array(new float[] {q.x, q.y, q.z, q.w});
      default -> array(value);
    }
  }

  private void real(double value) {
    kind('d', 0);
    number(Double.doubleToLongBits(value));
  }

  private void bytes(char kind, byte[] bytes) {
    kind(kind, bytes.length);
    flush();
    digest.update(bytes);
  }

  private void array(Object value) {
    switch (value) {
      case byte[] a -> bytes('B', a);
      case float[] a -> {
        kind('F', a.length);
        for (float x : a) {
          room(4);
          buffer.putInt(Float.floatToIntBits(x));
        }
      }
      case int[] a -> {
        kind('I', a.length);
        for (int x : a) {
          room(4);
          buffer.putInt(x);
        }
      }
      case short[] a -> {
        kind('S', a.length);
        for (short x : a) {
          room(2);
          buffer.putShort(x);
        }
      }
      case double[] a -> {
        kind('D', a.length);
        for (double x : a) {
          number(Double.doubleToLongBits(x));
        }
      }
      case boolean[] a -> {
        kind('Z', a.length);
        for (boolean x : a) {
          room(1);
          buffer.put((byte) (x ? 1 : 0));
        }
      }
      case Object[] a -> {
        kind('l', a.length);
        for (Object x : a) {
          put(x);
        }
      }
      default -> throw new IllegalArgumentException("%s has no digest".formatted(value.getClass()));
    }
  }

  /** Entries count in the order of their digests, so that the map's own order does not. */
  private void map(Map<?, ?> map) {
    kind('m', map.size());
    map.entrySet().stream()
        .map(e -> bytes(new Object[] {e.getKey(), e.getValue()}))
        .sorted(Arrays::compareUnsigned)
        .forEach(d -> bytes('B', d));
  }

  private void set(Set<?> set) {
    kind('t', set.size());
    set.stream().map(this::bytes).sorted(Arrays::compareUnsigned).forEach(d -> bytes('B', d));
  }

  private void record(Record value) {
    bytes('r', value.getClass().getSimpleName().getBytes(StandardCharsets.UTF_8));
    for (Method part : PARTS.get(value.getClass())) {
      try {
        put(part.invoke(value));
      } catch (IllegalAccessException | InvocationTargetException e) {
        throw new IllegalStateException("a record tells its parts", e);
      }
    }
  }
}

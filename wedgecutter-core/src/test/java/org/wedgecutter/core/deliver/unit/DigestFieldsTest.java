package org.wedgecutter.core.deliver.unit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.lang.reflect.Array;
import java.lang.reflect.Constructor;
import java.lang.reflect.RecordComponent;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.image.TextureImage;
import org.wedgecutter.core.plan.Bounces;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.AppearanceOverride;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Projection;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.scene.TextureRef;
import org.wedgecutter.core.trace.Environment;

/**
 * The table of fields that a digest holds, and of those that change no pixel: a field that is in
 * neither fails here.
 */
class DigestFieldsTest {
  /** Fields that change nothing, each with the reason. */
  private static final Map<Class<?>, Set<String>> LEFT_OUT =
      Map.of(
          Mesh.class, Set.of("name"), // written nowhere
          TextureImage.class, Set.of("name"),
          // how the density changes is in the digest of the time
          Medium.class, Set.of("name", "factors"),
          // how shapes and joints move is in the digest of the time
          Deformation.Morph.class, Set.of("rest", "weights"),
          // resolved to emitters in the catcher's own list
          CatcherTuning.class, Set.of("lights"));

  /** Seeds of values from here on differ from those below. */
  private static final int CHANGED = 100;

  static List<Class<?>> sorts() {
    return List.of(
        Mesh.class,
        Material.class,
        Material.Coat.class,
        Material.Dielectric.class,
        Material.Glass.class,
        Material.Sheen.class,
        TextureRef.Placing.class,
        TextureImage.class,
        Light.class,
        Medium.class,
        Medium.Puff.class,
        Rgb.class,
        Deformation.class,
        Deformation.Morph.class,
        Deformation.Skin.class,
        Environment.class,
        SceneCamera.Lens.class,
        Projection.class,
        Region.class,
        Bounces.class,
        TraceSettings.class,
        CatcherSpec.class,
        CatcherTuning.class,
        CatcherTuning.Place.class,
        CatcherTuning.Reach.class,
        AppearanceOverride.Change.class,
        Value.Switch.class,
        Value.Num.class,
        Value.Colour.class,
        Value.Text.class,
        Value.Size.class,
        ResolvedShot.Group.class);
  }

  @ParameterizedTest
  @MethodSource("sorts")
  void eachFieldCountsOrIsKnownToChangeNothing(Class<?> sort) throws Exception {
    RecordComponent[] parts = sort.getRecordComponents();
    Object[] values = values(parts);
    List<Object> listed = DigestFields.of(made(sort, parts, values));
    assertThat(listed.getFirst()).as("a word for its sort").isInstanceOf(String.class);
    Set<String> counted = new HashSet<>();
    for (int k = 0; k < parts.length; k++) {
      Object[] changed = values.clone();
      changed[k] = value(parts[k].getType(), k + CHANGED);
      List<Object> now = DigestFields.of(made(sort, parts, changed));
      if (!same(listed, now)) {
        counted.add(parts[k].getName());
      }
    }
    Set<String> all = new HashSet<>();
    Arrays.stream(parts).forEach(p -> all.add(p.getName()));
    all.removeAll(LEFT_OUT.getOrDefault(sort, Set.of()));
    assertThat(counted).containsExactlyInAnyOrderElementsOf(all);
    assertThat(listed).as("each once").hasSize(all.size() + 1);
  }

  @Test
  void eachSortHasAWordOfItsOwn() throws Exception {
    List<Object> words = new ArrayList<>();
    for (Class<?> sort : sorts()) {
      RecordComponent[] parts = sort.getRecordComponents();
      words.add(DigestFields.of(made(sort, parts, values(parts))).getFirst());
    }
    assertThat(words).doesNotHaveDuplicates();
  }

  @Test
  void picturesCountBySizeAndNumbers() {
    assertThat(DigestFields.of(Picture.empty(2, 3))).hasSize(4).startsWith("picture", 2, 3);
  }

  /** Where it stands is in the digest of the time; its name is written in no pixel. */
  @Test
  void camerasCountByWhatTheySee() {
    SceneCamera.Lens lens = new SceneCamera.Lens(0.02f, 2, 3);
    Projection none = Projection.NONE;
    assertThat(DigestFields.of(new SceneCamera("a", 1, null, 0.5f, lens, none)))
        .isEqualTo(DigestFields.of(new SceneCamera("b", 2, null, 0.5f, lens, none)))
        .isNotEqualTo(DigestFields.of(new SceneCamera("a", 1, null, 0.6f, lens, none)))
        .isNotEqualTo(DigestFields.of(new SceneCamera("a", 1, null, 0.5f, null, none)));
    for (Projection other :
        List.of(
            new Projection(0.1, 0, 0, 0),
            new Projection(0, 0.1, 0, 0),
            new Projection(0, 0, 0.1, 0),
            new Projection(0, 0, 0, 0.1))) {
      assertThat(DigestFields.of(new SceneCamera("a", 1, null, 0.5f, lens, other)))
          .isNotEqualTo(DigestFields.of(new SceneCamera("a", 1, null, 0.5f, lens, none)));
    }
  }

  @Test
  void aSortThatIsNotListedIsRefused() {
    record Unknown(int x) {}
    assertThatThrownBy(() -> DigestFields.of(new Unknown(1)))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining("Unknown");
  }

  private static Object[] values(RecordComponent[] parts) throws Exception {
    Object[] out = new Object[parts.length];
    for (int k = 0; k < parts.length; k++) {
      out[k] = value(parts[k].getType(), k);
    }
    return out;
  }

  private static boolean same(List<Object> a, List<Object> b) {
    for (int k = 0; k < a.size(); k++) {
      if (!java.util.Objects.deepEquals(a.get(k), b.get(k))) {
        return false;
      }
    }
    return true;
  }

  private static Record made(Class<?> sort, RecordComponent[] parts, Object[] values)
      throws Exception {
    Class<?>[] types = Arrays.stream(parts).map(RecordComponent::getType).toArray(Class<?>[]::new);
    Constructor<?> maker = sort.getDeclaredConstructor(types);
    maker.setAccessible(true);
    return (Record) maker.newInstance(values);
  }

  /** A value of a type that differs from those of other seeds. */
  private static Object value(Class<?> type, int seed) throws Exception {
    if (type == int.class || type == Integer.class) {
      return seed + 1;
    } else if (type == long.class) {
      return seed + 1L;
    } else if (type == float.class) {
      return (seed + 1) / 64f;
    } else if (type == double.class || type == Double.class) {
      return (seed + 1) / 64.0;
    } else if (type == boolean.class) {
      return seed >= CHANGED;
    } else if (type == String.class) {
      return "n" + seed;
    } else if (type == Path.class) {
      return Path.of("p" + seed);
    } else if (type == List.class) {
      return List.of("l" + seed);
    } else if (type.isEnum()) {
      Object[] all = type.getEnumConstants();
      return all[seed >= CHANGED ? 1 : 0];
    } else if (type.isArray()) {
      Object array = Array.newInstance(type.getComponentType(), seed >= CHANGED ? 12 : 6);
      if (!type.getComponentType().isPrimitive()) {
        for (int k = 0; k < Array.getLength(array); k++) {
          Array.set(array, k, value(type.getComponentType(), seed));
        }
      }
      return array;
    }
    return other(type, seed);
  }

  private static Object other(Class<?> type, int seed) throws Exception {
    if (type == Picture.class) {
      return Picture.empty(1, seed + 1);
    } else if (type == EntitySet.class) {
      return EntitySet.of(List.of(seed));
    } else if (type == TransportClass.class) {
      return TransportClass.whole(seed + 1, TraceSettings.unbiased(1, 1));
    } else if (type == Value.class) {
      return new Value.Num(seed);
    } else if (type.isRecord()) {
      RecordComponent[] parts = type.getRecordComponents();
      Object[] values = new Object[parts.length];
      for (int k = 0; k < parts.length; k++) {
        values[k] = value(parts[k].getType(), seed);
      }
      return made(type, parts, values);
    }
    throw new IllegalArgumentException("no values of " + type);
  }
}

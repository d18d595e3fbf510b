package org.wedgecutter.core.scene.usd;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Node;
import org.wedgecutter.core.scene.usd.stage.StagePrim;

/** Where the instances of a point instancer stand. */
final class UsdInstancers {
  private final Path file;
  private final UsdTime time;
  private final List<String> unsupported;

  UsdInstancers(Path file, UsdTime time, List<String> unsupported) {
    this.file = file;
    this.time = time;
    this.unsupported = unsupported;
  }

  /**
   * An instance.
   *
   * @param name its id, or its number if the instancer has no ids
   * @param prototype path of what it is an instance of
   */
  record Instance(String name, String prototype, Node.Local rest, List<Channel> channels) {}

  /** Returns the instances of an instancer that are active, as many as are at its first sample. */
  List<Instance> of(StagePrim prim) throws InputException {
    List<String> prototypes = prim.targets("prototypes");
    double[] kinds = prim.numbers("protoIndices");
    double[] first = prim.numbers("positions");
    if (kinds == null || first == null) {
      throw wrong(prim, "protoIndices", "an instancer has protoIndices and positions");
    }
    int n = kinds.length;
    if (first.length != 3 * n) {
      throw wrong(prim, "positions", "%d, expected %d".formatted(first.length / 3, n));
    }
    double[] ids = prim.numbers("ids");
    if (ids != null && ids.length != n) {
      throw wrong(prim, "ids", "%d, expected %d".formatted(ids.length, n));
    }
    UsdTime.Samples at = samples(prim, "positions", 3 * n);
    UsdTime.Samples turned = samples(prim, "orientations", 4 * n);
    UsdTime.Samples sized = samples(prim, "scales", 3 * n);
    changes(prim, "protoIndices");
    changes(prim, "invisibleIds");
    Set<Long> gone = new HashSet<>();
    add(gone, prim.numbers("invisibleIds"));
    if (prim.fields().get("inactiveIds") instanceof List<?> list) {
      for (Object id : list) {
        if (id instanceof Number one) {
          gone.add(one.longValue());
        }
      }
    }
    List<Instance> out = new ArrayList<>();
    for (int i = 0; i < n; i++) {
      int kind = (int) kinds[i];
      if (kind < 0 || kind >= prototypes.size()) {
        throw wrong(
            prim,
            "protoIndices",
            "%d, but there are %d prototypes".formatted(kind, prototypes.size()));
      }
      long id = ids == null ? i : (long) ids[i];
      if (gone.contains(id)) {
        continue;
      }
      List<Channel> channels = new ArrayList<>();
      float[] shift = part(at, Channel.Target.TRANSLATION, 3 * i, channels);
      float[] turn = part(turned, Channel.Target.ROTATION, 4 * i, channels);
      float[] size = part(sized, Channel.Target.SCALE, 3 * i, channels);
      out.add(
          new Instance(
              Long.toString(id),
              prototypes.get(kind),
              new Node.Local(
                  shift == null ? new float[3] : shift,
                  turn == null ? new float[] {0, 0, 0, 1} : turn,
                  size == null ? new float[] {1, 1, 1} : size),
              channels));
    }
    return out;
  }

  private static void add(Set<Long> to, double @Nullable [] ids) {
    if (ids != null) {
      for (double id : ids) {
        to.add((long) id);
      }
    }
  }

  private void changes(StagePrim prim, String name) {
    StagePrim.Property p = prim.properties().get(name);
    if (p != null && p.samples().size() > 1) {
      unsupported.add(
          "%s.%s: changes over time; the first sample counts".formatted(prim.path(), name));
    }
  }

  private UsdTime.@Nullable Samples samples(StagePrim prim, String name, int length) {
    UsdTime.Samples out = time.samples(prim, name, length);
    StagePrim.Property p = prim.properties().get(name);
    if (out == null && p != null && prim.numbers(name) != null) {
      unsupported.add(
          "%s.%s: its samples are not of one length; the first one counts"
              .formatted(prim.path(), name));
      double[] first = UsdTime.first(p);
      return first != null && first.length == length
          ? new UsdTime.Samples(new float[1], List.of(first))
          : null;
    }
    return out;
  }

  private static float @Nullable [] part(
      UsdTime.@Nullable Samples of, Channel.Target target, int at, List<Channel> channels) {
    if (of == null) {
      return null;
    }
    Channel channel = UsdTime.channel(target, of, at);
    if (channel != null) {
      channels.add(channel);
    }
    return UsdTime.part(target, of.values().getFirst(), at);
  }

  private InputException wrong(StagePrim prim, String property, String problem) {
    return new InputException(file, prim.path() + "." + property, problem);
  }
}

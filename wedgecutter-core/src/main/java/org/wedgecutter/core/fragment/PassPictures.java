package org.wedgecutter.core.fragment;

import static org.wedgecutter.core.plan.Output.More.ENVIRONMENT;
import static org.wedgecutter.core.plan.Output.More.OCCLUSION;
import static org.wedgecutter.core.plan.Output.More.SHADOW;
import static org.wedgecutter.core.plan.Output.More.UNSHADOWED;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.pass.IdMattes;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.trace.LightSplit;

/** Makes the passes of one picture from its light and its data. */
final class PassPictures {
  private final ResolvedShot.Asked asked;
  private final Set<Output.More> more;
  private final FragmentSums sums;
  private final LightSplit split;
  private final int view;
  private final float[] light;
  private final EntitySet shown;
  private final int pixels;
  private final Predicate<String> chosen;

  /** Names of data passes, and where their numbers stand in a sum's data. */
  private enum Data {
    ALBEDO("albedo", PassPicture.RGB, 13, false),
    DEPTH("", List.of("Z"), 0, true),
    RAMP("depth-ramp", List.of("Y"), 0, false),
    NORMAL("N", List.of("X", "Y", "Z"), 1, false),
    POSITION("P", List.of("X", "Y", "Z"), 4, true),
    UV("uv", List.of("U", "V"), 7, true),
    FORWARD("forward", List.of("U", "V"), 9, true),
    BACKWARD("backward", List.of("U", "V"), 11, true);

    final String name;
    final List<String> channels;
    final int from;
    final boolean exact;

    Data(String name, List<String> channels, int from, boolean exact) {
      this.name = name;
      this.channels = channels;
      this.from = from;
      this.exact = exact;
    }

    String title() {
      return name.isEmpty() ? channels.getFirst() : name;
    }

    static List<Data> of(Output.More more) {
      return switch (more) {
        case ALBEDO -> List.of(ALBEDO);
        case DEPTH -> List.of(DEPTH);
        case RAMP -> List.of(RAMP);
        case NORMAL -> List.of(NORMAL);
        case POSITION -> List.of(POSITION);
        case UV -> List.of(UV);
        case MOTION -> List.of(FORWARD, BACKWARD);
        case LIGHTS, UNSHADOWED, SHADOW, ENVIRONMENT, OCCLUSION, IDS, DEEP -> List.of();
      };
    }
  }

  /** The name of what is in no collection. */
  private static final String REST = "the rest";

  private static final List<String> MATTES =
      List.of("CryptoObject", "CryptoMaterial", "CryptoCollection");

  /** Returns the names that ID mattes of a scene have, by the name of the layer of mattes. */
  static Map<String, Set<String>> names(Scene scene, List<String> collections) {
    Set<String> objects = new LinkedHashSet<>();
    Set<String> materials = new LinkedHashSet<>();
    scene.materials().forEach(m -> materials.add(m.name()));
    for (Entity e : scene.entities()) {
      objects.add(e.path());
      // what has no material goes by its own name among materials
      if (e.kind() != EntityKind.MESH) {
        materials.add(e.path());
      }
    }
    Set<String> groups = new LinkedHashSet<>(List.of(REST));
    groups.addAll(collections);
    return Map.of(MATTES.get(0), objects, MATTES.get(1), materials, MATTES.get(2), groups);
  }

  /** Returns the word of plans for the sort of a pass; empty for one that is always written. */
  static String word(String title) {
    if (LightPass.isNamed(title)) {
      return Output.BEAUTY;
    }
    if (title.startsWith("light.")) {
      return Output.More.LIGHTS.word();
    }
    if (MATTES.stream().anyMatch(title::startsWith)) {
      return Output.More.IDS.word();
    }
    for (Output.More m : Output.More.values()) {
      if (m.word().equals(title) || Data.of(m).stream().anyMatch(d -> d.title().equals(title))) {
        return m.word();
      }
    }
    return "";
  }

  /** Returns the titles of all passes that are asked for, in order. */
  static List<String> titles(ResolvedShot.Asked asked, boolean plate) {
    Set<Output.More> more = asked.output().more();
    Set<String> out = new LinkedHashSet<>();
    LightPass.PASSES.forEach(p -> out.add(p.name()));
    if (more.contains(Output.More.LIGHTS)) {
      asked.emitters().forEach(g -> out.add("light." + g.name()));
      out.add("light.other");
    }
    if (plate) {
      out.add("plate");
    }
    for (Output.More m : List.of(UNSHADOWED, SHADOW, ENVIRONMENT, OCCLUSION)) {
      if (more.contains(m)) {
        out.add(m.word());
      }
    }
    more.forEach(m -> Data.of(m).forEach(d -> out.add(d.title())));
    if (more.contains(Output.More.IDS)) {
      for (String name : MATTES) {
        out.add(name);
        for (int k = 0; k < IdMattes.RANKS / 2; k++) {
          out.add(IdMattes.title(name, k));
        }
      }
    }
    return List.copyOf(out);
  }

  /**
   * @param light of what is shown, as the sums' {@link LightSplit} lays it out
   * @param shown whose data and names are written
   * @param chosen the titles of the passes that are made
   */
  PassPictures(
      ResolvedShot.Asked asked,
      FragmentSums sums,
      int view,
      float[] light,
      EntitySet shown,
      Predicate<String> chosen) {
    this.chosen = chosen;
    this.asked = asked;
    this.sums = sums;
    this.view = view;
    this.light = light;
    this.shown = shown;
    more = asked.output().more();
    split = sums.job().split();
    pixels = sums.width() * sums.height();
  }

  /** The passes that add up to the beauty; those by emitter add up to it too. */
  List<PassPicture> light() {
    List<PassPicture> out = new ArrayList<>();
    for (LightPass.Named pass : LightPass.PASSES) {
      light(out, pass.name(), pass.parts().stream().mapToInt(LightPass::at).toArray());
    }
    if (more.contains(Output.More.LIGHTS)) {
      Map<String, int[]> names = new LinkedHashMap<>();
      for (ResolvedShot.Group g : asked.emitters()) {
        int[] places =
            java.util.Arrays.stream(g.entities().indices())
                .map(e -> split.groupAt(split.group(e)))
                .toArray();
        names.merge("light." + g.name(), places, PassPictures::joined);
      }
      names.put("light.other", new int[] {split.groupAt(split.groups() - 1)});
      names.forEach((name, places) -> light(out, name, places));
    }
    return out;
  }

  private void light(List<PassPicture> out, String name, int... places) {
    if (chosen.test(name)) {
      out.add(PassPicture.light(name, sum(places)));
    }
  }

  private static int[] joined(int[] a, int[] b) {
    return IntStream.concat(java.util.Arrays.stream(a), java.util.Arrays.stream(b)).toArray();
  }

  private float[] sum(int... places) {
    float[] rgb = new float[3 * pixels];
    int numbers = split.numbers();
    for (int p = 0; p < pixels; p++) {
      for (int place : places) {
        for (int c = 0; c < 3; c++) {
          rgb[3 * p + c] += light[numbers * p + place + c];
        }
      }
    }
    return rgb;
  }

  /** All other passes that are asked for, except ID mattes. */
  List<PassPicture> more() {
    List<PassPicture> out = new ArrayList<>();
    if (more.contains(UNSHADOWED)) {
      light(out, "unshadowed", split.unshadowedAt());
    }
    if (more.contains(SHADOW) && chosen.test("shadow")) {
      out.add(PassPicture.light("shadow", shadow()));
    }
    if (more.contains(ENVIRONMENT)) {
      light(out, ENVIRONMENT.word(), LightPass.DIFFUSE_ENVIRONMENT.at());
    }
    if (more.contains(OCCLUSION) && chosen.test("occlusion")) {
      float[] values = new float[pixels];
      for (int p = 0; p < pixels; p++) {
        values[p] = light[split.numbers() * p + split.occlusionAt()];
      }
      out.add(new PassPicture("occlusion", List.of("Y"), values, false));
    }
    List<Data> places =
        more.stream()
            .flatMap(m -> Data.of(m).stream())
            .filter(d -> chosen.test(d.title()))
            .toList();
    if (split.data() && !places.isEmpty()) {
      float[] data = sums.data(view, shown);
      places.forEach(d -> out.add(part(d, data)));
    }
    return out;
  }

  /** Direct diffuse light divided by the same without shadows; 0/0 is 1. */
  private float[] shadow() {
    float[] lit = sum(LightPass.DIFFUSE_LIGHTS.at(), LightPass.DIFFUSE_ENVIRONMENT.at());
    float[] open = sum(split.unshadowedAt());
    for (int i = 0; i < lit.length; i++) {
      lit[i] = open[i] > 0 ? lit[i] / open[i] : 1;
    }
    return lit;
  }

  private PassPicture part(Data of, float[] data) {
    int n = of.channels.size();
    float[] values = new float[n * pixels];
    for (int i = 0; i < values.length; i++) {
      values[i] = data[FragmentSums.DATA * (i / n) + of.from + i % n];
      if (of == Data.RAMP) {
        Output o = asked.output();
        double z = (values[i] - o.near()) / Math.max(1e-9, o.far() - o.near());
        values[i] = (float) Math.max(0, Math.min(1, z));
      }
    }
    return new PassPicture(of.name, of.channels, values, of.exact);
  }

  /** The ID mattes by object, material and collection; none if they are not asked for. */
  List<IdMattes> ids(@Nullable Stage stage) {
    boolean none =
        MATTES.stream()
            .noneMatch(m ->
                chosen.test(m)
                    || IntStream.range(0, IdMattes.RANKS / 2)
                        .anyMatch(k -> chosen.test(IdMattes.title(m, k))));
    if (none || !more.contains(Output.More.IDS) || stage == null) {
      return List.of();
    }
    Scene scene = stage.scene();
    IdMattes objects = new IdMattes(MATTES.get(0), pixels);
    IdMattes materials = new IdMattes(MATTES.get(1), pixels);
    IdMattes collections = new IdMattes(MATTES.get(2), pixels);
    float[] object = new float[scene.entities().size()];
    float[] collection = new float[object.length];
    Arrays.fill(collection, IdMattes.id(REST));
    Map<String, Set<String>> names =
        names(scene, asked.collections().stream().map(ResolvedShot.Group::name).toList());
    List<IdMattes> all = List.of(objects, materials, collections);
    for (int k = 0; k < MATTES.size(); k++) {
      names.getOrDefault(MATTES.get(k), Set.of()).forEach(all.get(k)::name);
    }
    for (int e = 0; e < object.length; e++) {
      object[e] = IdMattes.id(scene.entities().get(e).path());
    }
    for (ResolvedShot.Group g : asked.collections()) {
      for (int e : g.entities().indices()) {
        collection[e] = IdMattes.id(g.name());
      }
    }
    float[] material = new float[scene.materials().size()];
    for (int m = 0; m < material.length; m++) {
      material[m] = IdMattes.id(scene.materials().get(m).name());
    }
    sums.covers(
        view,
        shown,
        (pixel, entity, of, cover) -> {
          objects.add(pixel, object[entity], cover);
          collections.add(pixel, collection[entity], cover);
          boolean mesh = scene.entities().get(entity).kind() == EntityKind.MESH;
          materials.add(pixel, mesh ? material[of] : object[entity], cover);
        });
    return List.of(objects, materials, collections);
  }
}

package org.wedgecutter.core.fragment;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.pass.IdMattes;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.trace.LightSplit;

/** The passes of one picture, made of its light and its data. */
final class PassPictures {
  private final ResolvedShot.Asked asked;
  private final Set<Output.More> more;
  private final FragmentSums sums;
  private final LightSplit split;
  private final int view;
  private final float[] light;
  private final EntitySet shown;
  private final int pixels;

  /**
   * @param light of what is shown, as the sums' {@link LightSplit} lays it out
   * @param shown whose data and names are told
   */
  PassPictures(
      ResolvedShot.Asked asked, FragmentSums sums, int view, float[] light, EntitySet shown) {
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
      int[] places = pass.parts().stream().mapToInt(LightPass::at).toArray();
      out.add(PassPicture.light(pass.name(), sum(places)));
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
      names.forEach((name, places) -> out.add(PassPicture.light(name, sum(places))));
    }
    return out;
  }

  private static int[] joined(int[] a, int[] b) {
    return java.util.stream.IntStream.concat(java.util.Arrays.stream(a), java.util.Arrays.stream(b))
        .toArray();
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

  /** Everything else that is asked for, but names. */
  List<PassPicture> more() {
    List<PassPicture> out = new ArrayList<>();
    if (more.contains(Output.More.UNSHADOWED)) {
      out.add(PassPicture.light("unshadowed", sum(split.unshadowedAt())));
    }
    if (more.contains(Output.More.SHADOW)) {
      out.add(PassPicture.light("shadow", shadow()));
    }
    if (more.contains(Output.More.OCCLUSION)) {
      float[] values = new float[pixels];
      for (int p = 0; p < pixels; p++) {
        values[p] = light[split.numbers() * p + split.occlusionAt()];
      }
      out.add(new PassPicture("occlusion", List.of("Y"), values, false));
    }
    if (split.data() && more.stream().anyMatch(Output.More::isData)) {
      data(out);
    }
    return out;
  }

  /** Diffuse light straight from emitters by the same without shadows; 0/0 is 1. */
  private float[] shadow() {
    float[] lit = sum(LightPass.DIFFUSE_LIGHTS.at(), LightPass.DIFFUSE_ENVIRONMENT.at());
    float[] open = sum(split.unshadowedAt());
    for (int i = 0; i < lit.length; i++) {
      lit[i] = open[i] > 0 ? lit[i] / open[i] : 1;
    }
    return lit;
  }

  private void data(List<PassPicture> out) {
    float[] data = sums.data(view, shown);
    Output o = asked.output();
    for (Output.More m : more) {
      switch (m) {
        case ALBEDO -> out.add(part("albedo", PassPicture.RGB, data, 13, false));
        case DEPTH -> out.add(part("", List.of("Z"), data, 0, true));
        case RAMP -> {
          PassPicture ramp = part("depth-ramp", List.of("Y"), data, 0, false);
          for (int p = 0; p < pixels; p++) {
            double z = (ramp.values()[p] - o.near()) / Math.max(1e-9, o.far() - o.near());
            ramp.values()[p] = (float) Math.max(0, Math.min(1, z));
          }
          out.add(ramp);
        }
        case NORMAL -> out.add(part("N", List.of("X", "Y", "Z"), data, 1, false));
        case POSITION -> out.add(part("P", List.of("X", "Y", "Z"), data, 4, true));
        case UV -> out.add(part("uv", List.of("U", "V"), data, 7, true));
        case MOTION -> {
          out.add(part("forward", List.of("U", "V"), data, 9, true));
          out.add(part("backward", List.of("U", "V"), data, 11, true));
        }
        case LIGHTS, UNSHADOWED, SHADOW, OCCLUSION, IDS -> {}
      }
    }
  }

  private PassPicture part(
      String name, List<String> channels, float[] data, int from, boolean exact) {
    int n = channels.size();
    float[] values = new float[n * pixels];
    for (int i = 0; i < values.length; i++) {
      values[i] = data[FragmentSums.DATA * (i / n) + from + i % n];
    }
    return new PassPicture(name, channels, values, exact);
  }

  /** The ID mattes by object, material and collection; none if they are not asked for. */
  List<IdMattes> ids(@Nullable Stage stage) {
    if (!more.contains(Output.More.IDS) || stage == null) {
      return List.of();
    }
    Scene scene = stage.scene();
    IdMattes objects = new IdMattes("CryptoObject", pixels);
    IdMattes materials = new IdMattes("CryptoMaterial", pixels);
    IdMattes collections = new IdMattes("CryptoCollection", pixels);
    float[] object = new float[scene.entities().size()];
    float[] collection = new float[object.length];
    java.util.Arrays.fill(collection, IdMattes.id("the rest"));
    collections.name("the rest");
    for (int e = 0; e < object.length; e++) {
      String path = scene.entities().get(e).path();
      object[e] = IdMattes.id(path);
      objects.name(path);
    }
    for (ResolvedShot.Group g : asked.collections()) {
      collections.name(g.name());
      for (int e : g.entities().indices()) {
        collection[e] = IdMattes.id(g.name());
      }
    }
    float[] material = new float[scene.materials().size()];
    for (int m = 0; m < material.length; m++) {
      material[m] = IdMattes.id(scene.materials().get(m).name());
      materials.name(scene.materials().get(m).name());
    }
    sums.covers(
        view,
        shown,
        (pixel, entity, of, cover) -> {
          objects.add(pixel, object[entity], cover);
          collections.add(pixel, collection[entity], cover);
          boolean mesh =
              scene.entities().get(entity).kind() == org.wedgecutter.core.scene.EntityKind.MESH;
          materials.add(pixel, mesh ? material[of] : object[entity], cover);
        });
    return List.of(objects, materials, collections);
  }
}

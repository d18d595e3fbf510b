package org.wedgecutter.core.rejoin;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.plan.MatteDef;

/** Layers that a test makes up; what recipes show is among the passes, by its path. */
record PictureSource(
    Function<String, Picture> layers,
    Map<String, Picture> passes,
    Map<String, Picture> covers,
    Map<String, float[]> depths,
    Map<String, DeepPicture> deeps,
    int shotWidth,
    Set<String> halves)
    implements LayerSource<RuntimeException> {
  PictureSource(Function<String, Picture> layers, Map<String, Picture> passes) {
    this(layers, passes, Map.of(), Map.of(), Map.of(), 0, Set.of());
  }

  PictureSource(
      Function<String, Picture> layers,
      Map<String, Picture> passes,
      Map<String, Picture> covers,
      Map<String, float[]> depths,
      Map<String, DeepPicture> deeps) {
    this(layers, passes, covers, depths, deeps, 0, Set.of());
  }

  PictureSource(
      Function<String, Picture> layers,
      Map<String, Picture> passes,
      Map<String, Picture> covers,
      Map<String, float[]> depths,
      Map<String, DeepPicture> deeps,
      int shotWidth) {
    this(layers, passes, covers, depths, deeps, shotWidth, Set.of());
  }

  @Override
  public Picture picture(String layer) {
    return layers.apply(layer);
  }

  /** Layers of which some are kept in half floats. */
  static PictureSource kept(Function<String, Picture> layers, Set<String> halves) {
    return new PictureSource(layers, Map.of(), Map.of(), Map.of(), Map.of(), 0, halves);
  }

  @Override
  public Precision precision(String layer, String pass, boolean deep) {
    return halves.contains(layer) ? Precision.HALF : Precision.FLOAT;
  }

  @Override
  public Picture image(String path) {
    return passes.get(path);
  }

  @Override
  public Picture pass(String layer, String pass) {
    return passes.get(pass);
  }

  @Override
  public Picture cover(String layer, MatteDef matte) {
    Picture known = covers.get(layer);
    return known == null ? IdCover.of(List.of(), Expression.ALPHA, picture(layer)) : known;
  }

  @Override
  public Depth depth(String layer) {
    Picture own = picture(layer);
    float[] known = depths.get(layer);
    if (known == null) {
      known = new float[own.width() * own.height()];
      Arrays.fill(known, 1);
    }
    return new Depth(own.width(), own.height(), known);
  }

  @Override
  public DeepPicture deep(String layer) {
    DeepPicture known = deeps.get(layer);
    return known == null ? atOneDepth(picture(layer)) : known;
  }

  private static DeepPicture atOneDepth(Picture flat) {
    float[][] pixels = new float[flat.width() * flat.height()][];
    for (int p = 0; p < pixels.length; p++) {
      float[] c = flat.rgba();
      pixels[p] = new float[] {1, 1, c[4 * p], c[4 * p + 1], c[4 * p + 2], c[4 * p + 3]};
    }
    return new DeepPicture(flat.width(), flat.height(), pixels);
  }
}

package org.wedgecutter.core.rejoin;

import java.lang.ref.SoftReference;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.fragment.TracedLayers;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.IdMatteFile;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.plan.Plan;

/**
 * The layers of a trace. A pass that the plan does not ask for has no light, picks nothing and is
 * nowhere: files would lack it too, which is a finding.
 */
public final class TracedSource implements LayerSource<RuntimeException> {
  private final Plan plan;
  private final TracedLayers layers;
  private final Function<String, Picture> images;
  private final Map<String, List<IdMatteFile>> mattes = new ConcurrentHashMap<>();

  private final Map<String, SoftReference<DeepPicture>> deeps = new ConcurrentHashMap<>();

  /** Passes of light that were read, as long as memory lasts. */
  private final Map<String, SoftReference<Picture>> passes = new ConcurrentHashMap<>();

  /** A source for recipes without pictures of their own. */
  public TracedSource(Plan plan, TracedLayers layers) {
    this(
        plan,
        layers,
        name -> {
          throw new IllegalStateException("no pictures are at hand: " + name);
        });
  }

  /**
   * @param images reads the pictures that recipes name
   */
  public TracedSource(Plan plan, TracedLayers layers, Function<String, Picture> images) {
    this.plan = plan;
    this.layers = layers;
    this.images = images;
  }

  @Override
  public Picture image(String path) {
    return images.apply(path);
  }

  @Override
  public Picture picture(String layer) {
    return layers.layer(plan.layerIndex(layer));
  }

  @Override
  public Picture pass(String layer, String pass) {
    SoftReference<Picture> known = passes.get(layer + "/" + pass);
    Picture out = known == null ? null : known.get();
    if (out == null) {
      out = made(layer, pass);
      passes.put(layer + "/" + pass, new SoftReference<>(out));
    }
    return out;
  }

  private Picture made(String layer, String pass) {
    Picture out = picture(layer).copy();
    PassPicture made =
        layers.passes(plan.layerIndex(layer), pass::equals).stream().findFirst().orElse(null);
    int channels = made == null ? 0 : Math.min(3, made.channels().size());
    for (int i = 0; i < out.rgba().length; i++) {
      int c = i & 3;
      if (c < 3) {
        out.rgba()[i] =
            made == null || c >= channels ? 0 : made.values()[i / 4 * made.channels().size() + c];
      }
    }
    return out;
  }

  @Override
  public Picture cover(String layer, MatteDef matte) {
    return IdCover.of(mattes(layer), matte, picture(layer));
  }

  /** Returns the ID mattes of a layer; none if the plan does not ask for them. */
  public List<IdMatteFile> mattes(String layer) {
    return mattes.computeIfAbsent(
        layer,
        l -> {
          int index = plan.layerIndex(l);
          List<PassPicture> ranks = layers.passes(index, t -> t.startsWith("Crypto"));
          return ranks.isEmpty()
              ? List.of()
              : IdMatteFile.of(ranks, layers.idHeader(index), picture(l).width());
        });
  }

  @Override
  public Depth depth(String layer) {
    return depth(layers.passes(plan.layerIndex(layer), "Z"::equals), picture(layer));
  }

  /** Returns the distances that a pass holds; nothing is near where there is none. */
  public static Depth depth(List<PassPicture> made, Picture own) {
    float[] metres;
    if (made.isEmpty()) {
      metres = new float[own.width() * own.height()];
      Arrays.fill(metres, Float.POSITIVE_INFINITY);
    } else {
      metres = made.getFirst().values();
    }
    return new Depth(own.width(), own.height(), metres);
  }

  @Override
  public @Nullable DeepPicture deep(String layer) {
    SoftReference<DeepPicture> known = deeps.get(layer);
    DeepPicture out = known == null ? null : known.get();
    if (out == null) {
      out = layers.deep(plan.layerIndex(layer));
      if (out != null) {
        deeps.put(layer, new SoftReference<>(out));
      }
    }
    return out;
  }

  @Override
  public int shotWidth() {
    return plan.requireShot().width();
  }
}

package org.wedgecutter.core.fragment;

import java.util.List;
import java.util.Map;
import java.util.function.IntFunction;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.pass.PassPicture;

/** The pictures of a plan's layers, by their numbers. */
public interface TracedLayers {
  /** Returns the picture of a layer. */
  Picture layer(int index);

  /** Returns some of the passes of a layer, by their titles; those that the plan asks for. */
  List<PassPicture> passes(int index, Predicate<String> chosen);

  /** Returns the header attributes of a layer's ID mattes. */
  Map<String, String> idHeader(int index);

  /** Returns a layer by depth; null for a layer that catches. */
  @Nullable DeepPicture deep(int index);

  /** Returns the same layers with other pictures. */
  default TracedLayers with(IntFunction<Picture> pictures) {
    TracedLayers base = this;
    return new TracedLayers() {
      @Override
      public Picture layer(int index) {
        return pictures.apply(index);
      }

      @Override
      public List<PassPicture> passes(int index, Predicate<String> chosen) {
        return base.passes(index, chosen);
      }

      @Override
      public Map<String, String> idHeader(int index) {
        return base.idHeader(index);
      }

      @Override
      public @Nullable DeepPicture deep(int index) {
        return base.deep(index);
      }
    };
  }
}

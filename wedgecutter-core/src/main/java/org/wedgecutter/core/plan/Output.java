package org.wedgecutter.core.plan;

import java.util.Arrays;
import java.util.Collection;
import java.util.Collections;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.wedgecutter.exr.Compression;

/**
 * What is written.
 *
 * @param name template of file names, without extension
 * @param half whether colours are half floats; else 32-bit floats
 * @param compression compression of the files
 * @param passes whether the passes that add up to the beauty are written beside it
 * @param more what else is written beside it
 * @param lightGroups collections whose emitters share one pass; every other emitter has its own
 * @param occlusion distance up to which geometry occludes in the pass of ambient occlusion, metres
 * @param near distance at which the depth ramp is 0, metres
 * @param far distance at which the depth ramp is 1, metres
 * @param leftOut by name of a layer, the passes that are not written with it though others have
 *     them
 * @param floats names of passes whose channels are 32-bit floats though colours are half; {@link
 *     #BEAUTY} stands for the beauty
 * @param limits by word of a pass, the collection whose entities alone are in it
 * @param copies further files that are made from each file
 * @param beautyApart whether the beauty is a part of its own in files with passes: readers that
 *     want it alone need not unpack the passes
 * @param extra unknown keys
 */
public record Output(
    String name,
    boolean half,
    Compression compression,
    boolean passes,
    Set<More> more,
    List<String> lightGroups,
    double occlusion,
    double near,
    double far,
    Map<String, Set<String>> leftOut,
    Set<String> floats,
    Map<String, String> limits,
    Set<Copy> copies,
    boolean beautyApart,
    Extra extra) {
  /** The word for the beauty, and where passes are left out for its components. */
  public static final String BEAUTY = "beauty";

  /** The default template. */
  public static final String DEFAULT_NAME = "{shot}/{layer}/{shot}_{layer}.{frame:4}";

  /** A pass, or some of one sort, that can be written beside the beauty. */
  public enum More {
    /** One light pass for each emitter or group of emitters; they add up to the beauty. */
    LIGHTS("lights"),
    /** Direct diffuse light without shadows. */
    UNSHADOWED("unshadowed"),
    /** Direct diffuse light divided by the same without shadows. */
    SHADOW("shadow"),
    /** Direct diffuse light of the environment alone: a part of the direct diffuse light. */
    ENVIRONMENT("diffuse-environment"),
    /** Ambient occlusion. */
    OCCLUSION("occlusion"),
    /** Base colour. */
    ALBEDO("albedo"),
    /** Distance along the camera's axis, metres. */
    DEPTH("depth"),
    /** The same from near (0) to far (1). */
    RAMP("depth-ramp"),
    /** Shading normals in the world. */
    NORMAL("normal"),
    /** Places in the world, metres. */
    POSITION("position"),
    /** Texture coordinates. */
    UV("uv"),
    /** Pixels to the next frame, and from the one before. */
    MOTION("motion"),
    /** ID mattes by object, material and collection. */
    IDS("ids"),
    /** Colour and alpha by depth, in a deep file of its own. */
    DEEP("deep");

    private final String word;

    More(String word) {
      this.word = word;
    }

    /** Returns the word in plans. */
    public String word() {
      return word;
    }

    /** Whether it is data of places, not light. */
    public boolean isData() {
      return ordinal() >= ALBEDO.ordinal() && ordinal() < IDS.ordinal();
    }

    /** Whether it can be limited to a collection. */
    public boolean canBeLimited() {
      return this != DEEP;
    }

    /** Returns what a word of a plan means. */
    public static Optional<More> of(String word) {
      return Arrays.stream(values()).filter(m -> m.word.equals(word)).findFirst();
    }
  }

  public Output {
    EnumSet<More> own = EnumSet.noneOf(More.class);
    own.addAll(more);
    more = Collections.unmodifiableSet(own);
    lightGroups = List.copyOf(lightGroups);
    Map<String, Set<String>> out = new TreeMap<>();
    leftOut.forEach((layer, words) -> {
      if (!words.isEmpty()) {
        out.put(layer, Collections.unmodifiableSet(new TreeSet<>(words)));
      }
    });
    leftOut = Collections.unmodifiableMap(out);
    floats = Collections.unmodifiableSet(new TreeSet<>(floats));
    limits = Collections.unmodifiableMap(new TreeMap<>(limits));
    EnumSet<Copy> all = EnumSet.noneOf(Copy.class);
    all.addAll(copies);
    copies = Collections.unmodifiableSet(all);
  }

  /** A form of a layer's picture that is written beside its file. */
  public enum Copy {
    /** Each pass as a file of its own. */
    PASSES("passes", "exr"),
    /** All layers of a frame as parts of one file. */
    FRAME("frame", "exr"),
    /** The beauty, scene-linear, 32-bit floats. */
    TIFF32("tiff32", "tif"),
    /** The beauty as a screen shows it, 16 bits. */
    TIFF16("tiff16", "tif"),
    /** The beauty's colours, scene-linear, with one exponent. */
    HDR("hdr", "hdr"),
    /** The beauty as a screen shows it, 16 bits. */
    PNG16("png16", "png"),
    /** The beauty as a screen shows it, 8 bits. */
    PNG8("png8", "png");

    private final String word;
    private final String extension;

    Copy(String word, String extension) {
      this.word = word;
      this.extension = extension;
    }

    /** Returns the word in plans. */
    public String word() {
      return word;
    }

    /** Returns the extension of its files. */
    public String extension() {
      return extension;
    }

    /** Whether it is what a screen shows, and no longer scene-linear light. */
    public boolean isDisplayed() {
      return this == TIFF16 || this == PNG16 || this == PNG8;
    }

    /** Whether it holds negative light, by which differences take light away. */
    public boolean isSigned() {
      return !isDisplayed() && this != HDR;
    }

    /** Returns what a word of a plan means. */
    public static Optional<Copy> of(String word) {
      return Arrays.stream(values()).filter(c -> c.word.equals(word)).findFirst();
    }
  }

  /** Returns the passes that are not written with a layer. */
  public Set<String> leftOut(String layer) {
    return leftOut.getOrDefault(layer, Set.of());
  }

  /** Whether packing changes the pixels of the beauty. */
  public boolean isLossy() {
    return switch (compression) {
      case NONE, RLE, ZIPS, ZIP, PIZ -> false;
      // halves lose nothing by it
      case PXR24 -> !half || floats.contains(BEAUTY);
      case B44, B44A, DWAA, DWAB -> true;
    };
  }

  /**
   * Whether a sort of passes is written with a layer that has it.
   *
   * @param layer empty for the uncut frame, of which nothing is left out
   * @param word of the sort; {@link #BEAUTY} for the beauty's components
   */
  public boolean writes(String layer, String word) {
    return (passes || !word.equals(BEAUTY)) && !leftOut(layer).contains(word);
  }

  /** Returns what else is written beside a layer's beauty. */
  public Set<More> more(String layer) {
    return more.stream()
        .filter(m -> !leftOut(layer).contains(m.word()))
        .collect(Collectors.toCollection(() -> EnumSet.noneOf(More.class)));
  }

  /** Whether the passes that add up to the beauty are written beside a layer's. */
  public boolean passes(String layer) {
    return writes(layer, BEAUTY);
  }

  /**
   * Returns the output in which something is written with a layer, and with all others as before.
   *
   * @param layers names of all
   */
  Output written(String layer, More what, Collection<String> layers) {
    if (more(layer).contains(what)) {
      return this;
    }
    if (more.contains(what)) {
      return with(o -> {
        Map<String, Set<String>> next = new TreeMap<>(o.leftOut);
        Set<String> own = new TreeSet<>(leftOut(layer));
        own.remove(what.word());
        next.put(layer, own);
        o.leftOut = next;
      });
    }
    return with(o -> {
      Set<More> all = EnumSet.of(what);
      all.addAll(more);
      o.more = all;
      Map<String, Set<String>> next = new TreeMap<>(o.leftOut);
      for (String other : layers) {
        Set<String> own = new TreeSet<>(leftOut(other));
        own.add(what.word());
        next.put(other, own);
      }
      Set<String> own = new TreeSet<>(leftOut(layer));
      own.remove(what.word());
      next.put(layer, own);
      o.leftOut = next;
    });
  }

  /** Returns the output in which something is not written with a layer. */
  public Output without(String layer, More what) {
    return with(o -> {
      Map<String, Set<String>> next = new TreeMap<>(o.leftOut);
      Set<String> own = new TreeSet<>(leftOut(layer));
      own.add(what.word());
      next.put(layer, own);
      o.leftOut = next;
    });
  }

  /** An output with nothing else beside the beauty and its passes. */
  public Output(String name, boolean half, Compression compression, boolean passes, Extra extra) {
    this(
        name,
        half,
        compression,
        passes,
        Set.of(),
        List.of(),
        0.5,
        0,
        10,
        Map.of(),
        Set.of(),
        Map.of(),
        Set.of(),
        false,
        extra);
  }

  /** An output in the making. */
  public static final class Draft {
    public String name;
    public boolean half;
    public Compression compression;
    public boolean passes;
    public Set<More> more;
    public List<String> lightGroups;
    public double occlusion;
    public double near;
    public double far;
    public Map<String, Set<String>> leftOut;
    public Set<String> floats;
    public Map<String, String> limits;
    public Set<Copy> copies;
    public boolean beautyApart;
    private final Extra extra;

    private Draft(Output o) {
      name = o.name;
      half = o.half;
      compression = o.compression;
      passes = o.passes;
      more = o.more;
      lightGroups = o.lightGroups;
      occlusion = o.occlusion;
      near = o.near;
      far = o.far;
      leftOut = o.leftOut;
      floats = o.floats;
      limits = o.limits;
      copies = o.copies;
      beautyApart = o.beautyApart;
      extra = o.extra;
    }

    private Output build() {
      return new Output(
          name,
          half,
          compression,
          passes,
          more,
          lightGroups,
          occlusion,
          near,
          far,
          leftOut,
          floats,
          limits,
          copies,
          beautyApart,
          extra);
    }
  }

  /** Returns the output with changes. */
  public Output with(Consumer<Draft> changes) {
    Draft draft = new Draft(this);
    changes.accept(draft);
    return draft.build();
  }

  /** Returns it with another template. */
  public Output withName(String next) {
    return with(o -> o.name = next);
  }

  /** Returns it with other things beside the beauty. */
  public Output withMore(Set<More> next) {
    return with(o -> o.more = next);
  }

  /** Returns it with or without the passes that add up to the beauty. */
  public Output withPasses(boolean next) {
    return with(o -> o.passes = next);
  }

  /**
   * Returns it with a pass of the entities of one collection alone.
   *
   * @param collection empty for all entities
   */
  public Output withLimit(More pass, String collection) {
    return with(o -> {
      Map<String, String> next = new TreeMap<>(o.limits);
      if (collection.isEmpty()) {
        next.remove(pass.word());
      } else {
        next.put(pass.word(), collection);
      }
      o.limits = next;
    });
  }

  /**
   * Returns it with a pass in 32-bit floats, or not, where colours are half.
   *
   * @param pass name or word of a pass; {@link #BEAUTY} for the beauty
   */
  public Output withFloats(String pass, boolean on) {
    return with(o -> {
      Set<String> next = new TreeSet<>(o.floats);
      if (on) {
        next.add(pass);
      } else {
        next.remove(pass);
      }
      o.floats = next;
    });
  }

  /** Returns it with other groups of emitters. */
  public Output withLightGroups(List<String> next) {
    return with(o -> o.lightGroups = next);
  }

  /** Returns it with another distance up to which geometry occludes, metres. */
  public Output withOcclusion(double next) {
    return with(o -> o.occlusion = next);
  }

  /** Returns it with another range of the depth ramp, metres. */
  public Output withRange(double nextNear, double nextFar) {
    return with(o -> {
      o.near = nextNear;
      o.far = nextFar;
    });
  }
}

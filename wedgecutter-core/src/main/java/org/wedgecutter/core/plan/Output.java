package org.wedgecutter.core.plan;

import java.util.Arrays;
import java.util.Collections;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
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
    Extra extra) {
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
    IDS("ids");

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
      return ordinal() >= ALBEDO.ordinal() && this != IDS;
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
  }

  /** An output with nothing else beside the beauty and its passes. */
  public Output(String name, boolean half, Compression compression, boolean passes, Extra extra) {
    this(name, half, compression, passes, Set.of(), List.of(), 0.5, 0, 10, extra);
  }

  /** Returns it with another template. */
  public Output withName(String next) {
    return new Output(
        next, half, compression, passes, more, lightGroups, occlusion, near, far, extra);
  }

  /** Returns it with other things beside the beauty. */
  public Output withMore(Set<More> next) {
    return new Output(
        name, half, compression, passes, next, lightGroups, occlusion, near, far, extra);
  }

  /** Returns it with or without the passes that add up to the beauty. */
  public Output withPasses(boolean next) {
    return new Output(
        name, half, compression, next, more, lightGroups, occlusion, near, far, extra);
  }

  /** Returns it with other groups of emitters. */
  public Output withLightGroups(List<String> next) {
    return new Output(name, half, compression, passes, more, next, occlusion, near, far, extra);
  }

  /** Returns it with another distance up to which geometry occludes, metres. */
  public Output withOcclusion(double next) {
    return new Output(name, half, compression, passes, more, lightGroups, next, near, far, extra);
  }

  /** Returns it with another range of the depth ramp, metres. */
  public Output withRange(double nextNear, double nextFar) {
    return new Output(
        name, half, compression, passes, more, lightGroups, occlusion, nextNear, nextFar, extra);
  }
}

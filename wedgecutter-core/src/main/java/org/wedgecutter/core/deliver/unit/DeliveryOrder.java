package org.wedgecutter.core.deliver.unit;

import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.render.FrameRenderer;

/**
 * What a delivery is to hold, and how it is rendered.
 *
 * @param folder the delivery
 * @param layers names of the layers; empty means all that the plan enables
 * @param frames which frames
 * @param uncut whether the uncut frame is written too
 * @param settings size, samples, threads
 * @param onto what becomes of files of an earlier run
 * @param everyFrame whether frames that are the same are rendered and written each
 * @param share which share of the work is done here
 * @param cells by layer the only frames that are rendered; empty means all that are asked for
 */
public record DeliveryOrder(
    Path folder,
    List<String> layers,
    List<Integer> frames,
    boolean uncut,
    FrameRenderer.Settings settings,
    Onto onto,
    boolean everyFrame,
    Share share,
    Map<String, Set<Integer>> cells) {
  public DeliveryOrder {
    layers = List.copyOf(layers);
    frames = List.copyOf(frames);
    cells = Map.copyOf(cells);
  }

  /** Returns the order for a share of the work. */
  public DeliveryOrder withShare(Share next) {
    return new DeliveryOrder(
        folder, layers, frames, uncut, settings, onto, everyFrame, next, cells);
  }

  /** Returns the order with every frame rendered, or with those held that are the same. */
  public DeliveryOrder withEveryFrame(boolean next) {
    return new DeliveryOrder(folder, layers, frames, uncut, settings, onto, next, share, cells);
  }

  /** Returns the order with what has changed since an earlier run rendered again, or not. */
  public DeliveryOrder changing(boolean next) {
    Onto then = next ? Onto.CHANGED : onto;
    return new DeliveryOrder(
        folder, layers, frames, uncut, settings, then, everyFrame, share, cells);
  }

  /** Returns the order for some frames of some layers alone. */
  public DeliveryOrder withCells(Map<String, Set<Integer>> next) {
    return new DeliveryOrder(
        folder, layers, frames, uncut, settings, onto, everyFrame, share, next);
  }

  /** An order in which a picture that is the same at several frames is written once. */
  public DeliveryOrder(
      Path folder,
      List<String> layers,
      List<Integer> frames,
      boolean uncut,
      FrameRenderer.Settings settings,
      boolean resume) {
    this(
        folder,
        layers,
        frames,
        uncut,
        settings,
        resume ? Onto.RESUME : Onto.NEW,
        false,
        Share.ALL,
        Map.of());
  }

  /** What becomes of files of an earlier run. */
  public enum Onto {
    /** There must be none. */
    NEW,
    /** They stay; all must be of the same plan and scene as far as they depend on them. */
    RESUME,
    /** Those stay that a change of plan or scene does not touch; the others are made again. */
    CHANGED
  }

  /**
   * A share of the work, for several processes that work on one delivery.
   *
   * @param number of this share, from 1
   * @param of how many shares there are
   */
  public record Share(int number, int of) {
    /** All of it. */
    public static final Share ALL = new Share(1, 1);

    public Share {
      if (of < 1 || number < 1 || number > of) {
        throw new IllegalArgumentException(
            "%d/%d, expected K/N with K from 1 to N".formatted(number, of));
      }
    }

    boolean isMine(long task) {
      return task % of == number - 1;
    }
  }

  /**
   * Returns the order for all that is missing or stale in a delivery.
   *
   * @param threads how many threads render
   * @throws InputException if it is not one of this plan's size
   */
  public static DeliveryOrder rest(LoadedShot shot, Path folder, int threads)
      throws InputException {
    Delivery d = Delivery.read(folder);
    Map<String, Set<Integer>> cells = new LinkedHashMap<>();
    TreeSet<Integer> frames = new TreeSet<>();
    boolean uncut = false;
    for (Unit u : d.units()) {
      if (u.uncut() || shot.plan().layer(u.layer()).isPresent()) {
        Set<Integer> of = cells.computeIfAbsent(u.layer(), l -> new TreeSet<>());
        of.add(u.frame());
        of.addAll(u.heldAt());
        frames.add(u.frame());
        frames.addAll(u.heldAt());
        uncut |= u.uncut();
      }
    }
    if (frames.isEmpty()) {
      throw new InputException(folder, "", "does not tell what is to be rendered");
    }
    return new DeliveryOrder(
            folder, List.of(), List.copyOf(frames), uncut, d.settings(threads), true)
        .withCells(cells)
        .changing(true);
  }
}

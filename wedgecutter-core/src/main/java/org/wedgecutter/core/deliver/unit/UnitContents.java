package org.wedgecutter.core.deliver.unit;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.deliver.Unit;
import org.wedgecutter.core.deliver.file.ExrFile;
import org.wedgecutter.core.deliver.file.ExrFrames;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.image.DeepPicture;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.RootFolder;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.OutputNames;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;
import org.wedgecutter.core.resolve.LayerSettings;
import org.wedgecutter.exr.Attribute;
import org.wedgecutter.exr.Box;

/** What the files of a delivery's units hold, and what they are called. */
final class UnitContents {
  private final LoadedShot shot;
  private final RootFolder folder;
  private final FrameRenderer.Settings settings;
  private final FileNames names;

  UnitContents(LoadedShot shot, Path folder, FrameRenderer.Settings settings, FileNames names) {
    this.shot = shot;
    this.folder = new RootFolder(folder);
    this.settings = settings;
    this.names = names;
  }

  /**
   * Returns the names of a shot's files in a delivery.
   *
   * @throws InputException if the plan's template is wrong
   */
  static FileNames names(LoadedShot shot, Path folder) throws InputException {
    try {
      return new FileNames(
          shot.plan().output().name(),
          shot.name(),
          shot.camera().name(),
          String.valueOf(folder.getFileName()));
    } catch (IllegalArgumentException e) {
      throw new InputException(shot.file(), "output/name", String.valueOf(e.getMessage()), e);
    }
  }

  /**
   * Returns the names of all that is written of a unit, relative to the delivery.
   *
   * @param titles of all passes of the shot
   */
  List<String> names(Unit.Key unit, List<String> titles) {
    Output output = shot.plan().output();
    String layer = unit.uncut() ? "" : unit.layer();
    return OutputNames.of(
        output,
        names,
        unit.layer(),
        unit.frame(),
        titles.stream().filter(t -> output.writes(layer, LayerPictures.passWord(t))).toList());
  }

  /** Returns the name of the file that holds all layers of a frame. */
  String frameName(int frame) {
    return names.name(FileNames.FRAME, frame, Output.Copy.FRAME.extension());
  }

  /** Returns the name of a unit's file, relative to the delivery. */
  String name(Unit.Key unit) {
    return names.name(unit.layer(), unit.frame(), "exr");
  }

  /** Returns what is written of a unit besides its beauty. */
  List<PassPicture> passes(Unit unit, RenderedFrame rendered) {
    Output output = shot.plan().output();
    String layer = unit.uncut() ? "" : unit.layer();
    Predicate<String> wanted = title -> output.writes(layer, LayerPictures.passWord(title));
    return unit.uncut()
        ? rendered.uncutPasses(wanted)
        : rendered.passes(column(unit.key()), wanted);
  }

  /** Returns the number of a unit's layer; the number of layers for the uncut frame. */
  int column(Unit.Key unit) {
    return unit.uncut() ? shot.plan().layers().size() : shot.plan().layerIndex(unit.layer());
  }

  /** Returns a unit's beauty. */
  Picture picture(Unit unit, RenderedFrame rendered) {
    return unit.uncut() ? rendered.uncut() : rendered.layer(column(unit.key()));
  }

  /** Returns the names of passes as records tell them. */
  static List<String> names(List<PassPicture> passes) {
    return passes.stream().map(PassPicture::name).map(n -> n.isEmpty() ? "Z" : n).toList();
  }

  /** Returns the header attributes of a unit's ID mattes. */
  Map<String, String> idHeader(Unit unit, RenderedFrame rendered) {
    return rendered.idHeader(unit.uncut() ? -1 : column(unit.key()));
  }

  /** Returns a unit by depth, or null where it is not written so. */
  @Nullable DeepPicture deep(Unit unit, RenderedFrame rendered) {
    boolean asked =
        !unit.uncut() && shot.plan().output().more(unit.layer()).contains(Output.More.DEEP);
    return asked ? rendered.deep(column(unit.key())) : null;
  }

  /** Returns the name of a unit's deep file, relative to the delivery. */
  String deepName(Unit.Key unit) {
    return names.name(unit.layer(), Output.More.DEEP.word(), unit.frame(), "exr");
  }

  /** Begins a file of a unit. */
  ExrFile begin(Unit unit, String name, Map<String, String> ids) throws IOException {
    return new ExrFile(
        folder.writable(name),
        shot.plan().output(),
        frame(unit.key()),
        window(unit.key(), settings.region()),
        attributes(unit.key(), ids));
  }

  /** Returns the output of the plan. */
  Output output() {
    return shot.plan().output();
  }

  /** Returns the samples per pixel of a unit. */
  int samples(Unit unit) {
    var resolved = shot.resolve(unit.frame());
    var transport =
        unit.uncut() ? resolved.uncut() : resolved.layers().get(column(unit.key())).transport();
    return transport.settings().samples(settings.samples());
  }

  /** Returns the frame of a unit. */
  Box frame(Unit.Key unit) {
    int[] size = size(unit);
    return Box.ofSize(size[0], size[1]);
  }

  /** Returns where in its frame a part of the region is. */
  Box window(Unit.Key unit, Region part) {
    int[] size = size(unit);
    return ExrFrames.box(part.scaled(size[0], size[1], settings.width(), settings.height()));
  }

  private Map<String, Attribute> attributes(Unit.Key unit, Map<String, String> idHeader) {
    Shot s = shot.plan().requireShot();
    Map<String, Attribute> out =
        ExrFrames.attributes(
            s,
            unit.layer(),
            unit.frame(),
            shot.tracer().worldToCamera(shot.camera(), s.time(unit.frame())));
    idHeader.forEach((key, value) -> out.put(key, new Attribute.Text(value)));
    return out;
  }

  /** Width and height of a unit's whole frame. */
  private int[] size(Unit.Key unit) {
    int width = settings.width();
    int height = settings.height();
    Shot s = shot.plan().requireShot();
    Optional<LayerDef> def = unit.uncut() ? Optional.empty() : shot.plan().layer(unit.layer());
    if (def.isPresent()
        && LayerSettings.at(def.get(), s, Property.SIZE, unit.frame()) instanceof Value.Size own) {
      width = Math.max(1, (int) Math.round(width * (own.width() / (double) s.width())));
      height = Math.max(1, (int) Math.round(height * (own.height() / (double) s.height())));
    }
    return new int[] {width, height};
  }
}

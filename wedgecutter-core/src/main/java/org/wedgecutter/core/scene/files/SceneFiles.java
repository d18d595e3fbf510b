package org.wedgecutter.core.scene.files;

import java.nio.file.Path;
import java.util.Locale;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.gltf.GltfReader;
import org.wedgecutter.core.scene.obj.ObjReader;
import org.wedgecutter.core.scene.usd.UsdReader;

/** Opens scene files of all supported formats. */
public final class SceneFiles {
  private static final Logger LOG = LoggerFactory.getLogger(SceneFiles.class);

  private SceneFiles() {}

  /** Whether a file is a scene, by its extension. */
  public static boolean isScene(Path file) {
    String name = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
    return name.endsWith(".gltf")
        || name.endsWith(".glb")
        || name.endsWith(".usda")
        || name.endsWith(".obj");
  }

  /**
   * Reads a scene: glTF (.gltf, .glb), OpenUSD text (.usda) or OBJ (.obj).
   *
   * @throws InputException with file, place and expectation
   */
  public static Scene read(Path file) throws InputException {
    return read(file, "");
  }

  /**
   * Reads a scene with one of its sets of materials.
   *
   * @param variant name of the set; empty means as in the file
   */
  public static Scene read(Path file, String variant) throws InputException {
    String name = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
    try {
      if (name.endsWith(".obj")) {
        return ObjReader.read(file);
      }
      return name.endsWith(".usda") ? UsdReader.read(file) : GltfReader.read(file, variant);
    } catch (RuntimeException | StackOverflowError e) {
      // whatever a reader did not foresee is still the file's fault
      LOG.warn("reading {}", file, e);
      throw new InputException(file, "", "cannot be read as a scene: its data is damaged", e);
    }
  }
}

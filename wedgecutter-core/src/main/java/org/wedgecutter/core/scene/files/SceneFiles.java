package org.wedgecutter.core.scene.files;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.InputFile;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.gltf.GltfReader;
import org.wedgecutter.core.scene.obj.ObjReader;
import org.wedgecutter.core.scene.usd.UsdReader;
import org.wedgecutter.core.scene.usd.stage.Assets;

/** Opens scene files of all supported formats. */
public final class SceneFiles {
  private static final Logger LOG = LoggerFactory.getLogger(SceneFiles.class);

  /** Extensions of scene files. */
  public static final List<String> EXTENSIONS =
      List.of(".gltf", ".glb", ".usd", ".usda", ".usdc", ".usdz", ".obj");

  private static final int BEGINNING = 64;

  private SceneFiles() {}

  /** Returns patterns of names for whoever asks for a scene, after others. */
  public static String[] patterns(String... others) {
    return Stream.concat(Stream.of(others), EXTENSIONS.stream().map(e -> "*" + e))
        .toArray(String[]::new);
  }

  /** Whether a file is a scene, by its extension. */
  public static boolean isScene(Path file) {
    String name = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
    return EXTENSIONS.stream().anyMatch(name::endsWith);
  }

  /**
   * Reads a scene: glTF, OpenUSD (text, crate or package) or OBJ. What a file is, its first bytes
   * tell, not its name.
   *
   * @throws InputException with file, place and expectation
   */
  public static Scene read(Path file) throws InputException {
    return read(file, "");
  }

  /**
   * Reads a scene with one of its sets of materials.
   *
   * @param variant name of the set, of a stage the variants that are chosen; empty means as in the
   *     file
   */
  public static Scene read(Path file, String variant) throws InputException {
    byte[] first = beginning(file);
    String text = new String(first, StandardCharsets.US_ASCII).strip();
    String name = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
    try {
      if (Assets.isStage(first)) {
        return UsdReader.read(file, variant);
      }
      if (text.startsWith("glTF") || text.startsWith("{")) {
        return GltfReader.read(file, variant);
      }
      if (name.endsWith(".obj")) {
        return ObjReader.read(file);
      }
      // whoever knows the form that the name promises tells best what is wrong
      return name.contains(".usd") ? UsdReader.read(file, variant) : GltfReader.read(file, variant);
    } catch (RuntimeException | StackOverflowError e) {
      // whatever a reader did not foresee is still the file's fault
      LOG.warn("reading {}", file, e);
      throw new InputException(file, "", "cannot be read as a scene: its data is damaged", e);
    }
  }

  private static byte[] beginning(Path file) throws InputException {
    try (InputStream in = InputFile.open(file, Long.MAX_VALUE >> 20)) {
      return in.readNBytes(BEGINNING);
    } catch (InputException e) {
      throw e;
    } catch (IOException e) {
      throw new InputException(file, "", "cannot be read: " + e.getMessage(), e);
    }
  }
}

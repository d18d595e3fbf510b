package org.wedgecutter.core.scene.usd.stage;

import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.wedgecutter.core.io.Budget;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.InputFile;
import org.wedgecutter.core.io.SafePath;

/**
 * Finds the files of a stage: layers and images, inside folders and inside packages (.usdz). A file
 * has an identifier: its path, or that of a package with the name within it in brackets.
 *
 * <p>Nothing outside the stage's folder and the given search folders is read, and nothing by a
 * symbolic link below them.
 */
public final class Assets {
  private static final long MAX_MEBIBYTES = 4096;
  private static final int MAX_FILES = 100_000;

  private final Path first;
  private final List<Path> folders;
  private final Budget budget;
  private final Map<Path, UsdPackage> packages = new LinkedHashMap<>();
  private final Set<Path> read = new LinkedHashSet<>();

  /**
   * @param stage the stage's file
   * @param search folders in which paths without a leading dot are looked for, too
   */
  public Assets(Path stage, List<Path> search) {
    first = stage.toAbsolutePath().normalize();
    List<Path> all = new ArrayList<>();
    Path own = first.getParent();
    if (own != null) {
      all.add(own);
    }
    search.forEach(p -> all.add(p.toAbsolutePath().normalize()));
    folders = List.copyOf(all);
    budget = Budget.of(first);
  }

  /** Returns the identifier of the stage's own file. */
  String stage() {
    return first.toString();
  }

  /** Returns what opening may take, which all files of the stage share. */
  public Budget budget() {
    return budget;
  }

  /**
   * Finds a file.
   *
   * @param asset as a layer names it
   * @param from identifier of that layer
   * @return its identifier; empty if it is not there
   * @throws InputException if it is no file's name, or leads out of all folders
   */
  public Optional<String> find(String asset, String from) throws InputException {
    int bracket = asset.indexOf('[');
    if (bracket > 0 && asset.endsWith("]")) {
      String inner = asset.substring(bracket);
      return find(asset.substring(0, bracket), from).map(id -> id + inner);
    }
    int within = from.indexOf('[');
    if (within > 0 && from.endsWith("]")) {
      Path file = Path.of(from.substring(0, within));
      String inner = from.substring(within + 1, from.length() - 1);
      String name = UsdPackage.join(inner, asset);
      return packageOf(file).holds(name) ? Optional.of(file + "[" + name + "]") : Optional.empty();
    }
    Path anchor = Path.of(from).getParent();
    List<Path> candidates = new ArrayList<>();
    InputException refused = null;
    try {
      if (anchor != null) {
        candidates.add(anchor.resolve(asset).normalize());
      }
      if (!asset.startsWith("./") && !asset.startsWith("../") && !Path.of(asset).isAbsolute()) {
        folders.forEach(f -> candidates.add(f.resolve(asset).normalize()));
      }
    } catch (java.nio.file.InvalidPathException e) {
      throw new InputException(Path.of(from), asset, "'%s' is not a file name".formatted(asset), e);
    }
    for (Path candidate : candidates) {
      Path folder = folders.stream().filter(candidate::startsWith).findFirst().orElse(null);
      if (folder == null || candidate.equals(folder)) {
        refused =
            new InputException(
                Path.of(from),
                asset,
                "leads out of the stage's folder and of the search folders; it is not read");
      } else if (Files.isRegularFile(
          SafePath.inside(folder, folder.relativize(candidate).toString(), Path.of(from), asset))) {
        return Optional.of(candidate.toString());
      }
    }
    if (refused != null) {
      throw refused;
    }
    return Optional.empty();
  }

  /**
   * Reads a file whole.
   *
   * @param id its identifier
   * @param mebibytes the most that it may have
   * @param by who asks for it, for messages
   */
  public byte[] bytes(String id, long mebibytes, Path by, String place) throws InputException {
    int within = id.indexOf('[');
    if (within > 0 && id.endsWith("]")) {
      return packageOf(Path.of(id.substring(0, within)))
          .bytes(id.substring(within + 1, id.length() - 1));
    }
    Path file = Path.of(id);
    if (read.add(file) && read.size() > MAX_FILES) {
      throw new InputException(by, place, "asks for more than %d files".formatted(MAX_FILES));
    }
    byte[] out = InputFile.bytes(file, mebibytes, by, place);
    budget.and(file);
    return out;
  }

  private UsdPackage packageOf(Path file) throws InputException {
    UsdPackage known = packages.get(file);
    if (known == null) {
      read.add(file);
      budget.and(file);
      known = UsdPackage.read(InputFile.bytes(file, MAX_MEBIBYTES, file, ""), file);
      packages.put(file, known);
    }
    return known;
  }

  /**
   * Reads a layer of any form, which its first bytes tell.
   *
   * @param by who asks for it
   */
  Layer layer(String id, Path by) throws InputException {
    byte[] bytes = bytes(id, MAX_MEBIBYTES, by, "");
    Path shown = Path.of(id);
    if (UsdPackage.is(bytes)) {
      UsdPackage held = packageOf(shown);
      return layer(id + "[" + held.first() + "]", by);
    }
    if (CrateLayer.is(bytes)) {
      return new Layer(id, CrateLayer.read(bytes, shown, budget));
    }
    return new Layer(id, TextLayer.read(text(bytes, shown), shown));
  }

  private static String text(byte[] bytes, Path file) throws InputException {
    try {
      return StandardCharsets.UTF_8
          .newDecoder()
          .onMalformedInput(CodingErrorAction.REPORT)
          .decode(ByteBuffer.wrap(bytes))
          .toString();
    } catch (CharacterCodingException e) {
      throw new InputException(
          file, "", "is none of OpenUSD's forms: text (UTF-8), crate or package", e);
    }
  }

  /** Whether bytes are the beginning of one of OpenUSD's forms. */
  public static boolean isStage(byte[] bytes) {
    return CrateLayer.is(bytes)
        || UsdPackage.is(bytes)
        || new String(bytes, 0, Math.min(6, bytes.length), StandardCharsets.US_ASCII)
            .startsWith("#usda ");
  }

  /** Returns the file that an identifier belongs to. */
  static Path fileOf(String id) {
    int within = id.indexOf('[');
    return Path.of(within > 0 && id.endsWith("]") ? id.substring(0, within) : id);
  }
}

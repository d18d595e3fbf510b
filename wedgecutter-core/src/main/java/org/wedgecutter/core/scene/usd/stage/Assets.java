package org.wedgecutter.core.scene.usd.stage;

import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.wedgecutter.core.io.Budget;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.InputFile;
import org.wedgecutter.core.io.SafePath;

/**
 * Finds the files of a stage: layers and images, inside folders and inside packages (.usdz), of
 * which a layer writes {@code package.usdz[name]}.
 *
 * <p>Nothing outside the stage's folder and the given search folders is read, and nothing by a
 * symbolic link below them.
 */
public final class Assets {
  private static final long MAX_MEBIBYTES = 4096;
  private static final int MAX_FILES = 100_000;
  private static final Pattern PACKED = Pattern.compile("(.*\\.usdz)\\[([^\\[\\]]+)]");

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

  /** Returns the stage's own file. */
  AssetId stage() {
    return AssetId.of(first);
  }

  /** Returns what opening may take, which all files of the stage share. */
  public Budget budget() {
    return budget;
  }

  /**
   * Finds a file.
   *
   * @param asset as a layer names it
   * @param from that layer
   * @return the file; empty if it is not there
   * @throws InputException if it is no file's name, or leads out of all folders
   */
  public Optional<AssetId> find(String asset, AssetId from) throws InputException {
    Matcher packed = PACKED.matcher(asset);
    if (packed.matches()) {
      String inside = packed.group(2);
      return find(packed.group(1), from)
          .filter(id -> !id.isPacked())
          .map(id -> new AssetId(id.file(), inside));
    }
    if (from.isPacked()) {
      String name = UsdPackage.join(from.inside(), asset);
      return packageOf(from.file()).holds(name)
          ? Optional.of(new AssetId(from.file(), name))
          : Optional.empty();
    }
    boolean isOutside = false;
    for (Path candidate : candidates(asset, from)) {
      Path folder = folders.stream().filter(candidate::startsWith).findFirst().orElse(null);
      if (folder == null || candidate.equals(folder)) {
        isOutside = true;
      } else if (Files.isRegularFile(
          SafePath.inside(folder, folder.relativize(candidate).toString(), from.file(), asset))) {
        return Optional.of(AssetId.of(candidate));
      }
    }
    if (isOutside) {
      throw new InputException(
          from.file(),
          asset,
          "leads out of the stage's folder and of the search folders; it is not read");
    }
    return Optional.empty();
  }

  /** Returns where a file may be: beside the layer that names it, then in the folders. */
  private List<Path> candidates(String asset, AssetId from) throws InputException {
    List<Path> out = new ArrayList<>();
    try {
      out.add(from.file().resolveSibling(asset).normalize());
      if (!asset.startsWith("./") && !asset.startsWith("../") && !Path.of(asset).isAbsolute()) {
        folders.forEach(f -> out.add(f.resolve(asset).normalize()));
      }
    } catch (InvalidPathException e) {
      throw new InputException(from.file(), asset, "is not a file name", e);
    }
    return out;
  }

  /**
   * Reads a file whole.
   *
   * @param mebibytes the most that it may have
   * @param by who asks for it, for messages
   */
  public byte[] bytes(AssetId id, long mebibytes, Path by, String place) throws InputException {
    if (id.isPacked()) {
      return packageOf(id.file()).bytes(id.inside());
    }
    if (read.add(id.file()) && read.size() > MAX_FILES) {
      throw new InputException(by, place, "asks for more than %d files".formatted(MAX_FILES));
    }
    byte[] out = InputFile.bytes(id.file(), mebibytes, by, place);
    budget.and(id.file());
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
   * Reads a layer of any form, which its first bytes tell; of a package its first layer.
   *
   * @param by who asks for it
   */
  Layer layer(AssetId id, Path by) throws InputException {
    byte[] bytes = bytes(id, MAX_MEBIBYTES, by, "");
    if (UsdPackage.is(bytes)) {
      if (id.isPacked()) {
        throw new InputException(id.file(), id.inside(), "is a package within a package");
      }
      packages.putIfAbsent(id.file(), UsdPackage.read(bytes, id.file()));
      return layer(new AssetId(id.file(), packageOf(id.file()).first()), by);
    }
    // messages about what is in a package name it
    Path shown = id.file().resolveSibling(id.name());
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
}

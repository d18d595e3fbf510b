package org.wedgecutter.app.files;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;

/**
 * Plans that were edited and not saved: a copy of each is kept away from its file, so that a crash
 * loses nothing. Saving, or closing without unsaved changes, deletes the copy.
 */
public final class Recovery {
  private static final int MOST_ASIDE = 9;

  private final Path folder;

  /** Keeps copies in a folder. */
  public Recovery(Path folder) {
    this.folder = folder.resolve("unsaved");
  }

  private Path copyOf(Path planFile) {
    byte[] name = planFile.toAbsolutePath().normalize().toString().getBytes(StandardCharsets.UTF_8);
    java.util.zip.CRC32 crc = new java.util.zip.CRC32();
    crc.update(name);
    return folder.resolve(
        planFile.getFileName() + "." + HexFormat.of().toHexDigits((int) crc.getValue()));
  }

  /** Keeps a copy. */
  public void keep(Path planFile, Plan plan) throws IOException {
    PlanWriter.save(plan, copyOf(planFile));
  }

  /** Deletes the copy. */
  public void forget(Path planFile) throws IOException {
    Files.deleteIfExists(copyOf(planFile));
  }

  /** Returns the copies that were kept of a plan, the newest first. */
  private List<Path> copies(Path planFile) {
    List<Path> out = new ArrayList<>();
    if (Files.isRegularFile(copyOf(planFile))) {
      out.add(copyOf(planFile));
    }
    List<Path> before = new ArrayList<>(asides(planFile));
    before.removeIf(copy -> !Files.isRegularFile(copy));
    out.addAll(before.reversed());
    return out;
  }

  /** Where copies go that are on offer, in the order in which they are used. */
  private List<Path> asides(Path planFile) {
    Path copy = copyOf(planFile);
    return IntStream.rangeClosed(1, MOST_ASIDE)
        .mapToObj(k -> copy.resolveSibling("%s.%d".formatted(copy.getFileName(), k)))
        .toList();
  }

  /** Keeps the copy under another name, which no edit writes to. */
  void setAside(Path planFile) throws IOException {
    Path copy = copyOf(planFile);
    if (!Files.isRegularFile(copy)) {
      return;
    }
    List<Path> asides = asides(planFile);
    // with none left, the newest of those that nobody wanted for so long makes room
    Path to = asides.stream().filter(a -> !Files.exists(a)).findFirst().orElse(asides.getLast());
    Files.move(copy, to, StandardCopyOption.REPLACE_EXISTING);
  }

  /** Deletes the copies of a plan that hold what a user has restored or does not want. */
  void forgetAside(Path planFile, Plan kept) throws IOException {
    for (Path copy : copies(planFile).reversed()) {
      if (Files.isRegularFile(copy) && PlanReader.read(copy).equals(kept)) {
        Files.delete(copy);
        return;
      }
    }
  }

  /**
   * A copy that differs from what the plan's file holds.
   *
   * @param at when it was kept
   */
  record Found(Plan plan, Instant at) {}

  /**
   * Returns the copies of a plan that differ from it, the newest last.
   *
   * @param trouble takes a message for each copy that cannot be read; it stays where it is
   */
  List<Found> find(Path planFile, Plan saved, Consumer<String> trouble) {
    List<Found> out = new ArrayList<>();
    for (Path copy : copies(planFile).reversed()) {
      try {
        Plan kept = PlanReader.read(copy);
        if (!kept.equals(saved)) {
          out.add(new Found(kept, Files.getLastModifiedTime(copy).toInstant()));
        }
      } catch (IOException e) {
        trouble.accept("A copy of unsaved changes cannot be read: " + e.getMessage());
      }
    }
    return out;
  }
}

package org.wedgecutter.app.files;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HexFormat;
import java.util.Optional;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;

/**
 * Plans that were edited and not saved: a copy of each is kept away from its file, so that a crash
 * loses nothing. Saving, or closing without unsaved changes, deletes the copy.
 */
public final class Recovery {
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

  /** Returns the copy that was kept of a plan, if it differs from what the file holds. */
  public Optional<Plan> find(Path planFile, Plan saved) throws IOException {
    Path copy = copyOf(planFile);
    if (!Files.isRegularFile(copy)) {
      return Optional.empty();
    }
    Plan kept = PlanReader.read(copy);
    return kept.equals(saved) ? Optional.empty() : Optional.of(kept);
  }
}

package org.wedgecutter.core.deliver;

import java.io.IOException;
import java.nio.file.DirectoryIteratorException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Set;
import org.wedgecutter.core.load.LoadedShot;

/** The folders of deliveries beside a plan: {@code NAME-v001}, {@code NAME-v002} and so on. */
public final class DeliveryFolders {
  private DeliveryFolders() {}

  /** Returns the first of them that is free. */
  public static Path free(LoadedShot shot) {
    return free(shot, Set.of());
  }

  /** Returns the first of them that is free and not taken either. */
  public static Path free(LoadedShot shot, Set<Path> taken) {
    for (int version = 1; ; version++) {
      Path folder = shot.folder().resolve("%s-v%03d".formatted(shot.name(), version));
      if (!taken.contains(folder) && !Files.exists(folder)) {
        return folder;
      }
    }
  }

  /** Returns those that hold a delivery, by name. */
  public static List<Path> of(LoadedShot shot) {
    List<Path> out = new ArrayList<>();
    try (DirectoryStream<Path> all = Files.newDirectoryStream(shot.folder())) {
      for (Path p : all) {
        String name = String.valueOf(p.getFileName());
        if (name.startsWith(shot.name() + "-v") && Delivery.isDelivery(p)) {
          out.add(p);
        }
      }
    } catch (IOException | DirectoryIteratorException e) {
      return List.of();
    }
    Collections.sort(out);
    return out;
  }
}

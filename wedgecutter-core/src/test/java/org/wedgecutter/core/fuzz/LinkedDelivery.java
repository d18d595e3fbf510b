package org.wedgecutter.core.fuzz;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.deliver.unit.DeliveryStatus;
import org.wedgecutter.core.export.HandOver;
import org.wedgecutter.core.io.InputException;

/**
 * A delivery in which bytes choose what becomes a link: each pair of them a name, and what it leads
 * to in a folder beside it. That folder is the same afterwards, whatever is done.
 */
final class LinkedDelivery {
  static final List<String> NAMES =
      List.of(
          "delivery.json",
          "delivery.log",
          "units",
          "units/Front.0001.json",
          "units/Front.0001.running",
          "units/Front.0001.failed",
          "units/Front.0001.bands",
          "units/uncut.0001.bands",
          "set",
          "set/Front",
          "set/Front/set_Front.0001.exr",
          "set/uncut/set_uncut.0001.exr",
          "handover",
          "handover/rejoined",
          "handover/cut.html",
          "recipe");

  static final List<String> TARGETS =
      List.of("", "file", "folder", "folder/0000.exr", "nothing", "loop", "manifest.json");

  private final Ground ground;
  private final Path outside;
  private final Path delivery;

  LinkedDelivery(Ground ground) {
    this.ground = ground;
    outside = ground.folder().resolveSibling(ground.folder().getFileName() + "-outside");
    delivery = ground.folder().resolve("linked");
  }

  void use(byte[] bytes) throws IOException {
    delete(outside);
    delete(delivery);
    prepare();
    for (int k = 0; k + 1 < bytes.length && k < 16; k += 2) {
      link(
          NAMES.get((bytes[k] & 0xff) % NAMES.size()),
          TARGETS.get((bytes[k + 1] & 0xff) % TARGETS.size()));
    }
    Map<String, String> before = contents(outside);
    InputException refused = null;
    try {
      ground.resume(delivery);
      DeliveryStatus.read(delivery);
      Delivery read = Delivery.read(delivery);
      DeliveryProof.judge(read, 1);
      HandOver.write(read, List.of(1), p -> {}, () -> false);
    } catch (InputException e) {
      refused = e;
    }
    if (!contents(outside).equals(before)) {
      throw new AssertionError("something outside the delivery has changed");
    }
    if (refused != null) {
      throw refused;
    }
  }

  private void prepare() throws IOException {
    Files.createDirectories(outside.resolve("folder"));
    Files.writeString(outside.resolve("file"), "not ours");
    Files.writeString(outside.resolve("folder/0000.exr"), "not ours");
    Files.writeString(outside.resolve("folder/Front.0001.json"), "{}");
    Files.write(outside.resolve("manifest.json"), ground.manifest());
    Files.createSymbolicLink(outside.resolve("loop"), Path.of("loop"));
    try (Stream<Path> all = Files.walk(ground.delivery())) {
      for (Path from : all.toList()) {
        Path to = delivery.resolve(ground.delivery().relativize(from).toString());
        if (Files.isDirectory(from)) {
          Files.createDirectories(to);
        } else {
          Files.copy(from, to);
        }
      }
    }
    Files.write(delivery.resolve(Delivery.MANIFEST), ground.manifest());
    // something is left to be rendered
    Files.delete(delivery.resolve("units/Back.0001.json"));
  }

  private void link(String name, String target) throws IOException {
    Path at = delivery.resolve(name);
    for (Path up = at.getParent(); !up.equals(delivery); up = up.getParent()) {
      if (Files.isSymbolicLink(up)) {
        return;
      }
    }
    delete(at);
    Files.createDirectories(at.getParent());
    Files.createSymbolicLink(at, outside.resolve(target));
  }

  private static void delete(Path folder) throws IOException {
    if (Files.isSymbolicLink(folder) || Files.isRegularFile(folder)) {
      Files.delete(folder);
    } else if (Files.isDirectory(folder)) {
      try (Stream<Path> all = Files.walk(folder)) {
        for (Path file : all.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(file);
        }
      }
    }
  }

  private static Map<String, String> contents(Path folder) throws IOException {
    Map<String, String> out = new TreeMap<>();
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path file : all.toList()) {
        boolean isFile = Files.isRegularFile(file) && !Files.isSymbolicLink(file);
        out.put(
            file.toString(),
            isFile ? Files.readString(file, StandardCharsets.ISO_8859_1) : "another");
      }
    }
    return out;
  }
}

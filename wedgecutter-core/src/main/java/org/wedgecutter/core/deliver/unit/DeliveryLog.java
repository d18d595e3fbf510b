package org.wedgecutter.core.deliver.unit;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.core.deliver.Machine;
import org.wedgecutter.core.io.RootFolder;
import org.wedgecutter.core.io.Visible;

/**
 * What happened to a delivery, in sentences: {@code delivery.log} in its folder, one line for each
 * event with its time in UTC, machine and process. Every process adds its lines at the end.
 */
final class DeliveryLog {
  /** Its name within the delivery. */
  static final String NAME = "delivery.log";

  private static final Logger LOG = LoggerFactory.getLogger(DeliveryLog.class);

  private final RootFolder folder;

  DeliveryLog(Path delivery) {
    folder = new RootFolder(delivery);
  }

  /** Adds a line; where that cannot be written, work goes on without it. */
  void say(String sentence) {
    String line =
        "%s %s/%d %s%n"
            .formatted(
                Instant.now().truncatedTo(ChronoUnit.SECONDS),
                Machine.name(),
                ProcessHandle.current().pid(),
                Visible.of(sentence));
    try {
      folder.append(NAME, line.getBytes(StandardCharsets.UTF_8));
    } catch (IOException e) {
      LOG.debug("{} cannot be written", NAME, e);
    }
  }
}

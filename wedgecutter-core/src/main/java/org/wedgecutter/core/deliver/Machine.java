package org.wedgecutter.core.deliver;

import java.io.IOException;
import java.net.InetAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import org.wedgecutter.core.io.TextFile;

/** The machine and the process that this is. */
public final class Machine {
  private static final Path KERNEL = Path.of("/proc/sys/kernel/hostname");
  private static final String NAME = find();
  private static final long STARTED = started(ProcessHandle.current());

  private Machine() {}

  /** Returns the machine's name in its network. */
  public static String name() {
    return NAME;
  }

  /** Returns when this process was started, milliseconds since 1970. */
  static long started() {
    return STARTED;
  }

  /** Returns when a process was started, milliseconds since 1970; 0 if that is not told. */
  static long started(ProcessHandle process) {
    return process.info().startInstant().map(Instant::toEpochMilli).orElse(0L);
  }

  private static String find() {
    try {
      // the kernel tells it at once; the network may be slow to
      return Files.isReadable(KERNEL)
          ? TextFile.read(KERNEL, 1).strip()
          : InetAddress.getLocalHost().getHostName();
    } catch (IOException e) {
      return "localhost";
    }
  }
}

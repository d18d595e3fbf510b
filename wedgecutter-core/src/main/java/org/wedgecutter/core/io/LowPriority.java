package org.wedgecutter.core.io;

import java.lang.foreign.FunctionDescriptor;
import java.lang.foreign.Linker;
import java.lang.foreign.MemorySegment;
import java.lang.foreign.ValueLayout;
import java.lang.invoke.MethodHandle;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Lets work give way to other programs. On Linux a thread has a priority of its own, which the
 * threads that it starts take over ({@code setpriority(2)}: the kernel goes by threads, not by
 * processes); it cannot be raised again. Elsewhere nothing changes.
 */
public final class LowPriority {
  /** What is added to the nice value that a program has as a rule, 0 of 19. */
  public static final int NICE = 10;

  private static final Logger LOG = LoggerFactory.getLogger(LowPriority.class);
  private static final int PROCESS = 0;
  private static final int CALLER = 0;

  private LowPriority() {}

  /**
   * Lowers the priority of this thread and of those that it will start.
   *
   * @return whether the system did so
   */
  @SuppressWarnings("restricted")
  public static boolean here() {
    if (!System.getProperty("os.name", "").equals("Linux")) {
      return false;
    }
    Linker linker = Linker.nativeLinker();
    Optional<MemorySegment> symbol = linker.defaultLookup().find("setpriority");
    if (symbol.isEmpty()) {
      return false;
    }
    MethodHandle call =
        linker.downcallHandle(
            symbol.get(),
            FunctionDescriptor.of(
                ValueLayout.JAVA_INT,
                ValueLayout.JAVA_INT,
                ValueLayout.JAVA_INT,
                ValueLayout.JAVA_INT));
    try {
      return (int) call.invokeExact(PROCESS, CALLER, NICE) == 0;
    } catch (Throwable e) {
      // a foreign call may throw anything; rendering goes on as it is
      LOG.warn("the priority cannot be lowered", e);
      return false;
    }
  }
}

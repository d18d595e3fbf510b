package org.wedgecutter.exr;

import static java.lang.foreign.ValueLayout.ADDRESS;
import static java.lang.foreign.ValueLayout.JAVA_INT;
import static java.lang.foreign.ValueLayout.JAVA_LONG;

import java.lang.foreign.Arena;
import java.lang.foreign.FunctionDescriptor;
import java.lang.foreign.Linker;
import java.lang.foreign.MemorySegment;
import java.lang.foreign.SymbolLookup;
import java.lang.invoke.MethodHandle;
import java.nio.ByteBuffer;
import org.jspecify.annotations.Nullable;

/**
 * Inflates by the system's libdeflate, which takes a whole chunk at once and is several times
 * quicker than zlib. Most Linux desktops have it: their readers of TIFF need it. Nothing depends on
 * it but the time.
 */
final class QuickInflate {
  // by its full name: it is looked for where the system keeps libraries, and nowhere else
  private static final String LIBRARY = "libdeflate.so.0";
  private static final int SUCCESS = 0;
  private static final @Nullable QuickInflate FOUND = find();

  private final MethodHandle make;
  private final MethodHandle free;
  private final MethodHandle inflate;

  /** Each thread has its own; its memory goes when the thread has gone. */
  private final ThreadLocal<MemorySegment> own = ThreadLocal.withInitial(this::decompressor);

  @SuppressWarnings("restricted")
  private QuickInflate(Linker linker, SymbolLookup library) {
    make =
        linker.downcallHandle(
            library.findOrThrow("libdeflate_alloc_decompressor"), FunctionDescriptor.of(ADDRESS));
    free =
        linker.downcallHandle(
            library.findOrThrow("libdeflate_free_decompressor"),
            FunctionDescriptor.ofVoid(ADDRESS));
    // it neither calls back nor waits, so it may work in our arrays
    inflate =
        linker.downcallHandle(
            library.findOrThrow("libdeflate_zlib_decompress"),
            FunctionDescriptor.of(
                JAVA_INT, ADDRESS, ADDRESS, JAVA_LONG, ADDRESS, JAVA_LONG, ADDRESS),
            Linker.Option.critical(true));
  }

  @SuppressWarnings("restricted")
  private static @Nullable QuickInflate find() {
    if (!System.getProperty("os.name", "").equals("Linux")) {
      return null;
    }
    try {
      return new QuickInflate(
          Linker.nativeLinker(), SymbolLookup.libraryLookup(LIBRARY, Arena.global()));
    } catch (RuntimeException | UnsatisfiedLinkError e) {
      // not there, or another version, or calls are not allowed: zlib is always there
      return null;
    }
  }

  /** Whether this machine has it. */
  static boolean isThere() {
    return FOUND != null;
  }

  /**
   * Inflates bytes to exactly so many.
   *
   * @return whether it did; if not, the bytes may be wrong, and {@code out} holds anything
   */
  static boolean unpack(ByteBuffer packed, byte[] out, int size) {
    return FOUND != null && FOUND.inflate(packed, out, size);
  }

  private boolean inflate(ByteBuffer packed, byte[] out, int size) {
    MemorySegment from = MemorySegment.ofBuffer(packed);
    MemorySegment to = MemorySegment.ofArray(out).asSlice(0, size);
    try {
      return (int)
              inflate.invokeExact(
                  own.get(), from, from.byteSize(), to, to.byteSize(), MemorySegment.NULL)
          == SUCCESS;
    } catch (Throwable e) {
      throw unexpected(e);
    }
  }

  @SuppressWarnings("restricted")
  private MemorySegment decompressor() {
    try {
      MemorySegment made = (MemorySegment) make.invokeExact();
      if (made.equals(MemorySegment.NULL)) {
        throw new OutOfMemoryError("no memory to inflate with");
      }
      return made.reinterpret(Arena.ofAuto(), this::free);
    } catch (Throwable e) {
      throw unexpected(e);
    }
  }

  private void free(MemorySegment decompressor) {
    try {
      free.invokeExact(decompressor);
    } catch (Throwable e) {
      throw unexpected(e);
    }
  }

  /** The functions throw nothing; what comes is of the machine. */
  private static RuntimeException unexpected(Throwable e) {
    if (e instanceof Error error) {
      throw error;
    }
    return new IllegalStateException(e);
  }
}

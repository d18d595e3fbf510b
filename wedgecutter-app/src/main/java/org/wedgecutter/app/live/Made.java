package org.wedgecutter.app.live;

import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Something that is made when it is first asked for, under a lock that several of them share. */
final class Made<T> {
  private final Object lock;
  private final Supplier<T> maker;
  private volatile @Nullable T value;

  Made(Object lock, Supplier<T> maker) {
    this.lock = lock;
    this.maker = maker;
  }

  /** Returns it, and makes it if need be. */
  T get() {
    T known = value;
    if (known == null) {
      synchronized (lock) {
        known = value;
        if (known == null) {
          known = maker.get();
          value = known;
        }
      }
    }
    return known;
  }

  /** Returns it if it has been made; takes no lock. */
  @Nullable T ifMade() {
    return value;
  }

  /** Takes over what another one has made, if anything. */
  void takeOver(Made<T> other) {
    value = other.value;
  }
}

package org.wedgecutter.core.deliver.unit;

/** Holds threads back while it is shut. */
final class Gate {
  private boolean shut;

  /** Shuts or opens it. */
  synchronized void shut(boolean next) {
    shut = next;
    notifyAll();
  }

  /** Waits until it is open. */
  synchronized void pass() {
    while (shut) {
      try {
        wait();
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        return;
      }
    }
  }
}

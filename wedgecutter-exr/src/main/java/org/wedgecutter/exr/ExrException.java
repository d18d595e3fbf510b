package org.wedgecutter.exr;

import java.io.IOException;

/**
 * The bytes are not an OpenEXR file that can be read; the message says where and what was expected.
 */
public class ExrException extends IOException {
  private static final long serialVersionUID = 1L;

  public ExrException(String message) {
    super(message);
  }
}

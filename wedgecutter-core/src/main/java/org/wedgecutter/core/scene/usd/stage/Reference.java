package org.wedgecutter.core.scene.usd.stage;

/**
 * A reference or payload.
 *
 * @param asset the layer's file as written; empty for the layer stack that holds the reference
 * @param path of the prim in it; empty for its default prim
 * @param offset of its time codes
 */
public record Reference(String asset, String path, LayerOffset offset) {}

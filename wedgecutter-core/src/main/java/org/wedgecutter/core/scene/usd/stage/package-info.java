/**
 * Stages of OpenUSD: layers in their text, crate and package forms, and the prims that they compose
 * into. It knows the specification alone and nothing of what is made of a stage.
 *
 * <p>Begin with {@link org.wedgecutter.core.scene.usd.stage.Stage}: it opens a stage from the files
 * that {@link org.wedgecutter.core.scene.usd.stage.Assets} finds, and gives its {@link
 * org.wedgecutter.core.scene.usd.stage.StagePrim}s. {@code TextLayer} and {@code CrateLayer} read
 * files into one model of layers ({@code PrimSpec}, {@code PropertySpec}); {@code Composer} finds
 * from where a prim has its opinions, and in which order; {@code Stage} joins them.
 *
 * <p>Composed: sublayers, references, payloads, inherits, variants and specializes, with list
 * edits, time offsets, default prims, active, and instances. Told and left out: relocates, value
 * clips, splines. Sources: the OpenUSD documentation and the Core Specification of the Alliance for
 * OpenUSD. Files are untrusted: sizes, counts and nesting are bounded, and nothing outside the
 * given folders is read.
 */
@NullMarked
package org.wedgecutter.core.scene.usd.stage;

import org.jspecify.annotations.NullMarked;

/**
 * OpenEXR files in pure Java: reading and writing of flat scanline images, usable on its own.
 *
 * <h2>Contents</h2>
 *
 * <ul>
 *   <li>{@link org.wedgecutter.exr.ExrImage}, {@link org.wedgecutter.exr.ExrPart}: an image in
 *       memory
 *   <li>{@link org.wedgecutter.exr.Channel}, {@link org.wedgecutter.exr.PixelType}, {@link
 *       org.wedgecutter.exr.Samples}: what a part holds
 *   <li>{@link org.wedgecutter.exr.Attribute}: typed header attributes
 *   <li>{@link org.wedgecutter.exr.ExrReader}, {@link org.wedgecutter.exr.ExrWriter}: the files
 * </ul>
 *
 * <h2>File layout</h2>
 *
 * All numbers are little-endian. A file is, in order:
 *
 * <table>
 *   <caption>Sections of a scanline file</caption>
 *   <tr><th>section</th><th>content</th></tr>
 *   <tr><td>magic</td><td>int32 {@code 20000630}</td></tr>
 *   <tr><td>version</td><td>int32: 2, and flags {@code 0x400} long names, {@code 0x1000} multi-part</td></tr>
 *   <tr><td>headers</td><td>per part: attributes (name, type, int32 size, value), ended by a zero byte; a
 *       multi-part file has one more zero byte after the last header</td></tr>
 *   <tr><td>offsets</td><td>per part: one int64 for each chunk, its place in the file</td></tr>
 *   <tr><td>chunks</td><td>(multi-part: int32 part), int32 first line, int32 bytes, data</td></tr>
 * </table>
 *
 * A chunk holds 1 line (none, RLE, ZIPS) or 16 lines (ZIP); within it each line holds each
 * channel's row, channels in ascending order of name. RLE and ZIP first split the bytes into even
 * and odd places and replace each by its difference from the one before. A chunk that does not
 * shrink is stored as it is.
 *
 * <p>Source: the OpenEXR project's public technical description of the file layout.
 */
@NullMarked
package org.wedgecutter.exr;

import org.jspecify.annotations.NullMarked;

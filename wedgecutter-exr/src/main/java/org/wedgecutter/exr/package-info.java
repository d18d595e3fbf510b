/**
 * OpenEXR files by the JDK alone, usable on its own: of lines and of tiles with their smaller
 * pictures, flat and deep, of one part and several, by every compression of the format. Begin with
 * {@link org.wedgecutter.exr.ExrReader} and {@link org.wedgecutter.exr.ExrWriter}.
 *
 * <h2>Contents</h2>
 *
 * <ul>
 *   <li>{@link org.wedgecutter.exr.ExrImage}, {@link org.wedgecutter.exr.ExrPart}, {@link
 *       org.wedgecutter.exr.Level}: an image in memory
 *   <li>{@link org.wedgecutter.exr.ExrHeader}, {@link org.wedgecutter.exr.Tiles}, {@link
 *       org.wedgecutter.exr.Screen}: what a file tells of a part
 *   <li>{@link org.wedgecutter.exr.Channel}, {@link org.wedgecutter.exr.PixelType}, {@link
 *       org.wedgecutter.exr.Samples}: what a part holds
 *   <li>{@link org.wedgecutter.exr.Attribute}: typed header attributes
 *   <li>{@link org.wedgecutter.exr.ExrReader}, {@link org.wedgecutter.exr.ExrWriter}: whole files;
 *       {@link org.wedgecutter.exr.ExrInput}, {@link org.wedgecutter.exr.ExrBands}: piece by piece
 *   <li>{@code Codec}: how chunks are packed; each of its classes tells its layout
 *   <li>{@code QuickInflate}: the system's libdeflate, where it is installed; it only saves time
 * </ul>
 *
 * <h2>File layout</h2>
 *
 * All numbers are little-endian. A file is, in order:
 *
 * <table>
 *   <caption>Sections of a file</caption>
 *   <tr><th>section</th><th>content</th></tr>
 *   <tr><td>magic</td><td>int32 {@code 20000630}</td></tr>
 *   <tr><td>version</td><td>int32: 2, and flags {@code 0x200} tiles, {@code 0x400} long names, {@code 0x800} deep, {@code 0x1000} multi-part</td></tr>
 *   <tr><td>headers</td><td>per part: attributes (name, type, int32 size, value), ended by a zero byte; a
 *       multi-part file has one more zero byte after the last header</td></tr>
 *   <tr><td>offsets</td><td>per part: one int64 for each chunk, its place in the file</td></tr>
 *   <tr><td>chunks</td><td>(multi-part: int32 part), int32 first line or four int32 for a tile (column, line, level across, level down), int32 bytes, data</td></tr>
 *   <tr><td>deep chunks</td><td>the same coordinates, three int64 (bytes of the counts, of the samples, of the samples unpacked), counts, samples</td></tr>
 * </table>
 *
 * A chunk of lines holds as many as its compression says; within it each line holds each channel's
 * row, channels in ascending order of name. A chunk that does not shrink is stored as it is. Counts
 * of a deep chunk are int32, in each line the sum so far.
 *
 * <h2>Invariants</h2>
 *
 * Files are not trusted: sizes are checked against the file's length before memory is taken, and a
 * wrong byte ends in an {@link org.wedgecutter.exr.ExrException}. Numbers keep their bits, those of
 * NaN too. Chunks are packed and unpacked by the common pool's threads; files do not depend on how
 * many there are.
 *
 * <p>Source: the OpenEXR project's public technical description of the file layout.
 */
@NullMarked
package org.wedgecutter.exr;

import org.jspecify.annotations.NullMarked;

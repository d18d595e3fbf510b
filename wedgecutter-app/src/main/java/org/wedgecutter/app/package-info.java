/**
 * The desktop application. {@link org.wedgecutter.app.AppMain} reads the command, {@link
 * org.wedgecutter.app.WedgecutterApp} puts one window together out of the rooms below.
 *
 * <ol>
 *   <li>{@code theme}: colours, fonts, glyphs
 *   <li>{@code model}: the plan under edit and its history
 *   <li>{@code live}: tracing while the plan is edited
 *   <li>{@code sheet}: the table of layers
 *   <li>{@code panel}: building blocks of panels
 *   <li>{@code viewer}: the picture
 *   <li>{@code files}: everything that touches files
 *   <li>{@code station}: what a station is; {@code station.shot}, {@code .cut}, {@code .output},
 *       {@code .render}: the stations
 *   <li>{@code shell}: the window; it knows stations by their interface alone
 * </ol>
 *
 * <p>Threads: the interface thread never waits. Opening and saving go on in {@code files}, tracing
 * in {@code live}, images for the screen in {@code viewer}, checking in {@code shell}, deliveries
 * in {@code station.render}; each hands its result back by {@code Platform.runLater}.
 */
@NullMarked
package org.wedgecutter.app;

import org.jspecify.annotations.NullMarked;

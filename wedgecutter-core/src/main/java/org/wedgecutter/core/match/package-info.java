/**
 * Finds the camera of a photograph from what is marked in it ({@link
 * org.wedgecutter.core.plan.CameraMarks}): lines along axes, the horizon, points, distances on the
 * ground.
 *
 * <p>{@link org.wedgecutter.core.match.CameraMatch} is the search: least squares over the distances
 * of the marks, in pixels, from many directions first, or from a camera that is near while a mark
 * is dragged. Beside the camera it tells the distance of each mark, by how much the camera may be
 * wrong, and what the marks leave open. What is found is a plan's own camera and nothing else: no
 * other room knows that it was matched.
 *
 * <p>{@link org.wedgecutter.core.match.GroundLines} and {@link
 * org.wedgecutter.core.match.SceneEdges} are what is drawn over the picture to judge it: the
 * ground, the horizon, the axes, and edges of things in the scene.
 */
@NullMarked
package org.wedgecutter.core.match;

import org.jspecify.annotations.NullMarked;

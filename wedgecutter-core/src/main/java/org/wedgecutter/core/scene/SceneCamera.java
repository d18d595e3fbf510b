package org.wedgecutter.core.scene;

/**
 * A perspective camera looking along its node's -z axis, y up.
 *
 * @param name for people
 * @param node index of its node
 * @param verticalView the whole vertical angle of view, radians
 */
public record SceneCamera(String name, int node, float verticalView) {}

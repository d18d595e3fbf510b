/**
 * A shot, read before it is cut, and its cost, known before it is rendered. Begin with {@link
 * org.wedgecutter.core.survey.Surveyor} and {@link org.wedgecutter.core.survey.ShotSurvey}.
 *
 * <h2>Contents</h2>
 *
 * <ul>
 *   <li>{@link org.wedgecutter.core.survey.Parts}: what is compared: collections, or groups
 *   <li>{@link org.wedgecutter.core.survey.Changes}: what moves, deforms, or is keyed, and when
 *   <li>{@link org.wedgecutter.core.survey.DepthOrder}: what is in front of what
 *   <li>{@link org.wedgecutter.core.survey.LightMatrix}: who lights whom
 *   <li>{@link org.wedgecutter.core.survey.Matter}: a frame that matters
 *   <li>{@link org.wedgecutter.core.survey.FrameSurvey}, {@link org.wedgecutter.core.survey.Noise}:
 *       what a quick trace of one frame tells
 *   <li>{@link org.wedgecutter.core.survey.TimeEstimate}: how long frames, layers and the shot take
 *   <li>{@link org.wedgecutter.core.survey.SampleSpread}: the samples that reach a noise or a time
 *   <li>{@link org.wedgecutter.core.survey.SurveyStore}: quick traces kept beside the plan, by
 *       digest
 *   <li>{@link org.wedgecutter.core.survey.LightPicture}: what one part does to the light of
 *       another
 *   <li>{@link org.wedgecutter.core.survey.PixelReading}: what one pixel's light is made of
 * </ul>
 *
 * <h2>Mechanism</h2>
 *
 * <p>Sight lines, which go through everything and need no light, are cheap: they are cast at all
 * frames, and tell coverage and order in depth. They choose the frames that are traced small: these
 * tell interplay, noise and time. Everything is kept by entity, so that it can be grouped by other
 * parts at once. Frames that are the same by the digest of {@code TimeDigest} are looked at once.
 */
@NullMarked
package org.wedgecutter.core.survey;

import org.jspecify.annotations.NullMarked;

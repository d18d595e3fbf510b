package org.wedgecutter.core.check;

import java.util.Locale;
import org.wedgecutter.core.check.Finding.Severity;

/**
 * The catalogue: every sort of finding, how bad it is, what it means for the picture, and what its
 * fix does. The page in the documentation is made from this.
 */
public enum Kind {
  // ---- membership
  SEEN_NOWHERE(
      Severity.ERROR,
      "An object is in no layer",
      "No layer that is joined shows it, so it is missing from the rejoined picture.",
      "makes it Seen in the layer that shows its neighbours"),
  SEEN_TWICE(
      Severity.ERROR,
      "An object is in two layers",
      "Several joined layers show it under the same lights, so its light is counted twice.",
      "makes it Holdout in all of them but one"),
  ENTITY_NEW(
      Severity.WARNING,
      "Objects came into the scene since the plan was saved",
      "They fell into the rest, where nobody decided for them.",
      "takes note of them as they are"),
  ENTITY_GONE(
      Severity.NOTE,
      "Objects left the scene since the plan was saved",
      "What was said of them by hand has no effect any more.",
      "takes note of it"),
  RULE_EMPTY(
      Severity.WARNING,
      "A collection takes nothing",
      "Its rule matches nothing in this scene, often for a letter too many.",
      "takes the collection away"),
  RULE_GREEDY(
      Severity.WARNING,
      "A rule takes more than meant",
      "It takes nearly everything in the scene, and rows below it have little left to decide.",
      "moves it to the last row, where what is named above it goes first"),
  ROW_HIDDEN(
      Severity.WARNING,
      "A row decides nothing",
      "Rows above it take all that it takes, in every layer in which it says something.",
      "moves it above them"),
  ROW_UNUSED(
      Severity.NOTE,
      "No layer speaks of a collection",
      "It has no cell of its own in any layer.",
      ""),
  MEMBER_LOST(
      Severity.WARNING,
      "A hand-picked object is gone",
      "A collection holds a path by hand that this scene does not have.",
      "takes it out"),
  TWIN_OBJECTS(
      Severity.WARNING,
      "Two objects lie in the same place",
      "A copy that was made to hide something doubles light and drifts from its original; here a role does it.",
      ""),

  // ---- layers
  LAYER_EMPTY(
      Severity.WARNING,
      "A layer is empty",
      "It is rendered, but shows nothing and catches nothing.",
      "switches it off and takes it out of the recipe"),
  LAYER_DARK(
      Severity.ERROR,
      "A layer is black",
      "Everything that shines is Absent in it: a light was not taken along.",
      "makes the lights Unseen in it, so that they shine"),
  LAYER_WHOLE(
      Severity.WARNING,
      "The whole scene is rendered as a layer",
      "It shows everything and is not joined; the uncut frame is what it would be compared with.",
      "switches it off"),
  LAYER_NOT_RENDERED(
      Severity.ERROR,
      "A layer that is joined is off",
      "It was switched off, perhaps for a test, but the recipe needs it.",
      "switches it on"),
  LAYER_NOT_JOINED(
      Severity.WARNING,
      "A layer is left out of the recipe",
      "It is rendered, but nothing is done with it.",
      "joins it by plus"),
  LAYER_STILL(
      Severity.NOTE,
      "One frame would do",
      "Nothing that the layer depends on moves, but it is rendered at every frame.",
      "renders its first frame only, which is held"),

  // ---- light
  LIGHT_TWICE(
      Severity.ERROR,
      "A light is on in two layers that should split it",
      "Both show the same things, so its light is counted twice: the split is not isolated.",
      "makes it Absent in one of them"),
  LIGHT_DIFFERS(
      Severity.ERROR,
      "Light is missing in a layer",
      "Something is Absent or switched off there, so that its shadow, reflection or light is missing on what the layer shows.",
      "makes it Unseen, or switches it on"),
  OVERRIDE_DIFFERS(
      Severity.WARNING,
      "An override changes light in one layer only",
      "What it sends to the other layers' things stays as it was, so the layers do not rejoin to the uncut frame.",
      "switches the overrides off"),
  SETTINGS_DIFFER(
      Severity.WARNING,
      "A layer is traced otherwise than the shot",
      "Bounces, samples, size or environment of its own make its light another.",
      "switches the settings off"),
  HELD_NOT_STILL(
      Severity.ERROR,
      "A held frame is not still",
      "The layer has frames of its own, but what it depends on moves.",
      "renders it at every frame"),
  DOUBLED_SHADOW(
      Severity.ERROR,
      "Two layers' shadows darken twice",
      "Both catch on one surface as if the other were not there; where they block the same light it is taken away twice.",
      "lets the first layer catch both casters and takes the second away"),
  CATCHER_IDLE(
      Severity.WARNING,
      "A catcher catches nothing",
      "No row of the layer is a caster: a Holdout is part of the plate unless it is told otherwise.",
      "counts what is held out there as casters"),
  CASTER_IDLE(
      Severity.NOTE,
      "A caster without a catcher",
      "The cell says that it is caught, but the layer has no catcher.",
      "takes the remark away"),
  CATCHER_DARK(
      Severity.WARNING,
      "A catcher without its environment",
      "The environment is Absent in the layer: reflections are black, and the soft shadow is missing.",
      "makes the environment Unseen there"),
  SELF_SHADOW(
      Severity.NOTE,
      "A part still shadows itself",
      "All others throw no shadow in the layer, but what it shows does, on itself too.",
      "switches shadow.self off for what is seen"),
  MEDIUM_NOT_HELD_OUT(
      Severity.WARNING,
      "Haze reaches through the wall",
      "A layer shows a medium, and surfaces that stand in it neither show nor hold it out.",
      "makes them Holdout there"),

  // ---- edges and joins
  OVER_ON_HELD_OUT(
      Severity.WARNING,
      "Over on a held-out layer",
      "Over leaves a dark halo along the edge where the two hold each other out.",
      "joins it by plus"),
  PLUS_ON_COMPLETE(
      Severity.ERROR,
      "Plus on a complete background",
      "The background is whole behind what is added to it: light is counted twice.",
      "makes the front Holdout in the background"),
  WRONG_JOIN(
      Severity.ERROR,
      "A catcher is joined by another operation than its form",
      "A difference is added, a ratio multiplied, a catch caught.",
      "joins it as its form wants"),
  FIRST_JOIN(
      Severity.ERROR,
      "The first layer multiplies nothing",
      "There is nothing behind it that it could darken.",
      "moves it to the front"),
  JOIN_ORDER(
      Severity.WARNING,
      "Layers are joined in another order than they stand in",
      "What is joined by over, times or catch must come after all that is behind it.",
      "joins from the back to the front"),
  GREY_CATCH(
      Severity.NOTE,
      "A coloured shadow is made grey",
      "A catch picture darkens all colours alike and cannot take reflections away.",
      "catches the difference and joins it by plus"),
  RATIO_ON_SPECULAR(
      Severity.NOTE,
      "A ratio scales reflections too",
      "It is measured on diffuse light, and multiplies all of it.",
      "catches the difference and joins it by plus"),
  EDGE_COVARIANCE(
      Severity.NOTE,
      "Over approximates on edges",
      "Inside an edge pixel, cover and the light behind are not mixed as in the uncut frame.",
      ""),
  CATCH_TUNED(
      Severity.NOTE,
      "A catcher catches less, or other, than there is",
      "Its shadows or reflections are weighed, of some lights, within a reach, or it delivers one part.",
      "catches the difference as it is"),
  HAZE_APART(
      Severity.NOTE,
      "Haze lies over layers that are lit without it",
      "It can be changed later without them; how it dims and spreads light in them is missing. Interplay"
          + " tells how much that is.",
      ""),

  // ---- overrides
  OVERRIDE_IDLE(
      Severity.WARNING,
      "An override has nothing to work on",
      "Nothing in its cell has the property, or the cell's role is Absent.",
      "takes it away"),
  OVERRIDE_SAME(
      Severity.NOTE,
      "An override changes nothing",
      "The value is the one that was there before.",
      "takes it away"),
  OVERRIDE_EVERYWHERE(
      Severity.NOTE,
      "The same override in every layer",
      "It is a change for the whole shot; perhaps it belongs into the scene.",
      ""),
  MATERIAL_UNKNOWN(
      Severity.ERROR,
      "An override names a material that is not there",
      "The scene has no material of this name, and none is built in.",
      "takes it away"),
  KEYS_OUTSIDE(
      Severity.WARNING,
      "Keys lie outside of the shot",
      "All values that change lie before its first frame or after its last.",
      ""),

  // ---- output
  NAME_EXTENSION(
      Severity.WARNING,
      "The name has an extension",
      "The format gives it one; with its own it would be doubled.",
      "takes it out of the template"),
  NAME_PADDING(
      Severity.WARNING,
      "Frame numbers are not padded",
      "Files sort 1, 10, 2: in the wrong order.",
      "pads them to four digits"),
  NAME_COLLISION(
      Severity.ERROR,
      "Two files would share a name",
      "The template does not tell layers or frames apart, or two names become one when made safe.",
      "goes back to the usual template"),
  FRAMES_OUTSIDE(
      Severity.WARNING,
      "A layer's frames lie outside of the shot",
      "It would never be rendered at a frame that is looked at.",
      "renders it at the shot's frames"),
  SIZE_ASPECT(
      Severity.WARNING,
      "A layer has another shape than the shot",
      "Its picture shows another part of the scene and does not lie on the others.",
      "renders it at the shot's size");

  private final Severity severity;
  private final String title;
  private final String meaning;
  private final String fix;

  Kind(Severity severity, String title, String meaning, String fix) {
    this.severity = severity;
    this.title = title;
    this.meaning = meaning;
    this.fix = fix;
  }

  /** Returns the word in documents. */
  public String word() {
    return name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  /** Returns how bad it is. */
  public Severity severity() {
    return severity;
  }

  /** Returns the mistake in a few words. */
  public String title() {
    return title;
  }

  /** Returns what it means for the picture. */
  public String meaning() {
    return meaning;
  }

  /** Returns what its one-click fix does, or an empty text if it has none. */
  public String fix() {
    return fix;
  }
}

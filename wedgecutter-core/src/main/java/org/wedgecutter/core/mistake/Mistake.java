package org.wedgecutter.core.mistake;

import java.util.Locale;

/**
 * The catalogue of what can be wrong with a cut: how bad each mistake is, what it means for the
 * picture, and what its fix does. Findings (from the plan alone) and causes (of a measured
 * residual) are of these kinds; the sentences that tell one are in {@link Sentence}. {@code
 * docs/findings.md} is written from this catalogue.
 */
public enum Mistake {
  // ---- membership
  SEEN_NOWHERE(
      Severity.ERROR,
      "An object is seen in no layer",
      "No joined layer shows it, so it is missing from the rejoined picture.",
      "Makes it Seen in the layer that shows its neighbours."),
  SEEN_IN_RATIO(
      Severity.ERROR,
      "An object is Seen in a layer that cannot show it",
      "The layer delivers what a catcher catches as a ratio, a shadow or an occlusion. That picture holds nothing else, so the object is missing.",
      "Delivers the difference, which shows it, too; or makes it Holdout if another layer shows it."),
  SEEN_TWICE(
      Severity.ERROR,
      "An object is seen in two layers",
      "Several joined layers show it under the same lights, so its light is counted twice.",
      "Makes it Holdout in all but one of them."),
  ENTITY_NEW(
      Severity.WARNING,
      "Objects are new in the scene",
      "They were added after the plan was saved and fell into the rest, where nobody chose a role for them.",
      "Accepts them as they are."),
  ENTITY_GONE(
      Severity.NOTE,
      "Objects are gone from the scene",
      "They were removed after the plan was saved. What the plan says about them by hand has no effect.",
      "Accepts that they are gone."),
  RULE_EMPTY(
      Severity.WARNING,
      "A collection matches nothing",
      "Its rule matches no object of this scene, often because of a typing error.",
      "Deletes the collection."),
  RULE_GREEDY(
      Severity.WARNING,
      "A rule matches nearly everything",
      "It leaves little for the rows below it to decide.",
      "Moves it to the last row, so that the rows above it decide first."),
  ROW_HIDDEN(
      Severity.WARNING,
      "A row decides nothing",
      "Rows above it match everything that it matches, in every layer in which it has a cell.",
      "Moves it above those rows."),
  ROW_UNUSED(
      Severity.NOTE,
      "No layer uses a collection",
      "The collection has no cell of its own in any layer.",
      ""),
  MEMBER_LOST(
      Severity.WARNING,
      "A hand-picked object is gone",
      "A collection holds a path that this scene does not have.",
      "Removes the path from the collection."),
  TWIN_OBJECTS(
      Severity.WARNING,
      "Two objects are in the same place",
      "A copy that was made to hide something doubles light and drifts from its original. A role does the same without a copy.",
      ""),
  // ---- the shot
  CAMERA_PLACED(
      Severity.NOTE,
      "The scene has no camera",
      "The plan has one of its own that frames the scene.",
      ""),
  LIGHT_NEUTRAL(
      Severity.NOTE,
      "The scene has no light",
      "A neutral grey surround that ships with the program lights it.",
      ""),
  // ---- layers
  LAYER_EMPTY(
      Severity.WARNING,
      "A layer is empty",
      "It is rendered, but shows nothing and catches nothing.",
      "Disables the layer and removes it from the recipe."),
  LAYER_DARK(
      Severity.ERROR,
      "A layer is black",
      "Every light is Absent in it.",
      "Makes the lights Unseen in it, so that they light the layer."),
  LAYER_WHOLE(
      Severity.WARNING,
      "The whole scene is rendered as a layer",
      "It shows everything and is not joined. The proof traces the uncut frame anyway.",
      "Disables the layer."),
  LAYER_NOT_RENDERED(
      Severity.ERROR,
      "A joined layer is disabled",
      "Somebody switched it off, perhaps for a test, but the recipe needs it.",
      "Enables the layer for render."),
  LAYER_NOT_JOINED(
      Severity.WARNING,
      "A layer is missing from the recipe",
      "It is rendered, but nothing is done with it.",
      "Joins it by plus."),
  LAYER_STILL(
      Severity.NOTE,
      "One frame is enough",
      "Nothing that the layer depends on moves, but it is rendered at every frame.",
      "Renders its first frame only and holds it."),
  // ---- light
  LIGHT_TWICE(
      Severity.ERROR,
      "A light is on in two layers that split the lights",
      "Both layers show the same objects, so the light is counted twice.",
      "Makes the light Absent in one of them."),
  ALPHA_COUNT(
      Severity.ERROR,
      "Alpha is not counted once",
      "Of layers that show the same objects under different lights, one is joined by plus and the others by light, which leaves alpha.",
      "Joins the first of them by plus and the others by light."),
  LIGHT_DIFFERS(
      Severity.ERROR,
      "Light is missing in a layer",
      "Something is Absent or switched off there, so its shadow, its reflection or its light is missing on what the layer shows.",
      "Makes it Unseen, or switches it on again."),
  OVERRIDE_DIFFERS(
      Severity.WARNING,
      "An override changes light in one layer only",
      "In the other layers the light from the overridden objects stays as it was, so the layers do not rejoin to the uncut frame.",
      "Switches the overrides off."),
  SETTINGS_DIFFER(
      Severity.WARNING,
      "A layer is traced differently from the shot",
      "Its own bounces, samples, size or environment give it different light.",
      "Switches the settings off."),
  HELD_NOT_STILL(
      Severity.ERROR,
      "A held frame is not still",
      "The layer has frames of its own, but what it depends on moves.",
      "Renders it at every frame."),
  DOUBLED_SHADOW(
      Severity.ERROR,
      "Two shadow layers darken twice",
      "Both catch on one surface as if the other were not there. Where they block the same light, it is removed twice.",
      "Makes the first layer catch both casters and disables the second."),
  CATCHER_IDLE(
      Severity.WARNING,
      "A catcher catches nothing",
      "No row of the layer casts onto the catcher. A Holdout counts as part of the plate unless you say otherwise.",
      "Makes the objects that are held out there cast onto the catcher."),
  CASTER_IDLE(
      Severity.NOTE,
      "A caster without a catcher",
      "The cell casts onto the catcher, but the layer has no catcher.",
      "Removes the caster mark."),
  NOT_CAUGHT(
      Severity.ERROR,
      "No layer catches on the plate",
      "What the objects do to the plate's surfaces, shadow and reflection, is in the uncut frame and in no layer.",
      "Adds a catcher layer in front of the plate."),
  CATCHER_DARK(
      Severity.WARNING,
      "A catcher without the environment",
      "The environment is Absent in the layer: reflections are black and the soft shadow is missing.",
      "Makes the environment Unseen there."),
  SELF_SHADOW(
      Severity.NOTE,
      "An object still shadows itself",
      "All other objects cast no shadows in the layer, but what it shows casts a shadow on itself.",
      "Switches shadow.self off for the Seen entities."),
  MEDIUM_NOT_HELD_OUT(
      Severity.WARNING,
      "A medium is not held out",
      "A layer shows a medium, and surfaces inside it are neither Seen nor Holdout.",
      "Makes the surfaces Holdout there."),
  // ---- edges and joins
  OVER_ON_HELD_OUT(
      Severity.WARNING,
      "Over on a held-out layer",
      "Over leaves a dark halo along the edge where two layers hold each other out.",
      "Joins it by plus."),
  PLUS_ON_COMPLETE(
      Severity.ERROR,
      "Plus on a complete background",
      "The background is complete behind the layer that is added to it, so light is counted twice.",
      "Makes the front Holdout in the background."),
  WRONG_JOIN(
      Severity.ERROR,
      "A catcher is joined by the wrong operation",
      "A difference is added, a ratio is multiplied, a catch is joined by catch.",
      "Joins it as its form needs."),
  FIRST_JOIN(
      Severity.ERROR,
      "The first layer has nothing behind it",
      "A layer joined by times or catch darkens what is behind it, and here there is nothing.",
      "Moves it to the front."),
  JOIN_ORDER(
      Severity.WARNING,
      "Layers are joined in a different order from the sheet",
      "A layer joined by over, times or catch must come after everything behind it.",
      "Joins the layers from back to front."),
  GREY_CATCH(
      Severity.NOTE,
      "A coloured shadow becomes grey",
      "A catch picture darkens all colours alike and cannot remove reflected light.",
      "Delivers the difference and joins it by plus."),
  RATIO_ON_SPECULAR(
      Severity.NOTE,
      "A ratio also scales reflections",
      "It is measured on diffuse light and multiplies all of it.",
      "Delivers the difference and joins it by plus."),
  RATIO_AT_EDGES(
      Severity.NOTE,
      "A ratio scales what stands beside its surface",
      "In a pixel that shows the caught surface and something else, the light of both is scaled.",
      "Moves the layers of the surface and its catchers to the back."),
  JOIN_FOR_LOOKS(
      Severity.WARNING,
      "A join is creative",
      "Screen, min, max, difference, and joins at part strength do not reproduce the uncut frame.",
      "Joins the layer by plus if its join is creative, at full strength."),
  EDGE_COVARIANCE(
      Severity.NOTE,
      "Over approximates on edges",
      "Inside an edge pixel, coverage and the light behind do not mix as in the uncut frame.",
      ""),
  CATCH_TUNED(
      Severity.NOTE,
      "A catcher does not catch everything as it is",
      "Its shadow density, tint, reflection gain, lights or reach are changed, it is fitted to backgrounds, or it delivers one part only.",
      "Delivers the difference unchanged."),
  HAZE_APART(
      Severity.NOTE,
      "A medium is joined over layers that are lit without it",
      "You can change it later without them. How it dims and scatters light in them is missing; the interplay shows how much.",
      ""),
  // ---- overrides
  OVERRIDE_IDLE(
      Severity.WARNING,
      "An override has no effect",
      "Nothing in its cell has the property, or the role of the cell is Absent.",
      "Deletes the override."),
  OVERRIDE_SAME(
      Severity.NOTE,
      "An override changes nothing",
      "Its value equals the value before it.",
      "Deletes the override."),
  OVERRIDE_EVERYWHERE(
      Severity.NOTE,
      "Every layer has the same override",
      "It changes the whole shot; perhaps it belongs in the scene.",
      ""),
  MATERIAL_UNKNOWN(
      Severity.ERROR,
      "An override names an unknown material",
      "The scene has no material of this name, and none is built in.",
      "Deletes the override."),
  KEYS_OUTSIDE(
      Severity.WARNING,
      "Keys are outside the frame range",
      "All keys are before the first frame of the shot or after its last.",
      ""),
  // ---- output
  NAME_EXTENSION(
      Severity.WARNING,
      "The file name has an extension",
      "The format adds its own extension, so the name would have two.",
      "Removes it from the template."),
  NAME_PADDING(
      Severity.WARNING,
      "Frame numbers have no padding",
      "Files sort as 1, 10, 2: in the wrong order.",
      "Pads frame numbers to four digits."),
  NAME_LENGTH(
      Severity.WARNING,
      "A name is longer than files' names can be",
      "File systems hold names of 255 bytes. In files the name is cut and ends in a digest, so it tells less.",
      "Gives the layer a shorter name."),
  NAME_COLLISION(
      Severity.ERROR,
      "Two files would share a name",
      "The template does not tell layers or frames apart, or two names are equal once they are made safe for file systems.",
      "Restores the default template, or gives the second layer a name of its own."),
  FRAMES_OUTSIDE(
      Severity.WARNING,
      "The frames of a layer are outside the frame range",
      "It would never be rendered at a frame of the shot.",
      "Renders it at the frames of the shot."),
  SIZE_ASPECT(
      Severity.WARNING,
      "A layer has a different aspect ratio",
      "It shows a different part of the scene and does not align with the other layers.",
      "Renders it at the size of the shot."),
  CORRECTION_IDLE(
      Severity.WARNING,
      "A correction has no effect",
      "It is of a pass that is not written with its layer, or of a layer that is not joined.",
      "Switches the correction off."),
  CORRECTION_HOLE(
      Severity.WARNING,
      "A correction opens a hole",
      "What is behind a held-out layer is cut away. Where the layer is faded, blurred or distorted, that shows as a dark silhouette.",
      "Completes what is behind the layer, and lays the layer over it."),
  CORRECTION_ON(
      Severity.NOTE,
      "A correction changes what is rejoined",
      "Proofs are of the joins alone. With the correction, what is handed over is not the uncut frame.",
      "Switches the correction off."),
  PASS_MISSING(
      Severity.ERROR,
      "The recipe reads a pass that is not written",
      "A matte or a join by depth finds nothing in the files of that layer.",
      "Writes the pass with the layer."),
  MATERIAL_IN_PART(
      Severity.NOTE,
      "A rule by material takes whole objects",
      "The rule matches one material of an object that has several. Roles and overrides are of the whole object, so its other materials go with it.",
      ""),
  MATTE_EMPTY(
      Severity.WARNING,
      "A matte picks nothing",
      "No object, material or collection has the name, so what is done through the matte changes nothing.",
      ""),
  SCENE_INCOMPLETE(
      Severity.WARNING,
      "A file of the scene is missing",
      "A layer, a texture or an object that the scene refers to is not there, or is outside the folders that may be read; the rest of the scene is shown without it.",
      ""),
  PICTURE_MISSING(
      Severity.ERROR,
      "A picture is missing or cannot be read",
      "The plate, the background, or what a surface is to show, has no file at some frames, or one that is no picture.",
      "Takes the background out of the recipe, or switches the correction off. The files of a plate are to be put there."),
  COMPRESSION_LOSSY(
      Severity.WARNING,
      "The compression changes pixels",
      "Layers that are changed one by one no longer add up to the uncut frame exactly.",
      "Packs the files by ZIP, which loses nothing."),
  IDS_ROUNDED(
      Severity.ERROR,
      "The compression damages ID mattes",
      "PXR24 drops the last eight bits of floats, and IDs are all their bits.",
      "Packs the files by ZIP, which loses nothing."),
  DEEP_HELD_OUT(
      Severity.WARNING,
      "A deep layer is held out",
      "Merging by depth hides it once more, so its edges darken.",
      "Leaves the deep file out of the layer."),
  COPY_UNSIGNED(
      Severity.WARNING,
      "A copy cannot take light away",
      "A catcher's difference is negative where it darkens. Pictures for screens and HDR hold no negative light, so none is written of this layer; layered files hold what it does.",
      ""),
  DEEP_UNFILTERED(
      Severity.NOTE,
      "A deep file is not filtered",
      "The noise filter works on flat pictures. Flattened, the deep file is noisier than the flat one.",
      "Leaves the deep file out of the layer."),
  DEEP_CATCHER(
      Severity.NOTE,
      "A catcher has no deep file",
      "What a catcher changes is light on a surface of another layer.",
      "Leaves the deep file out of the layer."),
  // ---- light that files cannot hold
  INVALID_LIGHT(
      Severity.ERROR,
      "Light is not finite",
      "A layer holds values that are infinite or not a number, and nothing rejoins from them.",
      ""),
  HALF_RANGE(
      Severity.WARNING,
      "Light is beyond the range of half floats",
      "Half floats hold nothing above 65504, and lose precision below 0.00006. Brighter light becomes infinite in the files.",
      "Writes the beauty as 32-bit floats."),
  // ---- files of a delivery
  FILE_CHANGED(
      Severity.ERROR,
      "A file does not match its record",
      "The file was changed after it was rendered.",
      ""),
  STALE(
      Severity.ERROR,
      "A file is stale",
      "It was rendered before plan or scene were changed, and other files of the frame after.",
      ""),
  FILE_MISSING(
      Severity.ERROR,
      "A file is missing or cannot be read",
      "The recipe joins a layer that is not there.",
      ""),
  FILE_ALTERED(
      Severity.ERROR,
      "The pixels of a file were altered",
      "Something was done to the file that can be recognised in its pixels.",
      ""),
  FILE_REWRITTEN(
      Severity.NOTE,
      "A file was written again",
      "It does not match its record, but its pixels rejoin as rendered: only its packing, precision or data window differ.",
      ""),
  RECORDS_DOUBTED(
      Severity.WARNING,
      "Files and records do not tell what is wrong",
      "Every file fits its record, and the plan rejoins when traced. Records were changed along with the files, or another version of the program rendered them.",
      "");

  private final Severity severity;
  private final String title;
  private final String meaning;
  private final String fix;

  Mistake(Severity severity, String title, String meaning, String fix) {
    this.severity = severity;
    this.title = title;
    this.meaning = meaning;
    this.fix = fix;
  }

  /** Returns the name in documents and JSON. */
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

  /** Returns what its one-click fix does; empty if it has none. */
  public String fix() {
    return fix;
  }

  /** How bad a mistake is. */
  public enum Severity {
    /** The result will be wrong. */
    ERROR,
    /** The result may not be what was meant. */
    WARNING,
    /** An approximation that was chosen. */
    NOTE;

    /** Returns the name in documents and JSON. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }
  }
}

package org.wedgecutter.core.mistake;

/**
 * The sentences that tell a {@link Mistake}: what is wrong, and what to do. Both are templates.
 *
 * <p>{@code {name}} stands for an argument. {@code {name:one|many}} stands for one of two words, by
 * the number of things in an argument. {@link Message} fills them in.
 */
public enum Sentence {
  SEEN_NOWHERE(
      Mistake.SEEN_NOWHERE,
      "{entities} {entities:is|are} seen in no layer and missing from the rejoined picture",
      "make {entities:it|them} Seen in one layer"),
  SEEN_IN_RATIO(
      Mistake.SEEN_IN_RATIO,
      "{entities} {entities:is|are} Seen in layer {layer}, which delivers {form}: {entities:it is|they are} not in its picture",
      "deliver the difference, or make {entities:it|them} Holdout there"),
  SEEN_TWICE(
      Mistake.SEEN_TWICE,
      "{entities} {entities:is|are} seen in {layers}: {entities:its|their} light is counted twice",
      "make {entities:it|them} Holdout in all but one"),
  ENTITY_NEW(
      Mistake.ENTITY_NEW,
      "{entities} {entities:is|are} new in the scene since the plan was saved, and {entities:is|are} in the rest",
      "put {entities:it|them} into a collection, or accept {entities:it|them} as {entities:it is|they are}"),
  CAMERA_PLACED(
      Mistake.CAMERA_PLACED,
      "the scene has no camera; the plan has one of its own",
      "turn it by Ctrl-drag in the picture, move it by Ctrl-Shift-drag, or add a camera to the scene"),
  LIGHT_NEUTRAL(
      Mistake.LIGHT_NEUTRAL,
      "the scene has no light; a neutral grey surround lights it",
      "choose an environment image in the shot's settings, or add lights to the scene"),
  ENTITY_GONE(
      Mistake.ENTITY_GONE,
      "{entities} {entities:is|are} gone from the scene since the plan was saved",
      "check whether anything depended on {entities:it|them}"),
  RULE_EMPTY(
      Mistake.RULE_EMPTY,
      "collection {collection} matches nothing in this scene",
      "change its rule, or delete it"),
  RULE_GREEDY(
      Mistake.RULE_GREEDY,
      "collection {collection} matches {count} of {total} entities",
      "make its rule narrower, or leave the objects to the rest"),
  ROW_HIDDEN(
      Mistake.ROW_HIDDEN,
      "rows above collection {collection} match everything that it matches",
      "move it up"),
  ROW_UNUSED(
      Mistake.ROW_UNUSED,
      "no layer uses collection {collection}",
      "set its role in a layer, or delete it"),
  MEMBER_LOST(
      Mistake.MEMBER_LOST,
      "collection {collection} holds {path} by hand, but the scene has no such object",
      "remove it"),
  TWIN_OBJECTS(
      Mistake.TWIN_OBJECTS,
      "{path} and {other} are the same mesh in the same place",
      "delete one in the scene; a role hides or holds out without a copy"),

  LAYER_EMPTY(
      Mistake.LAYER_EMPTY,
      "layer {layer} shows nothing and catches nothing",
      "make something Seen in it, or disable it"),
  LAYER_DARK(
      Mistake.LAYER_DARK,
      "nothing emits light in layer {layer}: {entities} {entities:is|are} Absent there",
      "make the lights Unseen there"),
  LAYER_WHOLE(
      Mistake.LAYER_WHOLE,
      "layer {layer} shows the whole scene and is not joined",
      "disable it; the proof traces the uncut frame anyway"),
  LAYER_NOT_RENDERED(
      Mistake.LAYER_NOT_RENDERED, "layer {layer} is joined but disabled", "enable it for render"),
  LAYER_NOT_JOINED(
      Mistake.LAYER_NOT_JOINED,
      "the recipe does not join layer {layer}",
      "add it to the recipe, or disable it"),
  LAYER_STILL(
      Mistake.LAYER_STILL,
      "nothing moves in layer {layer}, but it is rendered at {count} frames",
      "render frame {frame} only and hold it"),

  LIGHT_TWICE(
      Mistake.LIGHT_TWICE,
      "{entities} {entities:is|are} on in layers {layers}, which show the same objects: {entities:its|their} light is counted twice",
      "make {entities:it|them} Absent in one of them"),
  ALPHA_MISSING(
      Mistake.ALPHA_COUNT,
      "{entities} {entities:is|are} joined by light alone: no layer counts {entities:its|their} alpha",
      "join {layer} by plus"),
  ALPHA_TWICE(
      Mistake.ALPHA_COUNT,
      "layers {layers} show {entities} under different lights and add {entities:its|their} alpha, too",
      "join {layer} by light: it adds colour and leaves alpha"),
  LIGHT_OFF_EVERYWHERE(
      Mistake.LIGHT_DIFFERS,
      "{entities} {entities:is|are} on in none of the layers {layers}: {entities:its|their} light is missing",
      "switch {entities:it|them} on in one of them"),
  LIGHT_ABSENT(
      Mistake.LIGHT_DIFFERS,
      "light is missing in layer {layer}: {entities} {entities:is|are} Absent there",
      "make {entities:it|them} Unseen there"),
  LIGHT_SWITCHED_OFF(
      Mistake.LIGHT_DIFFERS,
      "light is missing in layer {layer}: {entities} {entities:is|are} switched off there",
      "switch {entities:it|them} on there"),
  INFLUENCE_ABSENT(
      Mistake.LIGHT_DIFFERS,
      "light differs in layer {layer}: {entities} {entities:is|are} Absent there and {entities:casts|cast} no shadow, reflection or bounced light",
      "make {entities:it|them} Unseen or Holdout there"),
  INFLUENCE_SWITCHED_OFF(
      Mistake.LIGHT_DIFFERS,
      "light differs in layer {layer}: {entities} {entities:has|have} {switches} switched off there",
      "switch them on, or add a catcher layer"),
  NOT_CAST(
      Mistake.LIGHT_DIFFERS,
      "layer {layer} does not catch what {entities} {entities:does|do}: {entities:it is|they are} no {entities:caster|casters} there",
      "let {entities:it|them} cast onto the catcher there"),
  OVERRIDE_DIFFERS(
      Mistake.OVERRIDE_DIFFERS,
      "an override changes {entities} in layer {layer} only, so {entities:its|their} light on other objects differs too",
      "switch the override off, or change the whole shot"),
  OVERRIDE_IN_ALL(
      Mistake.OVERRIDE_DIFFERS,
      "the same override changes {entities} in layers {layers}, and the uncut frame is without it",
      "change the material or light in the scene, or switch the override off"),
  SETTINGS_DIFFER(
      Mistake.SETTINGS_DIFFER,
      "layer {layer} has {settings}, so its light differs from the uncut frame",
      "reset the settings if the layers must rejoin exactly"),
  HELD_NOT_STILL(
      Mistake.HELD_NOT_STILL,
      "layer {layer} holds frame {held} at frame {frame}, but what it depends on moves",
      "render it at every frame, or make what moves Absent in it"),
  DOUBLED_SHADOW(
      Mistake.DOUBLED_SHADOW,
      "layers {layers} both catch on {entities}, each as if the other were not there: where both block the same light it is darkened twice",
      "let one layer catch both casters, or make the casters of the first Absent in the second"),
  CATCHER_IDLE(
      Mistake.CATCHER_IDLE,
      "layer {layer} catches on {entities}, but nothing in it casts onto the catcher",
      "make the casters Seen or Unseen, or let a Holdout cast onto the catcher"),
  CASTER_IDLE(
      Mistake.CASTER_IDLE,
      "{collection} casts onto the catcher in layer {layer}, which has no catcher",
      "make a surface Catcher there, or remove the caster mark"),
  NOT_CAUGHT(
      Mistake.NOT_CAUGHT,
      "no layer catches what {entities} {entities:does|do} to the plate: {entities:its|their} shadow and reflection are missing",
      "add a catcher layer in front of the plate"),
  CATCHER_DARK(
      Mistake.CATCHER_DARK,
      "the environment is Absent in layer {layer}: its shadow and reflections are not caught",
      "make it Unseen there"),
  SELF_SHADOW(
      Mistake.SELF_SHADOW,
      "in layer {layer} only {entities} {entities:casts|cast} shadows, on {entities:itself|themselves}",
      "switch shadow.self off if the layer must be free of shadows"),
  MEDIUM_NOT_HELD_OUT(
      Mistake.MEDIUM_NOT_HELD_OUT,
      "{holders} {holders:does|do} not hold out {entities} in layer {layer}",
      "make {holders:it|them} Holdout there"),

  OVER_ON_HELD_OUT(
      Mistake.OVER_ON_HELD_OUT,
      "layer {layer} is joined over {entities}, and they hold each other out: over leaves a dark edge",
      "join it by plus"),
  PLUS_ON_COMPLETE(
      Mistake.PLUS_ON_COMPLETE,
      "layer {layer} is complete behind {entities}, but both are added: light is counted twice",
      "make {entities:it|them} Holdout there, or join the front by over"),
  WRONG_JOIN(
      Mistake.WRONG_JOIN,
      "layer {layer} delivers a {form} but is joined by {join}",
      "join it by {right}"),
  FIRST_JOIN(
      Mistake.FIRST_JOIN,
      "layer {layer} is joined by {join}, but nothing is behind it",
      "move it in front of what it darkens"),
  JOIN_ORDER(
      Mistake.JOIN_ORDER,
      "layer {layer} is joined by {join} after layers that are in front of it",
      "join the layers from back to front"),
  GREY_CATCH(
      Mistake.GREY_CATCH,
      "layer {layer} darkens all colours alike and cannot remove reflected light",
      "deliver the difference and join it by plus if colours must be exact"),
  GREY_CATCH_MEASURED(
      Mistake.GREY_CATCH,
      "layer {layer} darkens all colours alike and cannot remove reflected light; clamping lost {lost} per pixel on average",
      "deliver the difference and join it by plus if colours must be exact"),
  RATIO_ON_SPECULAR(
      Mistake.RATIO_ON_SPECULAR,
      "layer {layer} scales all light by the ratio of its diffuse light",
      "deliver the difference and join it by plus, or join pass by pass"),
  RATIO_AT_EDGES(
      Mistake.RATIO_AT_EDGES,
      "layer {layer} scales the light of all that is behind it in a pixel, also of what stands beside its surface",
      "move the layer of its surface to the back, and {layer} right in front of it"),
  RATIO_MEASURED(
      Mistake.RATIO_ON_SPECULAR,
      "layer {layer} scales all light by the ratio of its diffuse light; it could not hold {lost} per pixel on average",
      "deliver the difference and join it by plus, or join pass by pass"),
  EDGE_COVARIANCE(
      Mistake.EDGE_COVARIANCE,
      "layer {layer} is joined by over: inside edge pixels, its coverage and the light behind do not mix as in the uncut frame",
      "hold the layers out of each other and join by plus if edges must be exact"),
  JOIN_FOR_LOOKS(
      Mistake.JOIN_FOR_LOOKS,
      "layer {layer} is joined by {join}: creative; not exact",
      "join it by plus, or over a complete background, all of it"),
  JOIN_APPROXIMATES(
      Mistake.EDGE_COVARIANCE,
      "layer {layer} is joined by {join}, which approximates on edges",
      "hold the layers out of each other and join by plus if edges must be exact"),
  CATCH_APPROXIMATES(
      Mistake.GREY_CATCH,
      "layer {layer} is joined by {join}, which darkens all colours alike",
      "deliver the difference and join it by plus if colours must be exact"),
  RATIO_APPROXIMATES(
      Mistake.RATIO_ON_SPECULAR,
      "layer {layer} is joined by {join}, which scales all light by the ratio of the diffuse light",
      "deliver the difference and join it by plus, or join pass by pass"),
  CATCH_PART(
      Mistake.CATCH_TUNED,
      "layer {layer} delivers only the {form} of what it catches",
      "deliver the difference if the layers must rejoin exactly"),
  CATCH_TUNED(
      Mistake.CATCH_TUNED,
      "layer {layer} changes what it catches by its shadow density, tint, reflection gain, lights, reach or backgrounds",
      "deliver the difference unchanged if the layers must rejoin exactly"),
  HAZE_APART(
      Mistake.HAZE_APART,
      "{entities} {entities:is|are} joined over layers that are lit without {entities:it|them}: how {entities:it dims and scatters|they dim and scatter} light there is missing",
      "make {entities:it|them} Holdout there and join all by plus if the light must be exact"),

  OVERRIDE_ON_ABSENT(
      Mistake.OVERRIDE_IDLE,
      "{property} of {collection} in layer {layer} has no effect: the role is Absent",
      "delete the override"),
  OVERRIDE_ON_NOTHING(
      Mistake.OVERRIDE_IDLE,
      "{property} of {collection} in layer {layer} has no effect: nothing it matches has this property",
      "delete the override"),
  OVERRIDE_SAME(
      Mistake.OVERRIDE_SAME,
      "{property} of {collection} in layer {layer} is {value} anyway",
      "delete the override"),
  SETTING_SAME(
      Mistake.OVERRIDE_SAME,
      "{property} of layer {layer} equals the shot setting, {value}",
      "delete the override"),
  OVERRIDE_EVERYWHERE(
      Mistake.OVERRIDE_EVERYWHERE,
      "every layer has the override {override} on {collection}",
      "change it in the scene if it is meant for the whole shot"),
  MATERIAL_UNKNOWN(
      Mistake.MATERIAL_UNKNOWN,
      "{property} of {collection} in layer {layer} is set to '{material}', which is neither in the scene nor built in",
      "choose another material"),
  KEYS_OUTSIDE(
      Mistake.KEYS_OUTSIDE,
      "the keys of {property} in layer {layer} are at frames {first} to {last}; the shot has frames {shotFirst} to {shotLast}",
      "move the keys, or delete them"),

  NAME_EXTENSION(
      Mistake.NAME_EXTENSION,
      "the template '{template}' ends in an extension, which the format adds itself",
      "remove it"),
  NAME_PADDING(
      Mistake.NAME_PADDING,
      "the template '{template}' writes frame numbers without padding",
      "write {padded}"),
  NAME_CUT(
      Mistake.NAME_LENGTH,
      "the name of layer {layer} is cut in the names of its files",
      "give it a shorter name"),
  NAME_SHARED(
      Mistake.NAME_COLLISION,
      "layers {layers} would be written to the same files",
      "rename one of them"),
  NAME_TEMPLATE(Mistake.NAME_COLLISION, "{trouble}", "write {tokens} in the template"),
  FRAMES_OUTSIDE(
      Mistake.FRAMES_OUTSIDE,
      "the frames of layer {layer} are outside the frame range {range}",
      "use the frames of the shot"),
  SIZE_ASPECT(
      Mistake.SIZE_ASPECT,
      "layer {layer} is {size} and the shot {shotSize}: it shows a different part of the scene",
      "scale the size instead of setting it"),
  CORRECTION_NO_PASS(
      Mistake.CORRECTION_IDLE,
      "the recipe corrects the pass {pass} of layer {layer}, which is not written with it",
      "switch the pass on in Output, or the correction off"),
  CORRECTION_NOT_JOINED(
      Mistake.CORRECTION_IDLE,
      "the recipe corrects layer {layer}, but does not join it",
      "join the layer, or switch the correction off"),
  CORRECTION_HOLE(
      Mistake.CORRECTION_HOLE,
      "{correction} of layer {layer} opens a hole: what is behind it is cut away in {layers}",
      "complete what is behind, and lay the layer over it"),
  CORRECTION_HOLE_OWN(
      Mistake.CORRECTION_HOLE,
      "{correction} of layer {layer} shows a hole: {layers} cut it out there",
      "complete layer {layer}, and lay what is in front over it"),
  CORRECTION_ON(
      Mistake.CORRECTION_ON,
      "the recipe changes what is rejoined, which is not proved: {correction}",
      "switch the correction off if the frame must be as it was rendered"),
  PASS_MISSING(
      Mistake.PASS_MISSING,
      "the recipe reads the pass {pass} of layer {layer}, which is not written with it",
      "switch the pass on in Output"),
  MATERIAL_IN_PART(
      Mistake.MATERIAL_IN_PART,
      "the rule of {collection} matches a material of {entities}, which have others, too",
      "make an object of each material in the scene, if they are to have roles of their own"),
  MATTE_EMPTY(
      Mistake.MATTE_EMPTY,
      "the matte {matte} picks '{pick}', a name that nothing in the scene has",
      "correct the name, or pick in the picture at Rejoin"),
  SCENE_INCOMPLETE(
      Mistake.SCENE_INCOMPLETE,
      "the scene is incomplete: {what}",
      "put the file there, or correct its path in the scene"),
  PICTURE_MISSING(
      Mistake.PICTURE_MISSING,
      "the recipe shows {picture}, which is missing at the frames {range}",
      "put the file there, or choose another picture at Rejoin"),
  PLATE_MISSING(
      Mistake.PICTURE_MISSING,
      "the plate {picture} is missing at the frames {range}",
      "put the files there, or change the frames of the shot at Shot, Settings"),
  PICTURE_UNREADABLE(
      Mistake.PICTURE_MISSING,
      "the recipe shows {picture}, which cannot be read at frame {frame}: {why}",
      "write the file again, or choose another picture at Rejoin"),
  COMPRESSION_LOSSY(
      Mistake.COMPRESSION_LOSSY,
      "the files are packed by {compression}, which changes pixels",
      "use zip or piz if the layers must rejoin exactly"),
  IDS_ROUNDED(
      Mistake.IDS_ROUNDED,
      "the compression pxr24 rounds floats, which damages ID mattes",
      "use zip or piz, or leave the ID mattes out"),
  DEEP_HELD_OUT(
      Mistake.DEEP_HELD_OUT,
      "layer {layer} is written by depth, and {entities} {entities:is|are} held out of it",
      "make {entities:it|them} Unseen there, or leave the deep file out"),
  COPY_UNSIGNED(
      Mistake.COPY_UNSIGNED,
      "layer {layer} takes light away: it gets no copy as {formats}",
      "let it deliver a catch, or hand over layered files"),
  DEEP_UNFILTERED(
      Mistake.DEEP_UNFILTERED,
      "layer {layer} is denoised, and its deep file is not",
      "turn the noise filter off, or leave the deep file out"),
  DEEP_CATCHER(
      Mistake.DEEP_CATCHER,
      "layer {layer} is a catcher: no deep file is written for it",
      "leave the deep file out"),

  SETTINGS_RENDERED(
      Mistake.SETTINGS_DIFFER,
      "layer {layer} was rendered with its own settings: {settings}",
      "reset them if the layers must rejoin exactly"),
  FILE_EXCHANGED(
      Mistake.FILE_CHANGED,
      "{file} holds what was rendered as {other}",
      "put the files back, or render the layer again"),
  FILE_CHANGED(
      Mistake.FILE_CHANGED,
      "{file} does not match its record: it was changed after it was rendered",
      "render the layer again"),
  STALE(
      Mistake.STALE,
      "{files} {files:is|are} stale: plan or scene were changed before the other files were rendered",
      "render what the change touches with --changed"),
  FILE_REWRITTEN(
      Mistake.FILE_REWRITTEN,
      "{file} was written again since it was rendered; its pixels rejoin as rendered",
      "nothing to do for this frame"),
  RECORDS_DOUBTED(
      Mistake.RECORDS_DOUBTED,
      "the files fit their records and the plan rejoins when traced, but these files do not",
      "render the frame again"),
  INVALID_LIGHT(
      Mistake.INVALID_LIGHT,
      "layer {layer} has {count} {count:value|values} that {count:is|are} not finite, the first at pixel {at}",
      "find the light or material that is out of range"),
  FILE_INVALID(
      Mistake.INVALID_LIGHT,
      "{file} holds {count} {count:value|values} that {count:is|are} infinite or not a number, the first at pixel {at}",
      "render the layer again, or take the values out"),
  HALF_RANGE(
      Mistake.HALF_RANGE,
      "{file} holds {count} infinite {count:value|values}, the first at pixel {at}: the light is beyond the range of half floats, 65504",
      "write the beauty as 32-bit floats, or lower the light"),
  HALF_RANGE_DARK(
      Mistake.HALF_RANGE,
      "the frame is too dark for half floats, whose steps are coarse there",
      "write the beauty as 32-bit floats, or raise the light"),
  HALF_RANGE_AHEAD(
      Mistake.HALF_RANGE,
      "{entities} {entities:gives|give} up to {light} in layer {layer}, and half floats end at 65504",
      "write the beauty as 32-bit floats, or lower the light"),
  FILE_MISSING(
      Mistake.FILE_MISSING,
      "{file} is missing",
      "render the layer again, or take it out of the recipe"),
  FILE_UNREADABLE(
      Mistake.FILE_MISSING, "{file} cannot be read as a picture", "render the layer again"),
  FILE_SHIFTED(
      Mistake.FILE_ALTERED,
      "{file} is shifted by {amount} pixels to the right and down",
      "move it back, or render the layer again"),
  FILE_RESIZED(
      Mistake.FILE_ALTERED,
      "{file} was scaled to {amount} pixels",
      "deliver it at the size that it was rendered"),
  FILE_CROPPED(Mistake.FILE_ALTERED, "{file} is cropped", "deliver the whole frame"),
  FILE_FILTERED(
      Mistake.FILE_ALTERED,
      "{file} is softer than what was rendered, as by a blur of {amount} pixels: it was filtered, or scaled down and up again",
      "deliver what was rendered; filter after the layers are joined"),
  FILE_RECOMPRESSED(
      Mistake.FILE_ALTERED,
      "{file} is packed by {amount}, which changes pixels",
      "pack files by zip, which loses nothing"),
  FILE_QUANTISED(
      Mistake.FILE_ALTERED, "{file} has 8 bits a channel", "deliver 16-bit or 32-bit floats"),
  FILE_CLAMPED(
      Mistake.FILE_ALTERED,
      "{file} is cut off below 0 and above 1",
      "deliver scene-linear floats without bounds"),
  FILE_TONE_MAPPED(
      Mistake.FILE_ALTERED,
      "{file} is tone-mapped: light x became x / (1 + x)",
      "deliver scene-linear light without a tone curve"),
  FILE_ENCODED(
      Mistake.FILE_ALTERED,
      "{file} is encoded for a screen, not scene-linear",
      "linearise it, or deliver what was rendered"),
  FILE_GAMMA(
      Mistake.FILE_ALTERED, "{file} has a gamma of {amount} in it", "deliver scene-linear light"),
  FILE_EXPOSED(
      Mistake.FILE_ALTERED, "{file} is {amount} EV off", "deliver the exposure that was rendered"),
  FILE_UNPREMULTIPLIED(
      Mistake.FILE_ALTERED,
      "{file} is not premultiplied: colour was divided by alpha",
      "multiply colour by alpha"),
  FILE_PREMULTIPLIED_TWICE(
      Mistake.FILE_ALTERED, "{file} is premultiplied twice", "divide colour by alpha once"),
  FILE_ALPHA(
      Mistake.FILE_ALTERED, "{file} has no alpha: all of it counts as opaque", "deliver alpha"),
  FILE_MOVED(
      Mistake.FILE_ALTERED,
      "the data window of {file} is off by {amount} pixels to the right and down",
      "put it back where it was rendered"),
  FILE_EMPTY(
      Mistake.FILE_ALTERED,
      "{file} is empty: all of it is black and has no alpha",
      "render the layer again"),
  FILE_MIRRORED(Mistake.FILE_ALTERED, "{file} is mirrored", "flip it horizontally"),
  FILE_GAIN(
      Mistake.FILE_ALTERED,
      "{file} has gains of {amount} on red, green and blue",
      "deliver the colours that were rendered"),
  FILE_SATURATED(
      Mistake.FILE_ALTERED,
      "{file} has {amount} times the saturation",
      "deliver the colours that were rendered"),
  FILE_LOG(
      Mistake.FILE_ALTERED,
      "{file} is encoded logarithmically, not scene-linear",
      "linearise it, or deliver what was rendered"),
  FILE_NOISE(
      Mistake.FILE_ALTERED,
      "{file} has other noise than the other files: it was rendered with another seed or other samples",
      "render the layer with the seed and samples of the others"),
  FILE_CHANNELS(
      Mistake.FILE_ALTERED, "{file} has red and blue exchanged", "put the channels in order"),
  FILE_UPSIDE_DOWN(Mistake.FILE_ALTERED, "{file} is upside down", "flip it vertically"),
  FILE_OTHER_FRAME(
      Mistake.FILE_ALTERED,
      "{file} shows frame {amount}",
      "put the frame in its place, or render the layer again");

  private final Mistake mistake;
  private final String text;
  private final String advice;

  Sentence(Mistake mistake, String text, String advice) {
    this.mistake = mistake;
    this.text = text;
    this.advice = advice;
  }

  /** Returns the kind of mistake that it tells. */
  public Mistake mistake() {
    return mistake;
  }

  /** Returns the template of what is wrong. */
  public String text() {
    return text;
  }

  /** Returns the template of what to do. */
  public String advice() {
    return advice;
  }
}

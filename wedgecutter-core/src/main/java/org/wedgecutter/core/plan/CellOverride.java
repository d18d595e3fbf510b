package org.wedgecutter.core.plan;

import java.util.List;

/**
 * A change to a property: of a cell's entities, or of a layer's own settings; for that layer only.
 *
 * @param property what changes
 * @param verb how
 * @param keys the value over frames, ascending; one key at frame 0 is a value that stays
 * @param step whether a value holds until the next key, instead of moving there in a line
 * @param on whether it is on
 * @param extra unknown keys
 */
public record CellOverride(
    Property property, Property.Verb verb, List<Key> keys, boolean step, boolean on, Extra extra) {

  /** A value at a frame. */
  public record Key(int frame, Value value) {}

  public CellOverride {
    keys = List.copyOf(keys);
    if (keys.isEmpty()) {
      throw new IllegalArgumentException("an override has at least one value");
    }
  }

  /** A change by a value that stays. */
  public static CellOverride of(Property property, Property.Verb verb, Value value) {
    return new CellOverride(property, verb, List.of(new Key(0, value)), false, true, Extra.NONE);
  }

  /** Sets a switch. */
  public static CellOverride of(Property property, boolean on) {
    return of(property, Property.Verb.SET, new Value.Switch(on));
  }

  /** Whether the value changes over frames. */
  public boolean keyed() {
    return keys.size() > 1 || keys.getFirst().frame() != 0;
  }

  /** Returns the value at a frame; before the first and after the last key it is still. */
  public Value at(int frame) {
    Between<Key> at = Between.of(keys, Key::frame, frame);
    return step || at.share() == 0
        ? at.from().value()
        : Value.between(at.from().value(), at.to().value(), at.share());
  }

  /** Returns it switched on or off. */
  public CellOverride withOn(boolean next) {
    return new CellOverride(property, verb, keys, step, next, extra);
  }

  /** Returns it with another verb and other values. */
  public CellOverride with(Property.Verb nextVerb, List<Key> next, boolean nextStep) {
    return new CellOverride(property, nextVerb, next, nextStep, on, extra);
  }

  /** Returns it in words: {@code light.intensity scale 0.5}. */
  public String text() {
    String value =
        keyed()
            ? keys.getFirst().value().text()
                + " … "
                + keys.getLast().value().text()
                + " over frames "
                + keys.getFirst().frame()
                + " to "
                + keys.getLast().frame()
            : keys.getFirst().value().text();
    return property.sort() == Property.Sort.SWITCH
        ? property.word() + " " + value
        : property.word() + " " + verb.word() + " " + value;
  }
}

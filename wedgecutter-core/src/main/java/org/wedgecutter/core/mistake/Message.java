package org.wedgecutter.core.mistake;

import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;

/**
 * A mistake told with its arguments. The words are made here and nowhere else; whoever wants to
 * know what a message means looks at the sentence and the arguments, never at the words.
 *
 * <p>An argument is a text, a whole number, a measured number (shown with two digits), or a list of
 * names, of which the first two are shown. The argument {@code frames}, which any message may have,
 * is a range of frames to which it applies.
 *
 * @param sentence the sentence template
 * @param arguments the values of the sentence's placeholders, by name
 */
public record Message(Sentence sentence, Map<String, Object> arguments) {
  private static final Pattern PLACE = Pattern.compile("\\{(\\w+)(?::([^|{}]*)\\|([^{}]*))?}");
  private static final String FRAMES = "frames";

  /**
   * @throws IllegalArgumentException if the sentence needs an argument that is not given
   */
  public Message {
    arguments = java.util.Collections.unmodifiableMap(new TreeMap<>(arguments));
    for (String template : List.of(sentence.text(), sentence.advice())) {
      for (MatchResult place : PLACE.matcher(template).results().toList()) {
        if (!arguments.containsKey(place.group(1))) {
          throw new IllegalArgumentException(
              "%s: no argument %s in %s".formatted(sentence, place.group(1), arguments.keySet()));
        }
      }
    }
  }

  /**
   * Returns a message.
   *
   * @param arguments names and values in turn
   */
  public static Message of(Sentence sentence, Object... arguments) {
    Map<String, Object> map = new TreeMap<>();
    for (int i = 0; i + 1 < arguments.length; i += 2) {
      map.put((String) arguments[i], arguments[i + 1]);
    }
    return new Message(sentence, map);
  }

  /** Returns all of some names in one text: "A, B and C". */
  public static String all(List<String> names) {
    int last = names.size() - 1;
    return last < 1
        ? String.join("", names)
        : String.join(", ", names.subList(0, last)) + " and " + names.get(last);
  }

  /** Returns the message for a range of frames only. */
  public Message during(int first, int last) {
    Map<String, Object> more = new TreeMap<>(arguments);
    more.put(FRAMES, first == last ? "frame " + first : "frames %d to %d".formatted(first, last));
    return new Message(sentence, more);
  }

  /** Returns the kind of mistake. */
  public Mistake mistake() {
    return sentence.mistake();
  }

  /** Returns what is wrong, in words. */
  public String text() {
    Object frames = arguments.get(FRAMES);
    return filled(sentence.text()) + (frames == null ? "" : " in " + frames);
  }

  /** Returns what to do about it, in words. */
  public String advice() {
    return filled(sentence.advice());
  }

  private String filled(String template) {
    Function<MatchResult, String> fill =
        place -> {
          Object value = Objects.requireNonNull(arguments.get(place.group(1)));
          String text =
              place.group(2) == null
                  ? shown(value)
                  : isOne(value) ? place.group(2) : place.group(3);
          return java.util.regex.Matcher.quoteReplacement(text);
        };
    return PLACE.matcher(template).replaceAll(fill);
  }

  private static boolean isOne(Object value) {
    return switch (value) {
      case Collection<?> names -> names.size() == 1;
      case Number count -> count.doubleValue() == 1;
      default -> true;
    };
  }

  private static String shown(Object value) {
    return switch (value) {
      case Double d -> String.format(Locale.ROOT, "%.2g", d);
      case List<?> names when names.size() > 2 ->
          "%s and %d more".formatted(names.getFirst(), names.size() - 1);
      case List<?> names -> all(names.stream().map(String::valueOf).toList());
      default -> String.valueOf(value);
    };
  }
}

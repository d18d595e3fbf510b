package org.wedgecutter.core.plan;

import java.util.Locale;

/** The value of a property. */
public sealed interface Value {
  /** On or off. */
  record Switch(boolean on) implements Value {
    @Override
    public String text() {
      return on ? "on" : "off";
    }
  }

  /** A number. */
  record Num(double number) implements Value {
    @Override
    public String text() {
      return plain(number);
    }
  }

  /** Linear red, green and blue. */
  record Colour(double r, double g, double b) implements Value {
    @Override
    public String text() {
      return plain(r) + " " + plain(g) + " " + plain(b);
    }
  }

  /** A name or a frame range. */
  record Text(String word) implements Value {
    @Override
    public String text() {
      return word;
    }
  }

  /** Width and height in pixels. */
  record Size(int width, int height) implements Value {
    @Override
    public String text() {
      return width + "×" + height;
    }
  }

  /** Returns it in words, for users. */
  String text();

  private static String plain(double x) {
    String text =
        x == Math.rint(x) && Math.abs(x) < 1e9
            ? String.valueOf((long) x)
            : String.format(Locale.ROOT, "%.4g", x);
    return text.contains(".") && !text.contains("e") ? text.replaceAll("0+$", "") : text;
  }

  /**
   * Applies a verb.
   *
   * @param verb what to do
   * @param before the value that there was; of the same sort, or of the sort that scales it
   * @param by the override's value
   * @return the value after, within the property's range
   */
  static Value apply(Property property, Property.Verb verb, Value before, Value by) {
    return switch (by) {
      case Num n ->
          switch (before) {
            case Num b -> new Num(bound(property, combine(verb, b.number, n.number)));
            case Colour c -> apply(property, verb, c, new Colour(n.number, n.number, n.number));
            case Size s ->
                new Size(
                    (int) bound(property, Math.rint(s.width * n.number)),
                    (int) bound(property, Math.rint(s.height * n.number)));
            default -> by;
          };
      case Colour n ->
          before instanceof Colour b
              ? new Colour(
                  bound(property, combine(verb, b.r, n.r)),
                  bound(property, combine(verb, b.g, n.g)),
                  bound(property, combine(verb, b.b, n.b)))
              : by;
      case Switch s -> s;
      case Text t -> t;
      case Size s -> s;
    };
  }

  private static double combine(Property.Verb verb, double before, double by) {
    return switch (verb) {
      case SET -> by;
      case SCALE -> before * by;
      case ADD -> before + by;
    };
  }

  private static double bound(Property property, double x) {
    double within = Math.max(property.least(), Math.min(property.most(), x));
    return property.sort() == Property.Sort.WHOLE ? Math.rint(within) : within;
  }

  /** Returns the value interpolated between two; values that cannot be interpolated stay. */
  static Value between(Value a, Value b, double t) {
    if (a instanceof Num x && b instanceof Num y) {
      return new Num(x.number + t * (y.number - x.number));
    }
    if (a instanceof Colour x && b instanceof Colour y) {
      return new Colour(x.r + t * (y.r - x.r), x.g + t * (y.g - x.g), x.b + t * (y.b - x.b));
    }
    return a;
  }

  /**
   * Reads a value as it is typed.
   *
   * @throws IllegalArgumentException with what was expected
   */
  static Value parse(Property property, Property.Verb verb, String text) {
    String t = text.trim();
    Value value =
        switch (property.sort()) {
          case SWITCH ->
              switch (t.toLowerCase(Locale.ROOT)) {
                case "on", "true", "yes" -> new Switch(true);
                case "off", "false", "no" -> new Switch(false);
                default -> throw new IllegalArgumentException("expected on or off");
              };
          case MATERIAL -> {
            if (t.isEmpty()) {
              throw new IllegalArgumentException("expected the name of a material");
            }
            yield new Text(t);
          }
          case FRAMES -> new Text(FrameRange.parse(t).text());
          case NUMBER, WHOLE, COLOUR, SIZE -> numbers(property, verb, t);
        };
    check(property, verb, value);
    return value;
  }

  private static Value numbers(Property property, Property.Verb verb, String text) {
    String[] parts = text.split("[\\s,×x]+");
    double[] n = new double[parts.length];
    try {
      for (int i = 0; i < n.length; i++) {
        n[i] = Double.parseDouble(parts[i]);
      }
    } catch (NumberFormatException e) {
      throw new IllegalArgumentException("'%s' is not %s".formatted(text, wanted(property)), e);
    }
    if (n.length == 3 && property.sort() == Property.Sort.COLOUR) {
      return new Colour(n[0], n[1], n[2]);
    }
    if (n.length == 2 && property.sort() == Property.Sort.SIZE && verb == Property.Verb.SET) {
      return new Size((int) n[0], (int) n[1]);
    }
    if (n.length == 1) {
      return property.sort() == Property.Sort.COLOUR ? new Colour(n[0], n[0], n[0]) : new Num(n[0]);
    }
    throw new IllegalArgumentException("'%s' is not %s".formatted(text, wanted(property)));
  }

  private static String wanted(Property property) {
    return switch (property.sort()) {
      case COLOUR -> "a colour: one number or red, green, blue";
      case SIZE -> "a size: width and height, or one factor to scale by";
      case WHOLE -> "a whole number";
      default -> "a number";
    };
  }

  /**
   * Checks that a value fits its property.
   *
   * @throws IllegalArgumentException with what was expected
   */
  static void check(Property property, Property.Verb verb, Value value) {
    if (!property.sort().allows(verb)) {
      throw new IllegalArgumentException(
          "%s can only be %s"
              .formatted(
                  property.word(),
                  verb == Property.Verb.ADD && property.sort() == Property.Sort.SIZE
                      ? "set or scaled"
                      : "set"));
    }
    boolean fits =
        switch (property.sort()) {
          case SWITCH -> value instanceof Switch;
          case MATERIAL, FRAMES -> value instanceof Text;
          case NUMBER, WHOLE -> value instanceof Num;
          case COLOUR -> value instanceof Colour;
          case SIZE -> verb == Property.Verb.SET ? value instanceof Size : value instanceof Num;
        };
    if (!fits) {
      throw new IllegalArgumentException(
          "%s is %s"
              .formatted(
                  property.word(),
                  switch (property.sort()) {
                    case SWITCH -> "true or false";
                    case MATERIAL -> "the name of a material";
                    case FRAMES -> "a frame range such as 1-24x2,30";
                    default -> wanted(property);
                  }));
    }
    for (double n : numbers(value)) {
      double least = verb == Property.Verb.SET ? property.least() : -1e12;
      double most = verb == Property.Verb.SET ? property.most() : 1e12;
      if (!(n >= (verb == Property.Verb.SCALE ? 0 : least) && n <= most)) {
        throw new IllegalArgumentException(
            "%s must be between %s and %s".formatted(property.word(), plain(least), plain(most)));
      }
    }
    if (property.sort() == Property.Sort.FRAMES) {
      FrameRange.parse(((Text) value).word);
    }
  }

  private static double[] numbers(Value value) {
    return switch (value) {
      case Num n -> new double[] {n.number};
      case Colour c -> new double[] {c.r, c.g, c.b};
      case Size s -> new double[] {s.width, s.height};
      case Switch s -> new double[0];
      case Text t -> new double[0];
    };
  }
}

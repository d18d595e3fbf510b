package org.wedgecutter.core.rejoin;

import java.util.Locale;
import java.util.stream.Collectors;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.MatteDef;

/** Expressions as readable lines. */
final class ExpressionText {
  private ExpressionText() {}

  static String line(Expression of) {
    return switch (of) {
      case Expression.Black b -> "black";
      case Expression.Backdrop b ->
          b.background().picture().isEmpty()
              ? b.background().kind().word()
              : b.background().picture();
      case Expression.Surfaced s ->
          "%s[surface %s]".formatted(bracketed(s.of()), s.correction().picture());
      case Expression.Read r -> r.pass().isEmpty() ? r.layer() : r.layer() + "." + r.pass();
      case Expression.Cover c -> c.layer() + ".alpha";
      case Expression.Joined j
          when j.back() instanceof Expression.Black
              && j.opacity() == 1
              && (j.join() == Join.PLUS || j.join() == Join.OVER) ->
          line(j.front());
      case Expression.Joined j -> joined(j);
      case Expression.Nearer n ->
          "nearer(%s, %s)%s".formatted(line(n.back()), line(n.front()), share(n.opacity()));
      case Expression.Merged m ->
          m.layers().stream()
              .map(ExpressionText::line)
              .collect(Collectors.joining(", ", "deep(", ")"));
      case Expression.Corrected c -> "%s[%s]".formatted(bracketed(c.of()), words(c.correction()));
      case Expression.Shadowed s -> "%s[%s]".formatted(bracketed(s.of()), words(s.correction()));
      case Expression.Effect e -> "%s[%s]".formatted(bracketed(e.of()), words(e.correction()));
      case Expression.Exchanged e
          when e.by() instanceof Expression.Joined j
              && j.join() == Join.TIMES
              && j.back().equals(e.part()) ->
          "(%s) with %s light × %s%s"
              .formatted(
                  line(e.whole()),
                  isDirect(e.part()) ? "direct" : "indirect",
                  line(j.front()),
                  share(j.opacity()));
      case Expression.Exchanged e -> "%s with %s".formatted(line(e.whole()), line(e.by()));
      case Expression.Through t -> through(t);
      case Expression.Share s ->
          s.cover() instanceof Expression.Cover c ? cover(c) : line(s.cover());
      case Expression.Keyed k -> "luma " + range(k.matte());
      case Expression.Ranged r -> "depth " + range(r.matte());
      case Expression.Drawn d -> d.matte().name();
      case Expression.Combined c ->
          c.mattes().stream()
              .map(ExpressionText::line)
              .collect(Collectors.joining(" %s ".formatted(c.how().word()), "(", ")"));
      case Expression.Shaped s ->
          (s.invert() ? "not " : "")
              + line(s.matte())
              + (s.grow() == 0 ? "" : " %+d px".formatted(s.grow()));
    };
  }

  private static boolean isDirect(Expression part) {
    return part.all().stream()
        .anyMatch(p -> p instanceof Expression.Read r && r.pass().equals("diffuse.direct"));
  }

  private static String joined(Expression.Joined j) {
    return JoinRule.of(j.join())
        .line(line(j.back()), line(j.front()), bracketed(j.front()), share(j.opacity()));
  }

  private static String through(Expression.Through t) {
    String matte = matte(t.matte());
    boolean isCorrection =
        t.changed() instanceof Expression.Corrected c && c.of().equals(t.of())
            || t.changed() instanceof Expression.Shadowed s && s.of().equals(t.of())
            || t.changed() instanceof Expression.Effect e && e.of().equals(t.of())
            || t.changed() instanceof Expression.Surfaced s && s.of().equals(t.of());
    if (isCorrection) {
      String all = line(t.changed());
      return all.substring(0, all.length() - 1) + " through " + matte + "]";
    }
    return "%s through %s%s over (%s)"
        .formatted(line(t.changed()), matte, share(t.share()), line(t.of()));
  }

  /** The name of a matte, with what shapes it. */
  private static String matte(Expression of) {
    return switch (of) {
      case Expression.Shaped s -> matte(s.matte());
      case Expression.Keyed k -> k.matte().name();
      case Expression.Ranged r -> r.matte().name();
      case Expression.Drawn d -> d.matte().name();
      case Expression.Combined c ->
          c.mattes().stream()
              .map(ExpressionText::matte)
              .collect(Collectors.joining(" %s ".formatted(c.how().word()), "(", ")"));
      default ->
          of.all().stream()
              .filter(Expression.Cover.class::isInstance)
              .map(c -> cover((Expression.Cover) c))
              .findFirst()
              .orElse("nothing");
    };
  }

  private static String cover(Expression.Cover c) {
    return c.matte().equals(Expression.ALPHA) ? "alpha" : c.matte().name();
  }

  private static String range(MatteDef m) {
    return "%s to %s".formatted(number(m.range().from()), number(m.range().to()));
  }

  private static String share(double opacity) {
    return opacity == 1 ? "" : " at " + number(opacity);
  }

  private static String bracketed(Expression of) {
    boolean isFirst =
        of instanceof Expression.Joined j
            && j.back() instanceof Expression.Black
            && j.front() instanceof Expression.Read;
    boolean single =
        isFirst
            || of instanceof Expression.Read
            || of instanceof Expression.Corrected
            || of instanceof Expression.Shadowed
            || of instanceof Expression.Effect;
    return single ? line(of) : "(" + line(of) + ")";
  }

  private static String words(Correction c) {
    if (c.isKeyed()) {
      return "%s with %d keys".formatted(c.type().word(), c.keys().size());
    }
    return c.type().word()
        + c.values().stream().map(ExpressionText::number).collect(Collectors.joining(" ", " ", ""));
  }

  private static String number(double value) {
    return value == Math.rint(value) && Math.abs(value) < 1e9
        ? Long.toString((long) value)
        : String.format(Locale.ROOT, "%.4g", value);
  }
}

package org.wedgecutter.core.export;

import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.plan.Background;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.rejoin.Evaluation;
import org.wedgecutter.core.rejoin.Expression;
import org.wedgecutter.core.rejoin.JoinRule;

/**
 * An expression as commands of oiiotool, OpenImageIO's command line. Its pictures lie on a stack:
 * the commands of an expression leave one more picture of R, G, B and A there.
 *
 * <p>Over wants the front first, so the two are swapped. A ratio leaves alpha alone, so its own is
 * set to 1. A catcher's one picture is {@code c + (1 - a) r} for colours and leaves alpha alone:
 * {@code r} is multiplied by 1 minus its alpha in all colours, and then its colours are added.
 * Where a picture is needed twice it gets a label, which the same commands use up.
 */
final class ToolCommands {
  /** Tells files. */
  interface Names {
    /**
     * Returns the word of the shell for a layer's file.
     *
     * @param deep whether its deep file is meant
     */
    String of(String layer, boolean deep);
  }

  private final Names names;
  private final Output output;
  private final Region region;

  /** What the tool has no command for. */
  static final class Missing extends Exception {
    private static final long serialVersionUID = 1;

    Missing(String what) {
      super(what);
    }
  }

  /**
   * @param output what the files hold
   * @param region that the files show
   */
  ToolCommands(Names names, Output output, Region region) {
    this.names = names;
    this.output = output;
    this.region = region;
  }

  /**
   * Returns the commands of an expression.
   *
   * @throws Missing if there are none for a part of it
   */
  String of(Expression expression) throws Missing {
    return switch (expression) {
      case Expression.Black b -> nothing();
      case Expression.Read r -> read(r);
      case Expression.Backdrop b -> backdrop(b.background());
      case Expression.Joined j when j.back() instanceof Expression.Black ->
          of(j.front()) + onto(j.join()) + (j.opacity() == 1 ? "" : " --mulc " + j.opacity());
      case Expression.Joined j -> of(j.back()) + of(j.front()) + join(j.join(), j.opacity());
      case Expression.Corrected c -> of(c.of()) + command(c.correction());
      case Expression.Shadowed s -> of(s.of()) + shadow(s);
      case Expression.Exchanged e -> exchanged(e);
      case Expression.Effect e -> throw new Missing("a " + e.correction().type().word());
      case Expression.Surfaced s -> throw new Missing("another picture on a surface");
      case Expression.Nearer n -> nearer(n);
      case Expression.Merged m -> merged(m);
      case Expression.Through t -> throw new Missing("a matte");
      case Expression.Cover c -> throw new Missing("a matte");
      case Expression.Share s -> throw new Missing("a matte");
      case Expression.Keyed k -> throw new Missing("a matte");
      case Expression.Ranged r -> throw new Missing("a matte");
      case Expression.Drawn d -> throw new Missing("a matte");
      case Expression.Combined c -> throw new Missing("a matte");
      case Expression.Shaped s -> throw new Missing("a matte");
    };
  }

  private String read(Expression.Read read) throws Missing {
    if (read.pass().contains(",") || read.pass().contains("=")) {
      throw new Missing("the name of the pass " + read.pass());
    }
    String file = " \\\n  " + names.of(read.layer(), false);
    if (read.pass().isEmpty()) {
      return file + " --ch R,G,B,A";
    }
    String colours =
        List.of("R", "G", "B").stream()
            .map(c -> Quoting.shell(read.pass() + "." + c))
            .collect(Collectors.joining(","));
    return output.beautyApart()
        ? "%s --subimage 1 --ch %s%s --ch A --chappend --chnames R,G,B,A"
            .formatted(file, colours, file)
        : "%s --ch %s,A --chnames R,G,B,A".formatted(file, colours);
  }

  /**
   * The nearer of two. There is no command that compares: a difference of depths, multiplied by
   * much and clamped, is 1 where it is above 0. Where nothing is hit, depth is infinite, which no
   * difference bears, so it becomes a number; where both are, the front is added.
   */
  private String nearer(Expression.Nearer n) throws Missing {
    StringBuilder out = new StringBuilder(of(n.back())).append(of(n.front()));
    out.append(" --label c --pop --label r --pop").append(metres(n.behind().getFirst()));
    for (String layer : n.behind().subList(1, n.behind().size())) {
      out.append(metres(layer)).append(" --min");
    }
    return out.append(" --label b --pop")
        .append(metres(n.layer()))
        .append(" --label a --pop")
        .append(" b a --sub --mulc 1e30 --maxc 0 --minc 1 c r --sub --mul")
        .append(" a b --min --subc 9e29 --maxc 0 --minc 1 c --mul --add")
        .append(n.opacity() == 1 ? "" : " --mulc " + n.opacity())
        .append(" r --add")
        .toString();
  }

  /** A layer's depth in all four channels. */
  private String metres(String layer) throws Missing {
    if (!output.more(layer).contains(Output.More.DEPTH)) {
      throw new Missing("a join by depth with " + layer + ", whose files have no depth");
    }
    return " \\\n  %s%s --ch R=Z,G=Z,B=Z,A=Z --minc 1e30"
        .formatted(names.of(layer, false), output.beautyApart() ? " --subimage 1" : "");
  }

  private String merged(Expression.Merged of) throws Missing {
    StringBuilder out = new StringBuilder();
    for (Expression layer : of.layers()) {
      if (!(layer instanceof Expression.Read read) || !read.pass().isEmpty()) {
        throw new Missing("a correction of a layer that is joined by deep");
      }
      out.append(" \\\n  ").append(names.of(read.layer(), true));
      out.append(layer.equals(of.layers().getFirst()) ? "" : " --deepmerge");
    }
    return out.append(" --flatten --ch R,G,B,A").toString();
  }

  private String nothing() {
    return " --create %dx%d+%d+%d 4 --chnames R,G,B,A"
        .formatted(region.width(), region.height(), region.x(), region.y());
  }

  private String backdrop(Background of) throws Missing {
    return switch (of.kind()) {
      case NONE -> nothing();
      case COLOUR -> {
        List<Double> c = of.colour();
        yield nothing() + " --addc %s,%s,%s,1".formatted(c.get(0), c.get(1), c.get(2));
      }
      case CHECKER -> throw new Missing("a background of squares");
      case PICTURE -> throw new Missing("a picture as the background");
    };
  }

  /** Colours of the one are taken away, and those of the other added; alpha stays. */
  private String exchanged(Expression.Exchanged e) throws Missing {
    String out = of(e.whole());
    if (!(e.part() instanceof Expression.Black)) {
      out += of(e.part()) + " --ch R,G,B,A=0 --mulc -1 --add";
    }
    if (!(e.by() instanceof Expression.Black)) {
      out += of(e.by()) + " --ch R,G,B,A=0 --add";
    }
    return out;
  }

  /** What is below the neutral value is scaled, what is above stays: two pictures that add up. */
  private static String shadow(Expression.Shadowed of) {
    double[] k = Expression.shadowFactors(of);
    return switch (of.join()) {
      case CATCH -> " --mulc 1,1,1,%s --minc 1e30,1e30,1e30,1".formatted(k[3]);
      case TIMES ->
          " --label s --minc 1 --subc 1 --mulc %s,%s,%s,1 s --maxc 1 --add --maxc 0"
              .formatted(k[0], k[1], k[2]);
      default ->
          " --label s --minc 0 --mulc %s,%s,%s,1 s --maxc 0 --add".formatted(k[0], k[1], k[2]);
    };
  }

  private static String command(Correction c) throws Missing {
    String out = commandIfAny(c);
    if (out == null) {
      throw new Missing("a " + c.type().word());
    }
    return out;
  }

  private static @Nullable String commandIfAny(Correction c) {
    if (c.type() == Correction.Type.FADE) {
      return " --mulc " + c.values().getFirst();
    }
    double[] m = Evaluation.matrix(c);
    if (m != null) {
      // the tool multiplies from the left: its rows are our columns
      return " --ccmatrix:unpremult=0 %s,%s,%s,0,%s,%s,%s,0,%s,%s,%s,0,0,0,0,1"
          .formatted(m[0], m[3], m[6], m[1], m[4], m[7], m[2], m[5], m[8]);
    }
    List<Double> v = c.values();
    return switch (c.type()) {
      case OFFSET ->
          " --label o --ch R=A,G=A,B=A,A=0 --mulc %s,%s,%s,0 o --add"
              .formatted(v.get(0), v.get(1), v.get(2));
      case GAMMA -> power(1 / v.get(0), 1);
      case CONTRAST -> power(v.get(0), v.get(1));
      default -> null;
    };
  }

  /**
   * A power about a pivot. The tool's knows no negative light, which layers of differences have;
   * light without alpha would be lost with it, so that is taken by itself and added.
   */
  private static String power(double exponent, double pivot) {
    String before = pivot == 1 ? "" : " --mulc %1$s,%1$s,%1$s,1".formatted(1 / pivot);
    String after = pivot == 1 ? "" : " --mulc %1$s,%1$s,%1$s,1".formatted(pivot);
    String power = "%s --powc %2$s,%2$s,%2$s,1%3$s".formatted(before, exponent, after);
    return " --label g --unpremult%1$s --premult --label h --pop g%1$s g".formatted(power)
        + " --ch R=A,G=A,B=A,A=A --mulc 1e30 --minc 1 --mulc -1 --addc 1 --mul h --add";
  }

  /** What follows a front, which is on the stack above what is behind it. */
  private static String join(Join join, double opacity) throws Missing {
    if (opacity == 1) {
      return whole(join);
    }
    // what is behind is kept, and mixed with what the join makes of it
    return " --label f --pop --label r f%s --mulc %s r --mulc %s --add"
        .formatted(whole(join), opacity, 1 - opacity);
  }

  /** The join onto black. */
  private static String onto(Join join) throws Missing {
    return known(JoinRule.of(join).commandOntoBlack(), join);
  }

  private static String whole(Join join) throws Missing {
    return known(JoinRule.of(join).command(), join);
  }

  private static String known(@Nullable String command, Join join) throws Missing {
    if (command == null) {
      throw new Missing("a join by " + join.word());
    }
    return command;
  }
}

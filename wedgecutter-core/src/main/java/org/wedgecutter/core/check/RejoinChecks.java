package org.wedgecutter.core.check;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.cut.CompFreedom;
import org.wedgecutter.core.cut.Cuts;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.pass.IdMattes;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.Correction;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.MatteDef;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.RecipeEdits;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Wildcards;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.CauseFinder;
import org.wedgecutter.core.proof.CauseFixes;
import org.wedgecutter.core.rejoin.Expression;
import org.wedgecutter.core.resolve.EntitySet;

/** What keeps the layers from rejoining, and the fixes. */
final class RejoinChecks {
  /** Corrections by which a layer covers less, or something else. */
  private static final Map<Correction.Type, CompFreedom.Change> UNCOVERS =
      Map.of(
          Correction.Type.FADE, CompFreedom.Change.FADE,
          Correction.Type.BLUR, CompFreedom.Change.BLUR,
          Correction.Type.DEFOCUS, CompFreedom.Change.BLUR,
          Correction.Type.DISTORTION, CompFreedom.Change.MOVE);

  private final Checked c;
  private final CauseFixes fixes;

  private RejoinChecks(Checked c) {
    this.c = c;
    fixes = new CauseFixes(c.plan, c.members, c.resolved);
  }

  static void run(Checked checked) {
    RejoinChecks checks = new RejoinChecks(checked);
    List<SeenTable.Span> spans = SeenTable.of(checked.plan, checked.members, checked.resolved);
    for (SeenTable.Span span : spans) {
      for (Cause cause : span.causes()) {
        Message told = cause.message();
        checks.add(cause, spans.size() == 1 ? told : told.during(span.first(), span.last()));
      }
    }
    for (Cause cause : CauseFinder.find(checked.plan, checked.scene, checked.resolved, null)) {
      // told for all frames at once, here and by the checks of layers
      boolean told =
          cause.kind() == Mistake.SEEN_NOWHERE
              || cause.kind() == Mistake.SEEN_TWICE
              || cause.kind() == Mistake.SEEN_IN_RATIO
              || cause.kind() == Mistake.HELD_NOT_STILL;
      if (!told && !(cause.kind() == Mistake.LAYER_NOT_JOINED && checks.whole(cause.layer()))) {
        checks.add(cause, cause.message());
      }
    }
    checks.firstJoin();
    checks.corrections();
    checks.passes();
    checks.mattes();
    checks.holes();
  }

  /** What fades, moves or spreads a layer shows the holes that it fills, or those cut out of it. */
  private void holes() {
    Recipe recipe = c.plan.recipe();
    List<String> order = recipe.joins().stream().map(Recipe.Step::layer).toList();
    for (CompFreedom layer : CompFreedom.of(c.plan, c.resolved)) {
      String name = layer.layer();
      Set<CompFreedom.Change> free = layer.free();
      List<String> changes = new ArrayList<>();
      recipe.joins().stream()
          .filter(s -> s.layer().equals(name) && s.opacity() < 1)
          .filter(s -> !free.contains(CompFreedom.Change.FADE))
          .forEach(s -> changes.add("the opacity"));
      recipe.corrections().stream()
          .filter(x -> x.on() && x.layer().equals(name) && x.pass().isEmpty())
          .filter(x -> x.reach() == Correction.Reach.LAYER)
          .filter(x -> UNCOVERS.containsKey(x.type()) && !free.contains(UNCOVERS.get(x.type())))
          .forEach(x -> changes.add(x.type().word()));
      if (!layer.joined() || changes.isEmpty()) {
        continue;
      }
      Map<String, EntitySet> cuts = layer.cuts();
      boolean isInFront =
          cuts.keySet().stream().allMatch(l -> order.indexOf(l) < order.indexOf(name));
      c.add(
          Message.of(
              cuts.isEmpty() ? Sentence.CORRECTION_HOLE_OWN : Sentence.CORRECTION_HOLE,
              "correction",
              String.join(" and ", changes),
              "layer",
              name,
              "layers",
              cuts.isEmpty() ? layer.cutBy() : List.copyOf(cuts.keySet())),
          name,
          "",
          !cuts.isEmpty() && isInFront ? p -> completed(p, name, cuts) : null);
    }
  }

  /** What is behind a layer is whole, and the layer is laid over it. */
  private Plan completed(Plan plan, String layer, Map<String, EntitySet> cut) {
    Plan out = plan;
    for (Map.Entry<String, EntitySet> behind : cut.entrySet()) {
      out = Cuts.role(out, c.members, behind.getKey(), behind.getValue(), Role.UNSEEN);
    }
    return LayerEdits.join(out, layer, Join.OVER);
  }

  /** Names that mattes pick: each is to be that of something. */
  private void mattes() {
    Map<String, Set<String>> known =
        LayerPictures.idNames(
            c.scene, c.plan.collections().stream().map(CollectionDef::name).toList());
    for (MatteDef matte : c.plan.recipe().mattes()) {
      for (String pick : matte.picks()) {
        List<String> names =
            known.entrySet().stream()
                .filter(e ->
                    e.getKey()
                        .toLowerCase(Locale.ROOT)
                        .contains(matte.by().toLowerCase(Locale.ROOT)))
                .flatMap(e -> e.getValue().stream())
                .toList();
        if (matte.source() == MatteDef.Source.IDS
            && !IdMattes.isId(pick)
            && names.stream().noneMatch(n -> Wildcards.matchName(pick, n))) {
          c.add(
              Message.of(Sentence.MATTE_EMPTY, "matte", matte.name(), "pick", pick), "", "", null);
        }
      }
    }
  }

  /** Passes that mattes and joins read: each is to be written with its layer. */
  private void passes() {
    Map<String, Set<Output.More>> needs = Expression.of(c.plan.recipe()).needs();
    needs.forEach((layer, passes) -> {
      for (Output.More pass : passes) {
        boolean isCatcher = c.layer(layer).catcher() != null;
        if (!c.plan.output().more(layer).contains(pass) && !isCatcher) {
          c.add(
              Message.of(Sentence.PASS_MISSING, "layer", layer, "pass", pass.word()),
              layer,
              "",
              p -> RecipeEdits.written(p, List.of(layer), Set.of(pass)));
        }
      }
    });
  }

  private void corrections() {
    Recipe recipe = c.plan.recipe();
    List<String> titles = LayerPictures.passTitles(c.resolved);
    Map<Alike, List<Integer>> on = new LinkedHashMap<>();
    for (int k = 0; k < recipe.corrections().size(); k++) {
      Correction correction = recipe.corrections().get(k);
      String layer = correction.layer();
      String pass = correction.pass();
      if (!correction.on()) {
        continue;
      }
      if (layer.isEmpty()) {
        on.computeIfAbsent(Alike.of(correction), a -> new ArrayList<>()).add(k);
        continue;
      }
      boolean isWritten =
          titles.contains(pass) && c.plan.output().writes(layer, LayerPictures.passWord(pass));
      Message message =
          c.plan.join(layer).isEmpty()
              ? Message.of(Sentence.CORRECTION_NOT_JOINED, "layer", layer)
              : pass.isEmpty() || isWritten
                  ? null
                  : Message.of(Sentence.CORRECTION_NO_PASS, "layer", layer, "pass", pass);
      if (message == null) {
        on.computeIfAbsent(Alike.of(correction), a -> new ArrayList<>()).add(k);
      } else {
        int at = k;
        c.add(
            message,
            layer,
            "",
            p -> p.withRecipe(p.recipe().withCorrection(at, correction.switched(false))));
      }
    }
    correctionsAreOn(on);
  }

  /** What a correction does to a layer, or to all of them, whichever layer that is. */
  private record Alike(
      boolean whole,
      String pass,
      Correction.Reach reach,
      String matte,
      String picture,
      String change) {
    static Alike of(Correction c) {
      return new Alike(c.isOfWhole(), c.pass(), c.reach(), c.matte(), c.picture(), c.title(1));
    }
  }

  /**
   * Tells of corrections that are on; the same in several layers are one.
   *
   * @param alike the numbers of corrections, by what they do
   */
  private void correctionsAreOn(Map<Alike, List<Integer>> alike) {
    alike
        .values()
        .forEach(numbers -> {
          List<Correction> all = c.plan.recipe().corrections();
          Correction first = all.get(numbers.getFirst());
          long layers = numbers.stream().map(k -> all.get(k).layer()).distinct().count();
          c.add(
              Message.of(
                  Sentence.CORRECTION_ON,
                  "correction",
                  layers == 1 ? first.title() : first.title((int) layers)),
              first.layer(),
              "",
              p -> {
                Recipe next = p.recipe();
                for (int at : numbers) {
                  next = next.withCorrection(at, next.corrections().get(at).switched(false));
                }
                return p.withRecipe(next);
              });
        });
  }

  /** Returns the edit that removes a cause, or null if the TD must decide. */
  static Finding.@Nullable Fix fix(Checked checked, Cause cause) {
    UnaryOperator<Plan> edit =
        new CauseFixes(checked.plan, checked.members, checked.resolved).fix(cause);
    return edit == null ? null : new Finding.Fix(Checked.fixName(cause.kind()), edit);
  }

  private void add(Cause cause, Message message) {
    EntitySet entities = EntitySet.of(cause.entities());
    c.add(message, cause.layer(), cause.entity(), entities, fixes.fix(cause));
  }

  /** Whether a layer shows everything. */
  private boolean whole(String layer) {
    return LayerChecks.whole(c, c.layer(layer));
  }

  private void firstJoin() {
    if (c.plan.recipe().joins().isEmpty()) {
      return;
    }
    Recipe.Step first = c.plan.recipe().joins().getFirst();
    Join join = first.join();
    if (join == Join.TIMES || join == Join.CATCH || join == Join.MIN) {
      c.add(
          Message.of(Sentence.FIRST_JOIN, "layer", first.layer(), "join", first.join().word()),
          first.layer(),
          "",
          p -> LayerEdits.move(p, first.layer(), p.layers().size()));
    }
  }
}

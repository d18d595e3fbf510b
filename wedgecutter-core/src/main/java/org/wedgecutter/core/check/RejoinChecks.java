package org.wedgecutter.core.check;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
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
import org.wedgecutter.core.resolve.ResolvedLayer;

/** What keeps the layers from rejoining, and the fixes. */
final class RejoinChecks {
  /** Corrections by which a layer covers less, or something else. */
  private static final Set<Correction.Type> UNCOVERS =
      EnumSet.of(
          Correction.Type.FADE,
          Correction.Type.BLUR,
          Correction.Type.DEFOCUS,
          Correction.Type.DISTORTION);

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

  /** What lessens the cover of a layer, or moves it, shows what is cut away behind it. */
  private void holes() {
    Recipe recipe = c.plan.recipe();
    List<Recipe.Step> steps = recipe.joins();
    for (int k = 0; k < steps.size(); k++) {
      Recipe.Step step = steps.get(k);
      String layer = step.layer();
      if (step.join() != Join.PLUS) {
        continue;
      }
      EntitySet seen = c.layer(layer).seen();
      Map<String, EntitySet> cut = new LinkedHashMap<>();
      for (Recipe.Step before : steps.subList(0, k)) {
        ResolvedLayer behind = c.layer(before.layer());
        EntitySet held =
            EntitySet.where(
                c.resolved.entities(),
                e -> seen.contains(e) && behind.decisions().role(e) == Role.HOLDOUT);
        if (!held.isEmpty() && !behind.seen().isEmpty()) {
          cut.put(before.layer(), held);
        }
      }
      List<String> changes = new ArrayList<>();
      if (step.opacity() < 1) {
        changes.add("the opacity");
      }
      recipe.corrections().stream()
          .filter(x -> x.on() && x.layer().equals(layer) && x.pass().isEmpty())
          .filter(x -> x.reach() == Correction.Reach.LAYER && UNCOVERS.contains(x.type()))
          .forEach(x -> changes.add(x.type().word()));
      if (!cut.isEmpty() && !changes.isEmpty()) {
        c.add(
            Message.of(
                Sentence.CORRECTION_HOLE,
                "correction",
                String.join(" and ", changes),
                "layer",
                layer,
                "layers",
                List.copyOf(cut.keySet())),
            layer,
            "",
            p -> completed(p, layer, cut));
      }
    }
  }

  /** What stands behind a layer is whole, and the layer is laid over it. */
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
    for (int k = 0; k < recipe.corrections().size(); k++) {
      Correction correction = recipe.corrections().get(k);
      String layer = correction.layer();
      String pass = correction.pass();
      if (!correction.on()) {
        continue;
      }
      if (layer.isEmpty()) {
        correctionIsOn(correction, k);
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
        correctionIsOn(correction, k);
      } else {
        int at = k;
        c.add(
            message,
            layer,
            "",
            p -> p.withRecipe(p.recipe().withCorrection(at, correction.switched(false))));
      }
    }
  }

  private void correctionIsOn(Correction correction, int at) {
    c.add(
        Message.of(Sentence.CORRECTION_ON, "correction", correction.title()),
        correction.layer(),
        "",
        p -> p.withRecipe(p.recipe().withCorrection(at, correction.switched(false))));
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

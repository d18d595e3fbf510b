package org.wedgecutter.core.plan;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.function.UnaryOperator;

/** Edits of a plan's recipe: functions from plan to plan. */
public final class RecipeEdits {
  private RecipeEdits() {}

  private static Plan corrections(Plan plan, UnaryOperator<List<Correction>> edit) {
    List<Correction> next = edit.apply(new ArrayList<>(plan.recipe().corrections()));
    return plan.withRecipe(plan.recipe().withCorrections(next));
  }

  /** Adds a correction behind all others. */
  public static Plan add(Plan plan, Correction correction) {
    return corrections(
        plan,
        all -> {
          all.add(correction);
          return all;
        });
  }

  /** Puts another correction in the place of one. */
  public static Plan replace(Plan plan, int at, Correction next) {
    return plan.withRecipe(plan.recipe().withCorrection(at, next));
  }

  /** Deletes a correction. */
  public static Plan remove(Plan plan, int at) {
    return corrections(
        plan,
        all -> {
          all.remove(at);
          return all;
        });
  }

  /** Deletes corrections. */
  public static Plan remove(Plan plan, List<Correction> which) {
    return corrections(
        plan,
        all -> {
          which.forEach(all::remove);
          return all;
        });
  }

  /** Switches all corrections on, or off. */
  public static Plan switchAll(Plan plan, boolean on) {
    return corrections(plan, all -> all.stream().map(c -> c.switched(on)).toList());
  }

  /**
   * Gives a correction other values: the first of its type, layer and pass that goes through no
   * matte; one is added where there is none.
   *
   * @param frame at which, if it has keys
   */
  public static Plan set(Plan plan, Correction next, int frame) {
    List<Correction> all = plan.recipe().corrections();
    for (int k = 0; k < all.size(); k++) {
      Correction c = all.get(k);
      if (c.type() == next.type()
          && c.layer().equals(next.layer())
          && c.pass().equals(next.pass())
          && c.matte().isEmpty()) {
        return replace(plan, k, c.withValues(frame, next.values()).switched(true));
      }
    }
    return add(plan, next);
  }

  /** Puts another background behind what is rejoined. */
  public static Plan background(Plan plan, Background next) {
    return plan.withRecipe(plan.recipe().withBackground(next));
  }

  /** Adds a matte under a name that is free. */
  public static Plan addMatte(Plan plan, MatteDef matte) {
    List<MatteDef> all = new ArrayList<>(plan.recipe().mattes());
    all.add(matte.withName(freeName(plan, matte.name())));
    return plan.withRecipe(plan.recipe().withMattes(all));
  }

  /** Returns a name that no matte has. */
  public static String freeName(Plan plan, String like) {
    return Names.free(like, n -> plan.recipe().matte(n).isPresent());
  }

  /** Changes a matte; its name stays. */
  public static Plan matte(Plan plan, String name, UnaryOperator<MatteDef> edit) {
    List<MatteDef> all = new ArrayList<>(plan.recipe().mattes());
    all.replaceAll(m -> m.name().equals(name) ? edit.apply(m).withName(name) : m);
    return plan.withRecipe(plan.recipe().withMattes(all));
  }

  /** Gives a matte another name, also where it is used; a name that is taken changes nothing. */
  public static Plan renameMatte(Plan plan, String name, String next) {
    return next.isBlank() || plan.recipe().matte(next).isPresent()
        ? plan
        : named(
            plan,
            name,
            next,
            all ->
                all.replaceAll(m -> {
                  MatteDef own = m.name().equals(name) ? m.withName(next) : m;
                  return own.source().combines()
                      ? own.withPicks(
                          own.picks().stream().map(p -> p.equals(name) ? next : p).toList())
                      : own;
                }));
  }

  /**
   * Deletes a matte, also out of those that are made of it; what went through it is of the whole
   * picture from then on.
   */
  public static Plan removeMatte(Plan plan, String name) {
    return named(
        plan,
        name,
        "",
        all -> {
          all.removeIf(m -> m.name().equals(name));
          all.replaceAll(m ->
              m.source().combines()
                  ? m.withPicks(m.picks().stream().filter(p -> !p.equals(name)).toList())
                  : m);
        });
  }

  private interface MatteEdit {
    void apply(List<MatteDef> all);
  }

  private static Plan named(Plan plan, String name, String next, MatteEdit edit) {
    List<MatteDef> mattes = new ArrayList<>(plan.recipe().mattes());
    edit.apply(mattes);
    Recipe r = plan.recipe().withMattes(mattes);
    return plan.withRecipe(
        r.withCorrections(
                r.corrections().stream()
                    .map(c -> c.matte().equals(name) ? c.through(next) : c)
                    .toList())
            .withJoins(
                r.joins().stream()
                    .map(s -> s.matte().equals(name) ? s.withMatte(next) : s)
                    .toList()));
  }

  /** Returns a plan in which a layer's ratio scales other light of what is behind. */
  public static Plan joinLight(Plan plan, String layer, Recipe.Light light) {
    return plan.withRecipe(
        plan.recipe()
            .withJoins(
                plan.recipe().joins().stream()
                    .map(s -> s.layer().equals(layer) ? s.withLight(light) : s)
                    .toList()));
  }

  /** Returns a plan whose layers are joined with a matte, or by their alpha where it is empty. */
  public static Plan joinMatte(Plan plan, String layer, String matte) {
    return plan.withRecipe(
        plan.recipe()
            .withJoins(
                plan.recipe().joins().stream()
                    .map(s -> s.layer().equals(layer) ? s.withMatte(matte) : s)
                    .toList()));
  }

  /** Writes passes with layers, where they are not written yet; with no others. */
  public static Plan written(Plan plan, Iterable<String> layers, Set<Output.More> passes) {
    Output output = plan.output();
    List<String> all = plan.layers().stream().map(LayerDef::name).toList();
    for (String layer : layers) {
      for (Output.More pass : passes) {
        output = output.written(layer, pass, all);
      }
    }
    return plan.withOutput(output);
  }

  /**
   * Takes over another plan's recipe: joins and corrections of layers that both have, and mattes,
   * which get another name where theirs stands for something else.
   */
  public static Plan take(Plan plan, Recipe from, List<String> notes) {
    Plan next = plan;
    for (Recipe.Step s : from.joins()) {
      if (plan.layer(s.layer()).isEmpty()) {
        notes.add("layer %s skipped: this plan has none".formatted(s.layer()));
        continue;
      }
      next = LayerEdits.join(next, s.layer(), s.join());
      next = LayerEdits.opacity(next, s.layer(), s.opacity());
      next = joinLight(next, s.layer(), s.light());
    }
    for (MatteDef m : from.mattes()) {
      boolean known = next.recipe().mattes().contains(m);
      String name = known ? m.name() : freeName(next, m.name());
      next = known ? next : addMatte(next, m);
      if (!known) {
        notes.add("matte %s is new".formatted(name));
      }
      for (Recipe.Step s : from.joins()) {
        if (s.matte().equals(m.name())) {
          next = joinMatte(next, s.layer(), name);
        }
      }
      next = taken(next, from, m.name(), name, notes);
    }
    if (from.background().exists() && !from.background().equals(next.recipe().background())) {
      next = background(next, from.background());
      notes.add("the background is new");
    }
    return taken(next, from, "", "", notes);
  }

  /** Takes over the corrections through one matte, or through none. */
  private static Plan taken(Plan plan, Recipe from, String matte, String as, List<String> notes) {
    Plan next = plan;
    for (Correction c : from.corrections()) {
      Correction own = c.through(as);
      boolean fits = c.layer().isEmpty() || plan.layer(c.layer()).isPresent();
      if (c.matte().equals(matte) && fits && !next.recipe().corrections().contains(own)) {
        next = add(next, own);
        notes.add(
            "%s of %s is new"
                .formatted(
                    c.type().word(), c.layer().isEmpty() ? "the rejoined picture" : c.layer()));
      }
    }
    return next;
  }
}

package org.wedgecutter.core.propose;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.concurrent.CancellationException;
import java.util.function.Consumer;
import java.util.function.DoubleConsumer;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.cut.CompFreedom;
import org.wedgecutter.core.cut.Cuts;
import org.wedgecutter.core.cut.Preset;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.CollectionEdits;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.PlanProof;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.survey.FrameSurvey;
import org.wedgecutter.core.survey.ShotSurvey;
import org.wedgecutter.core.survey.SurveyStore;
import org.wedgecutter.core.survey.Surveyor;
import org.wedgecutter.core.survey.TimeEstimate;

/**
 * Proposes first cuts of a shot: what its parts are, and two or three ways to put them into layers,
 * each proved by a small trace, with its hours and with what it lets one change later.
 *
 * <p>What the plan had cut before is left out; its shot and output stay. One object serves one
 * thread; {@link #stop} may come from another.
 */
public final class Proposer {
  /** A part that does less than this to another's light need not be rendered again for it. */
  private static final double NO_MATTER = 0.01;

  /** The rows of a first plan, from the top. */
  private static final List<Casting.Kind> ROWS =
      List.of(
          Casting.Kind.EFFECTS,
          Casting.Kind.HERO,
          Casting.Kind.FOREGROUND,
          Casting.Kind.AROUND,
          Casting.Kind.SET,
          Casting.Kind.BACKGROUND);

  private static final int FRAMES_TRACED = 2;
  private static final double SURVEY = 0.4;
  private static final String STILL = "Still and moving";

  private final LoadedShot shot;
  private final FrameRenderer.Settings settings;
  private volatile boolean stopped;
  private volatile @Nullable Surveyor surveyor;
  private volatile @Nullable FrameRenderer proving;

  /**
   * @param settings of the small traces
   */
  public Proposer(LoadedShot shot, FrameRenderer.Settings settings) {
    Plan plan = shot.plan();
    this.shot =
        shot.withPlan(
            plan.withCollections(List.of())
                .withLayers(List.of(LayerDef.of("All", 0, Map.of(), Cell.of(Role.SEEN))))
                .withRecipe(
                    new Recipe(
                        List.of(new Recipe.Step("All", Join.PLUS, Extra.NONE)),
                        plan.recipe().extra())));
    this.settings = settings;
  }

  /** Stops what runs; it ends with a {@link CancellationException}. */
  public void stop() {
    stopped = true;
    Surveyor s = surveyor;
    if (s != null) {
      s.stop();
    }
    FrameRenderer p = proving;
    if (p != null) {
      p.stop();
    }
  }

  private Surveyor surveyor(LoadedShot of) {
    Surveyor before = surveyor;
    Surveyor made =
        before == null ? new Surveyor(of, settings, new SurveyStore(of)) : before.of(of);
    surveyor = made;
    if (stopped) {
      throw new CancellationException("the proposal was stopped");
    }
    return made;
  }

  /**
   * Returns proposals, the first the one to take if in doubt; at least one.
   *
   * @param progress receives the share that is done, 0 to 1
   */
  public List<Proposal> propose(DoubleConsumer progress) {
    return propose(progress, p -> {});
  }

  /**
   * Returns proposals, each of which is handed on as soon as it is there.
   *
   * @param each receives proposals, on this thread
   */
  public List<Proposal> propose(DoubleConsumer progress, Consumer<Proposal> each) {
    List<Integer> frames = shot.plan().requireShot().frames().frames();
    ShotSurvey survey =
        surveyor(shot).survey(frames, FRAMES_TRACED, p -> progress.accept(SURVEY * p));
    Casting casting = Casting.of(shot, survey);
    List<Draft> drafts = drafts(casting, survey);
    List<Proposal> out = new ArrayList<>();
    int done = 0;
    for (Draft draft : drafts) {
      double before = SURVEY + (1 - SURVEY) * done++ / drafts.size();
      double part = (1 - SURVEY) / drafts.size();
      // holding still layers pays only where it saves time
      double most =
          draft.title.equals(STILL) ? out.getFirst().shot().middle() : Double.POSITIVE_INFINITY;
      measured(draft, casting, survey, most, p -> progress.accept(before + part * p))
          .ifPresent(p -> {
            out.add(p);
            each.accept(p);
          });
    }
    return List.copyOf(out);
  }

  /** A cut before it is measured. */
  private record Draft(String title, String summary, Plan plan, Map<String, String> reasons) {}

  private List<Draft> drafts(Casting casting, ShotSurvey survey) {
    List<Draft> out = new ArrayList<>();
    Draft byDepth = byDepth(casting);
    out.add(byDepth);
    casting.roles().stream()
        .filter(m -> m.kind() == Casting.Kind.HERO)
        .findFirst()
        .ifPresent(hero -> out.add(shadowApart(byDepth, hero)));
    boolean moves = survey.changes().moves().stream().anyMatch(m -> !m.isEmpty());
    boolean footage = shot.plan().requireShot().plate().isNumbered();
    if (moves && !footage && survey.changes().camera().isEmpty() && somethingStill()) {
      out.add(stillHeld());
    }
    return out;
  }

  private boolean somethingStill() {
    return shot.scene().entities().stream()
        .anyMatch(e -> e.kind() == EntityKind.MESH && !e.moves());
  }

  /** Every part seen in one layer and held out of all others. */
  private Draft byDepth(Casting casting) {
    Members members = shot.members();
    RuleMaker rules = new RuleMaker(members);
    Plan plan =
        shot.plan()
            .withLayers(List.of())
            .withRecipe(new Recipe(List.of(), shot.plan().recipe().extra()));
    // the front decides first, so that its rules may match less than those behind
    EntitySet taken = EntitySet.NONE;
    List<Casting.Member> front = new ArrayList<>(casting.roles());
    front.sort(Comparator.comparingInt(m -> ROWS.indexOf(m.kind())));
    for (Casting.Member member : front) {
      EntitySet things = member.entities().minus(environment());
      if (!things.isEmpty()) {
        CollectionDef row = rules.collection(member.title(), things, taken);
        plan = CollectionEdits.add(plan, plan.collections().size(), row);
      }
      taken = taken.or(things);
    }
    Map<String, String> reasons = new LinkedHashMap<>();
    for (int m = 0; m < casting.roles().size(); m++) {
      Casting.Member member = casting.roles().get(m);
      String title = member.title();
      Map<String, Cell> cells = new LinkedHashMap<>();
      for (CollectionDef row : plan.collections()) {
        cells.put(row.name(), Cell.of(row.name().equals(title) ? Role.SEEN : Role.HOLDOUT));
      }
      Cell rest = Cell.of(m == 0 ? Role.SEEN : Role.HOLDOUT);
      plan =
          LayerEdits.add(plan, plan.layers().size(), LayerDef.of(title, 0, cells, rest), Join.PLUS);
      reasons.put(title, member.reason());
    }
    return new Draft(
        "By depth",
        "Every part is seen in one layer and held out of all others. Exact, whatever is in front; one trace serves all.",
        plan,
        reasons);
  }

  private EntitySet environment() {
    List<Entity> all = shot.scene().entities();
    return EntitySet.where(all.size(), e -> all.get(e).kind() == EntityKind.ENVIRONMENT);
  }

  /** The same, with what the hero does to all else in a layer of its own. */
  private Draft shadowApart(Draft base, Casting.Member hero) {
    Plan plan = Cuts.apart(base.plan, shot.members(), hero.entities(), true);
    Map<String, String> reasons = new LinkedHashMap<>();
    for (LayerDef layer : plan.layers()) {
      reasons.put(
          layer.name(),
          base.reasons.getOrDefault(
              layer.name(),
              "What the hero does to all else: its shadow, its reflection, its bounced light."));
    }
    return new Draft(
        "Hero with separate shadow",
        "The hero can change its colour, its material or its shadow without the layers behind it. Exact; two traces.",
        plan,
        reasons);
  }

  /** Still objects are rendered once; moving objects are layers over them. */
  private Draft stillHeld() {
    Plan plan = Preset.STILL_AND_MOVING.apply(shot.plan(), shot.members(), Set.of());
    Map<String, String> reasons = new LinkedHashMap<>();
    List<String> texts =
        List.of(
            "Everything that stands still, lit as if nothing moved: rendered once and held.",
            "What the moving objects do to what stands still: shadow, reflection, bounced light.",
            "What moves, held out by what is in front of it.");
    for (int l = 0; l < plan.layers().size(); l++) {
      reasons.put(plan.layers().get(l).name(), texts.get(Math.min(l, texts.size() - 1)));
    }
    return new Draft(
        STILL,
        "What stands still is rendered once. The moving part is joined by over: edge pixels are approximated.",
        plan,
        reasons);
  }

  /**
   * Measures and proves a cut.
   *
   * @param most seconds that it may take; nothing is returned if it takes longer
   */
  private Optional<Proposal> measured(
      Draft draft, Casting casting, ShotSurvey survey, double most, DoubleConsumer progress) {
    LoadedShot cut = shot.withPlan(draft.plan);
    Surveyor look = surveyor(cut);
    List<Integer> frames = new ArrayList<>(survey.traced().keySet());
    SortedMap<Integer, FrameSurvey> traced = new TreeMap<>();
    for (int frame : frames) {
      double before = 0.7 * traced.size() / frames.size();
      traced.put(frame, look.look(frame, p -> progress.accept(before + 0.7 * p / frames.size())));
    }
    var s = draft.plan.requireShot();
    TimeEstimate time =
        new TimeEstimate(
            cut,
            traced,
            HeldFrames.of(draft.plan, shot.members()),
            s.width(),
            s.height(),
            s.samples(),
            settings.threads());
    if (time.shot().middle() >= most) {
      return Optional.empty();
    }
    int frame = frames.getLast();
    Proposal.Proof proof = proof(cut, frame, p -> progress.accept(0.7 + 0.3 * p));
    List<CompFreedom> comp = CompFreedom.of(draft.plan, cut.resolve(frame));
    List<Proposal.Reason> reasons = new ArrayList<>();
    for (int l = 0; l < draft.plan.layers().size(); l++) {
      String name = draft.plan.layers().get(l).name();
      reasons.add(
          new Proposal.Reason(
              name, draft.reasons.getOrDefault(name, ""), comp.get(l), time.layer(l)));
    }
    return Optional.of(
        new Proposal(
            draft.title,
            draft.summary,
            draft.plan,
            reasons,
            proof,
            time.shot(),
            later(cut, casting, survey, time, frame)));
  }

  private Proposal.Proof proof(LoadedShot cut, int frame, DoubleConsumer progress) {
    FrameRenderer renderer = new FrameRenderer(cut, settings);
    proving = renderer;
    if (stopped) {
      throw new CancellationException("the proposal was stopped");
    }
    PlanProof proof = PlanProof.prove(cut, frame, renderer, progress);
    return new Proposal.Proof(
        frame,
        proof.residual().exact(),
        proof.residual().max(),
        proof.residual().beyond(),
        proof.causes().stream().map(Cause::text).toList());
  }

  // ---- what can be changed later

  private List<Proposal.Later> later(
      LoadedShot cut, Casting casting, ShotSurvey survey, TimeEstimate time, int frame) {
    List<Proposal.Later> out = new ArrayList<>();
    ResolvedShot resolved = cut.resolve(frame);
    for (Casting.Member member : casting.roles()) {
      EntitySet things = member.entities();
      String name = member.title();
      switch (member.kind()) {
        case EFFECTS ->
            out.add(
                change(
                    "change the density of the effects",
                    cut,
                    resolved,
                    time,
                    l -> isLit(l, things, survey)));
        case HERO -> {
          out.add(
              change(
                  "change the hero's colour or material",
                  cut,
                  resolved,
                  time,
                  l -> isLit(l, things, survey)));
          out.add(
              change(
                  "move the hero",
                  cut,
                  resolved,
                  time,
                  l -> isLit(l, things, survey) || isHeldOut(l, things)));
        }
        default ->
            out.add(
                change(
                    "change a material of " + name,
                    cut,
                    resolved,
                    time,
                    l -> isLit(l, things, survey)));
      }
    }
    return out;
  }

  private interface Touches {
    boolean layer(ResolvedLayer layer);
  }

  private Proposal.Later change(
      String change, LoadedShot cut, ResolvedShot resolved, TimeEstimate time, Touches touches) {
    List<String> layers = new ArrayList<>();
    TimeEstimate.Seconds sum = TimeEstimate.Seconds.ZERO;
    for (int l = 0; l < resolved.layers().size(); l++) {
      if (cut.plan().layers().get(l).render() && touches.layer(resolved.layers().get(l))) {
        layers.add(resolved.layers().get(l).name());
        sum = sum.plus(time.layer(l));
      }
    }
    long of = cut.plan().layers().stream().filter(LayerDef::render).count();
    return new Proposal.Later(change, layers, (int) of, sum);
  }

  /** Whether light of a layer depends on what some things look like. */
  private boolean isLit(ResolvedLayer layer, EntitySet things, ShotSurvey survey) {
    if (layer.seen().meets(things)) {
      return true;
    }
    boolean there = false;
    for (int e : things.indices()) {
      var reach = layer.transport().reach(e);
      there |= !reach.isNone() && (reach.isMet() || reach.castsShadow());
    }
    if (!there) {
      return false;
    }
    var catcher = layer.catcher();
    if (catcher != null && catcher.casters().meets(things)) {
      return true;
    }
    EntitySet shown = catcher == null ? layer.seen() : layer.seen().or(catcher.surfaces());
    return survey.share(shown, things) >= NO_MATTER;
  }

  private static boolean isHeldOut(ResolvedLayer layer, EntitySet things) {
    for (int e : things.indices()) {
      if (layer.decisions().role(e) == Role.HOLDOUT || layer.decisions().role(e) == Role.CATCHER) {
        return true;
      }
    }
    return false;
  }
}

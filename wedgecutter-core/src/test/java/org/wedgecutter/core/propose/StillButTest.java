package org.wedgecutter.core.propose;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.check.Finding;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Mistake;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.proof.Cause;
import org.wedgecutter.core.proof.PlanProof;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.resolve.HeldFrames;
import org.wedgecutter.core.scene.Channel;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.survey.ShotSurvey;
import org.wedgecutter.core.survey.Surveyor;
import org.wedgecutter.core.survey.TimeEstimate;
import org.wedgecutter.core.testing.SceneMaker;
import org.wedgecutter.core.testing.Shots;

/** A room that is still but for a box that slides over its floor. */
class StillButTest {
  private static LoadedShot shot() {
    Scene scene =
        new SceneMaker()
            .camera(1, 0, 0.5, 6)
            .mesh("/room/wall", SceneMaker.wall(6, 4), SceneMaker.matte(0.5), 0, 0, -4)
            .mesh("/room/floor", SceneMaker.floor(6, 6), SceneMaker.matte(0.4), 0, -1, 0)
            .mesh(
                "/hero",
                SceneMaker.box(0.3),
                SceneMaker.colored(0.7, 0.2, 0.1),
                List.of(),
                List.of(
                    new Channel(
                        Channel.Target.TRANSLATION,
                        Channel.Between.LINEAR,
                        new float[] {0, 3},
                        new float[] {-1, -0.7f, 1, 1, -0.7f, 1})),
                -1,
                -0.7,
                1)
            .pointLight("/lamp", 60, 1, 4, 4)
            .scene();
    return Shots.of(
        scene,
        "1-4",
        "\"samples\": 16, \"bounces\": 2",
        """
        "collections": [{"name": "Hero", "rule": "hero"}, {"name": "Room", "rule": "path:/room/**"}],
        "layers": [
          {"name": "Room", "cells": {"Hero": {"role": "Holdout"}, "Room": {"role": "Seen"}},
           "rest": {"role": "Seen"}},
          {"name": "Hero", "hue": 1, "cells": {"Hero": {"role": "Seen"}}, "rest": {"role": "Holdout"}}],
        "recipe": {"joins": [{"layer": "Room", "join": "plus"}, {"layer": "Hero", "join": "plus"}]}
        """);
  }

  private static List<StillBut> found(LoadedShot shot) {
    FrameRenderer.Settings quick = FrameRenderer.Settings.of(shot, 1, 8, 2, false);
    ShotSurvey survey = new Surveyor(shot, quick).survey(List.of(1, 2, 3, 4), 2, p -> {});
    HeldFrames held = HeldFrames.of(shot.plan(), shot.members());
    TimeEstimate time = new TimeEstimate(shot, survey.traced(), held, 64, 48, 16, 2);
    return StillBut.of(shot, survey, held, time);
  }

  @Test
  void theRoomIsStillButForTheHeroAndTheCutThatAllowsItHoldsIt() {
    LoadedShot shot = shot();
    List<StillBut> found = found(shot);
    assertThat(found).singleElement();
    StillBut room = found.getFirst();
    assertThat(room.layer()).isZero();
    assertThat(room.movers().indices())
        .containsExactly(shot.scene().entity("/hero").orElseThrow().index());
    assertThat(room.share()).isBetween(0.001, 0.5);
    assertThat(room.saved()).isPositive();
    FrameRenderer.Settings quick = FrameRenderer.Settings.of(shot, 1, 4, 2, false);
    StillBut.Loss loss = room.loss(new FrameRenderer(shot, quick), 1, 4);
    assertThat(loss.max()).isPositive();
    assertThat(loss.beyond()).isBetween(0.01, 0.6);
    assertThat(room.loss(new FrameRenderer(shot, quick), 1, 1)).isEqualTo(new StillBut.Loss(0, 0));

    Plan allowed = room.allow(shot.plan(), shot.members());
    LoadedShot cut = shot.withPlan(allowed);
    assertThat(allowed.layers())
        .extracting(l -> l.name())
        .containsExactly("Room", "Room shadows", "Hero");
    HeldFrames held = HeldFrames.of(allowed, shot.members());
    assertThat(held.pictures(0)).as("the room is held").isEqualTo(1);
    assertThat(held.pictures(1)).isEqualTo(4);
    for (int frame : new int[] {1, 4}) {
      assertThat(
              PlanCheck.check(allowed, shot.members(), cut.resolve(frame)).stream()
                  .filter(f -> f.severity() == Mistake.Severity.ERROR)
                  .map(Finding::text))
          .isEmpty();
      PlanProof proof =
          PlanProof.prove(
              cut,
              frame,
              new FrameRenderer(cut, FrameRenderer.Settings.of(cut, 1, 16, 2, false)),
              p -> {});
      // edges of the hero alone differ
      assertThat(proof.residual().beyond()).isLessThan(0.05);
      assertThat(proof.causes()).extracting(Cause::kind).containsOnly(Mistake.EDGE_COVARIANCE);
    }
    assertThat(found(cut)).isEmpty();
  }

  @Test
  void whatIsStillAlreadyAndWhatMovesItselfIsNotTold() {
    LoadedShot shot = shot();
    Plan absent =
        org.wedgecutter.core.plan.PlanEdits.cell(
            shot.plan(), "Room", "Hero", c -> c.withRole(org.wedgecutter.core.plan.Role.ABSENT));
    assertThat(found(shot.withPlan(absent))).isEmpty();
  }
}

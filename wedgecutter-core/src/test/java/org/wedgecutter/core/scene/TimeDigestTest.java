package org.wedgecutter.core.scene;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.wedgecutter.core.testing.SceneMaker;

/** What changes, and when: by transforms of parents, joints, morph weights and laws of media. */
class TimeDigestTest {
  private static final SceneCamera CAMERA = new SceneCamera("eye", 0, 1);

  private static final Node.Local REST =
      new Node.Local(new float[3], new float[] {0, 0, 0, 1}, new float[] {1, 1, 1});

  /** Keys at 1, 2 and 3 seconds: it moves between 1 and 2, and stays where it is then. */
  private static Channel stops(Channel.Between between) {
    return new Channel(
        Channel.Target.TRANSLATION,
        between,
        new float[] {1, 2, 3},
        between == Channel.Between.CUBIC
            ? new float[] {
              0, 0, 0, 0, 0, 0, 0, 0, 0, /**/ 0, 0, 0, 1, 0, 0, 0, 0, 0, /**/ 0, 0, 0, 1, 0, 0, 0,
              0, 0
            }
            : new float[] {0, 0, 0, 1, 0, 0, 1, 0, 0});
  }

  private static Scene scene(List<Node> nodes, Deformation deformation, Medium medium) {
    List<Entity> entities = new ArrayList<>();
    EntityKind kind = medium == null ? EntityKind.MESH : EntityKind.MEDIUM;
    entities.add(new Entity(0, "/a", kind, nodes.size() - 1, 0, List.of(), List.of(), false));
    entities.add(Entity.environment(1));
    return new Scene(
            Path.of("t.glb"),
            nodes,
            entities,
            List.of(SceneMaker.wall(1, 1)),
            List.of(SceneMaker.matte(1)),
            List.of(),
            List.of(),
            medium == null ? List.of() : List.of(medium),
            deformation == null ? Map.of() : Map.of(0, deformation),
            List.of(new SceneCamera("c", 0, 1)),
            TimeRange.until(3),
            List.of(),
            List.of())
        .withMovesTold();
  }

  private static boolean same(Scene scene, int entity, double a, double b, double length) {
    TimeDigest time = new TimeDigest(scene);
    return time.over(1, CAMERA, a, a + length).same(time.over(2, CAMERA, b, b + length), entity);
  }

  private static List<Node> childOf(Channel channel) {
    return List.of(
        new Node("/camera", -1, REST, List.of()),
        new Node("/parent", -1, REST, List.of(channel)),
        new Node("/parent/child", 1, REST, List.of()));
  }

  @Test
  void aChildChangesWhileItsParentDoes() {
    for (Channel.Between between : Channel.Between.values()) {
      Scene scene = scene(childOf(stops(between)), null, null);
      assertThat(scene.entities().getFirst().moves()).isTrue();
      TimeDigest time = new TimeDigest(scene);
      Entity e = scene.entities().getFirst();
      assertThat(time.changes(e, 0, 0.9)).as("before").isFalse();
      boolean step = between == Channel.Between.STEP;
      assertThat(time.changes(e, 1.2, 1.4)).as("%s between keys", between).isEqualTo(!step);
      assertThat(time.changes(e, 1.9, 2)).as("%s up to a key", between).isTrue();
      assertThat(time.changes(e, 2.1, 2.9)).as("afterwards").isFalse();
      assertThat(time.changes(e, 2.9, 9)).isFalse();
      assertThat(same(scene, 0, 0.1, 0.5, 0.2)).isTrue();
      assertThat(same(scene, 0, 2.1, 2.7, 0.2)).isTrue();
      assertThat(same(scene, 0, 0.1, 2.7, 0.2)).as("still, but elsewhere").isFalse();
      assertThat(same(scene, 0, 0.1, 1.3, 0.2)).isEqualTo(step);
      assertThat(time.movesWhen(e)).containsExactly(1, 3);
    }
  }

  @Test
  void theSameMovementAtAnotherTimeIsTheSame() {
    Channel twice =
        new Channel(
            Channel.Target.TRANSLATION,
            Channel.Between.LINEAR,
            new float[] {0, 1, 2, 3},
            new float[] {0, 0, 0, 1, 0, 0, 0, 0, 0, 1, 0, 0});
    Scene scene = scene(childOf(twice), null, null);
    assertThat(same(scene, 0, 0.25, 2.25, 0.5)).isTrue();
    assertThat(same(scene, 0, 0.25, 2.5, 0.25)).isFalse();
    assertThat(same(scene, 0, 0.25, 1.25, 0.5)).as("the other way").isFalse();
  }

  @Test
  void aStepHoldsUntilItsNextKey() {
    Channel gone =
        new Channel(
            Channel.Target.VISIBLE, Channel.Between.STEP, new float[] {0, 2}, new float[] {1, 0});
    Scene scene = scene(childOf(gone), null, null);
    assertThat(scene.entities().getFirst().moves()).isTrue();
    assertThat(same(scene, 0, 0.3, 1.4, 0.5)).as("between keys").isTrue();
    assertThat(same(scene, 0, 0.3, 1.8, 0.5)).as("a key comes in between").isFalse();
    assertThat(same(scene, 0, 0.3, 2.1, 0.2)).as("gone").isFalse();
    assertThat(same(scene, 0, 2.3, 5, 0.2)).isTrue();
  }

  @Test
  void aCubicThatLeavesAndComesBackChanges() {
    Channel there =
        new Channel(
            Channel.Target.TRANSLATION,
            Channel.Between.CUBIC,
            new float[] {0, 1},
            new float[] {0, 0, 0, 5, 0, 0, 1, 0, 0, /**/ -1, 0, 0, 5, 0, 0, 0, 0, 0});
    Scene scene = scene(childOf(there), null, null);
    assertThat(scene.entities().getFirst().moves()).isTrue();
    assertThat(same(scene, 0, 0.2, 0.6, 0)).isFalse();
  }

  @Test
  void jointsAndMorphWeightsChangeWhatTheyDeform() {
    List<Node> nodes =
        List.of(
            new Node("/camera", -1, REST, List.of()),
            new Node("/joint", -1, REST, List.of(stops(Channel.Between.LINEAR))),
            new Node("/skin", -1, REST, List.of()));
    Deformation.Skin skin =
        new Deformation.Skin(new int[] {1}, new float[16], new int[16], new float[16]);
    Scene skinned = scene(nodes, new Deformation(null, skin), null);
    assertThat(skinned.entities().getFirst().moves()).isTrue();
    assertThat(same(skinned, 0, 0.1, 1.3, 0.2)).isFalse();
    assertThat(same(skinned, 0, 2.1, 2.4, 0.2)).isTrue();
    Track weights = new Track(Channel.Between.LINEAR, new float[] {1, 2}, new float[] {0, 1}, 1);
    Deformation.Morph morph =
        new Deformation.Morph(new float[1][12], new float[1][0], new float[1], weights);
    List<Node> still = List.of(nodes.get(0), nodes.get(2));
    Scene morphed = scene(still, new Deformation(morph, null), null);
    assertThat(morphed.entities().getFirst().moves()).isTrue();
    assertThat(same(morphed, 0, 0.1, 1.3, 0.2)).isFalse();
    assertThat(same(morphed, 0, 0.1, 0.5, 0.2)).isTrue();
    TimeDigest time = new TimeDigest(morphed);
    assertThat(time.deforms(morphed.entities().getFirst(), 1.2, 1.4)).isTrue();
    assertThat(time.deforms(morphed.entities().getFirst(), 2.2, 2.4)).isFalse();
  }

  @Test
  void smokeRisesByItsOwnLaw() {
    List<Node> nodes =
        List.of(new Node("/camera", -1, REST, List.of()), new Node("/a", -1, REST, List.of()));
    Scene smoke = scene(nodes, null, SceneMaker.puff(1, 1));
    assertThat(smoke.entities().getFirst().moves()).isTrue();
    assertThat(same(smoke, 0, 0.1, 0.5, 0.2)).isFalse();
    assertThat(new TimeDigest(smoke).movesWhen(smoke.entities().getFirst())).containsExactly(0, 3);
    Scene haze = scene(nodes, null, SceneMaker.haze(1, 1));
    assertThat(haze.entities().getFirst().moves()).isFalse();
    assertThat(same(haze, 0, 0.1, 0.5, 0.2)).isTrue();
  }

  @Test
  void theCameraAndWhatIsPresentDecideWhetherATimeIsTheSame() {
    List<Node> nodes =
        List.of(
            new Node("/camera", -1, REST, List.of(stops(Channel.Between.LINEAR))),
            new Node("/a", -1, REST, List.of()));
    Scene scene = scene(nodes, null, null);
    TimeDigest time = new TimeDigest(scene);
    SceneTime before = time.over(1, CAMERA, 0, 0.1);
    SceneTime during = time.over(2, CAMERA, 1.2, 1.3);
    assertThat(before.same(during, e -> true)).as("the camera moved").isFalse();
    assertThat(before.sameCamera(during)).isFalse();
    assertThat(before.same(during, 0)).isTrue();
    assertThat(before.same(time.over(7, CAMERA, 0.5, 0.6), e -> true)).isTrue();
    Scene moving = scene(childOf(stops(Channel.Between.LINEAR)), null, null);
    TimeDigest other = new TimeDigest(moving);
    SceneTime a = other.over(1, CAMERA, 0, 0.1);
    SceneTime b = other.over(2, CAMERA, 1.2, 1.3);
    assertThat(a.same(b, e -> e != 0)).as("what moves is absent").isTrue();
    assertThat(a.same(b, e -> true)).isFalse();
    assertThat(SceneTime.ofFrame(3).same(SceneTime.ofFrame(3), e -> true)).isTrue();
    assertThat(SceneTime.ofFrame(3).same(SceneTime.ofFrame(4), e -> true)).isFalse();
  }
}

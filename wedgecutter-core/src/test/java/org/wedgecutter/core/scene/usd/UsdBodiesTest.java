package org.wedgecutter.core.scene.usd;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Cage;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.trace.Environment;
import org.wedgecutter.core.trace.SceneTracer;

/** Instances, skeletons, and what moves by itself: where things stand in the world. */
class UsdBodiesTest {
  private static Scene read(String body) throws InputException {
    return UsdReader.parse(
        "#usda 1.0\n(\n  metersPerUnit = 1\n  upAxis = \"Y\"\n  timeCodesPerSecond = 24\n)\n"
            + body,
        Path.of("stage.usda"));
  }

  /** Box of an entity in the world, as the tracer has it at a time code. */
  private static float[] box(Scene scene, String path, double code) {
    Entity e = scene.entity(path).orElseThrow();
    return new SceneTracer(scene)
        .at(new SceneTracer.Time((code - 1) / 24, 0, 1), Environment.DARK)
        .bounds(EntitySet.of(List.of(e.index())));
  }

  private static void assertBox(Scene scene, String path, double code, double... expected) {
    float[] box = box(scene, path, code);
    assertThat(box).as("%s is there at %.1f", path, code).isNotNull();
    for (int k = 0; k < 6; k++) {
      assertThat((double) box[k])
          .as("%s at %.1f, number %d", path, code, k)
          .isCloseTo(expected[k], within(1e-4));
    }
  }

  private static List<String> paths(Scene scene) {
    return scene.entities().stream().map(Entity::path).toList();
  }

  /** A square of side 2 about the origin, in x and y. */
  private static String square(String name, String more) {
    return """
    def Mesh "%s"
    {
        uniform token subdivisionScheme = "none"
        int[] faceVertexCounts = [4]
        int[] faceVertexIndices = [0, 1, 2, 3]
        point3f[] points = [(-1,-1,0), (1,-1,0), (1,1,0), (-1,1,0)]
        %s
    }
    """
        .formatted(name, more);
  }

  // ---- instances

  private static String grove(String more, String where) {
    return """
    def PointInstancer "grove"
    {
        double3 xformOp:translate = (100, 0, 0)
        uniform token[] xformOpOrder = ["xformOp:translate"]
        rel prototypes = [<%1$s/leaf>, <%1$s/tree>]
        int[] protoIndices = [0, 1, 0]
        point3f[] positions = [(0,0,0), (10,0,0), (20,0,0)]
        quath[] orientations = [(1,0,0,0), (1,0,0,0), (0.70710678,0,0,0.70710678)]
        float3[] scales = [(1,1,1), (2,2,2), (1,3,1)]
        %2$s
    """
        .formatted(where, more);
  }

  private static final String PROTOTYPES =
      square("leaf", "")
          + "def Xform \"tree\" { double3 xformOp:translate = (0, 5, 0)\n"
          + "uniform token[] xformOpOrder = [\"xformOp:translate\"]\n"
          + square("crown", "")
          + "}\n";

  @Test
  void instancesStandWhereSizeTurnAndShiftTakeTheirPrototypes() throws Exception {
    Scene scene = read(grove("", "/grove") + PROTOTYPES + "}");
    assertThat(paths(scene))
        .containsExactly("/grove/0/leaf", "/grove/1/tree/crown", "/grove/2/leaf", "/environment");
    assertBox(scene, "/grove/0/leaf", 1, 99, -1, 0, 101, 1, 0);
    // the prototype's own transform comes before the instance's
    assertBox(scene, "/grove/1/tree/crown", 1, 108, 8, 0, 112, 12, 0);
    // three times as high, then turned by a right angle about z
    assertBox(scene, "/grove/2/leaf", 1, 117, -1, 0, 123, 1, 0);
    assertThat(scene.meshes()).as("leaves share one").hasSize(2);
  }

  @ParameterizedTest
  @ValueSource(strings = {"over", "class"})
  void prototypesMayLieWhereNothingIsDrawn(String how) throws Exception {
    Scene scene =
        read(grove("", "/library") + "}\n" + how + " \"library\"\n{\n" + PROTOTYPES + "}");
    assertThat(paths(scene))
        .containsExactly("/grove/0/leaf", "/grove/1/tree/crown", "/grove/2/leaf", "/environment");
  }

  @Test
  void prototypesThatAreDrawnElsewhereAreDrawnThereToo() throws Exception {
    Scene scene = read(grove("", "/library") + "}\ndef \"library\"\n{\n" + PROTOTYPES + "}");
    assertThat(paths(scene)).contains("/library/leaf", "/grove/0/leaf").hasSize(6);
  }

  @ParameterizedTest
  @ValueSource(strings = {"def", "over"})
  void prototypesHaveWhatTheirOwnParentsGiveThem(String how) throws Exception {
    String colour = "color3f[] primvars:displayColor = [(0.5, 0.25, 1)]\n";
    Scene scene =
        read(
            "def Xform \"x\" { color3f[] primvars:displayColor = [(0, 0, 0)]\n"
                + grove("", "/library")
                + "} }\n"
                + how
                + " \"library\"\n{\n"
                + colour
                + PROTOTYPES
                + "}");
    Entity leaf = scene.entity("/x/grove/0/leaf").orElseThrow();
    assertThat(scene.meshes().get(leaf.payload()).colors()).startsWith(0.5f, 0.25f, 1, 1);
  }

  @Test
  void instancesAreNamedByIdsAndThoseTakenOutAreGone() throws Exception {
    String header = "def PointInstancer \"grove\" ( inactiveIds = [12] )";
    String more = "int64[] ids = [11, 12, 13]\n int64[] invisibleIds = [11]";
    Scene scene =
        read(
            grove(more, "/grove").replace("def PointInstancer \"grove\"", header)
                + PROTOTYPES
                + "}");
    assertThat(paths(scene)).containsExactly("/grove/13/leaf", "/environment");
  }

  @Test
  void instancesMove() throws Exception {
    String moving =
        "point3f[] positions.timeSamples = { 1: [(0,0,0), (10,0,0), (20,0,0)],"
            + " 25: [(0,8,0), (10,0,0), (20,0,0)] }";
    Scene scene = read(grove(moving, "/grove") + PROTOTYPES + "}");
    assertBox(scene, "/grove/0/leaf", 13, 99, 3, 0, 101, 5, 0);
    assertThat(scene.entity("/grove/0/leaf").orElseThrow().moves()).isTrue();
    assertThat(scene.entity("/grove/2/leaf").orElseThrow().moves()).isFalse();
  }

  @Test
  void instancersOfInstancersAreDrawnWithin() throws Exception {
    Scene scene =
        read(
            """
            def PointInstancer "outer"
            {
                rel prototypes = </outer/inner>
                int[] protoIndices = [0, 0]
                point3f[] positions = [(0,0,0), (0,0,50)]
                def PointInstancer "inner"
                {
                    rel prototypes = </outer/inner/leaf>
                    int[] protoIndices = [0]
                    point3f[] positions = [(7,0,0)]
            """
                + square("leaf", "")
                + "}\n}");
    assertThat(paths(scene))
        .containsExactly("/outer/0/inner/0/leaf", "/outer/1/inner/0/leaf", "/environment");
    assertBox(scene, "/outer/1/inner/0/leaf", 1, 6, -1, 50, 8, 1, 50);
  }

  @Test
  void instancersWithinThemselvesEnd() {
    assertThatThrownBy(() ->
            read(
                """
                def PointInstancer "a"
                {
                    rel prototypes = </a>
                    int[] protoIndices = [0, 0]
                    point3f[] positions = [(0,0,0), (1,0,0)]
                }
                """))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("/a");
  }

  @Test
  void aPrototypeThatIsNotThereIsMissing() throws Exception {
    Scene scene = read(grove("", "/nowhere") + "}");
    assertThat(scene.entities()).hasSize(1);
    assertThat(scene.missing()).anyMatch(m -> m.contains("/nowhere/leaf"));
  }

  @Test
  void numbersThatDoNotFitAreToldWithTheirPlace() {
    assertThatThrownBy(() ->
            read(
                """
                def PointInstancer "a"
                {
                    rel prototypes = </a/b>
                    int[] protoIndices = [0, 3]
                    point3f[] positions = [(0,0,0), (1,0,0)]
                    def Sphere "b" { }
                }
                """))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("/a.protoIndices")
        .hasMessageContaining("3");
  }

  // ---- skeletons

  private static String arm(String mesh, String animation) {
    return """
    def SkelRoot "arm"
    {
        rel skel:skeleton = </arm/bones>
        def Skeleton "bones" ( prepend apiSchemas = ["SkelBindingAPI"] )
        {
            double3 xformOp:translate = (0, 0, 7)
            uniform token[] xformOpOrder = ["xformOp:translate"]
            uniform token[] joints = ["a", "a/b"]
            uniform matrix4d[] bindTransforms = [
                ((1,0,0,0),(0,1,0,0),(0,0,1,0),(0,0,0,1)),
                ((1,0,0,0),(0,1,0,0),(0,0,1,0),(2,0,0,1))]
            uniform matrix4d[] restTransforms = [
                ((1,0,0,0),(0,1,0,0),(0,0,1,0),(0,0,0,1)),
                ((1,0,0,0),(0,1,0,0),(0,0,1,0),(2,0,0,1))]
            rel skel:animationSource = </arm/bones/walk>
            def SkelAnimation "walk"
            {
                uniform token[] joints = ["a/b"]
                float3[] translations = [(2, 0, 0)]
                quatf[] rotations.timeSamples = {
                    1: [(1, 0, 0, 0)],
                    25: [(0.70710678, 0, 0, 0.70710678)] }
                half3[] scales = [(1, 1, 1)]
                %2$s
            }
        }
        %1$s
    }
    """
        .formatted(mesh, animation);
  }

  /** A rod along x from 0 to 4, of which each half is bound to a joint. */
  private static String rod(String scheme, String more) {
    return """
    def Mesh "rod" ( prepend apiSchemas = ["SkelBindingAPI"] )
    {
        double3 xformOp:translate = (0, 900, 0)
        uniform token[] xformOpOrder = ["xformOp:translate"]
        uniform token subdivisionScheme = "%s"
        int[] faceVertexCounts = [4, 4]
        int[] faceVertexIndices = [0, 1, 2, 3, 1, 4, 5, 2]
        point3f[] points = [(0,0,0), (2,0,0), (2,0,1), (0,0,1), (4,0,0), (4,0,1)]
        %s
    }
    """
        .formatted(scheme, more);
  }

  private static final String WEIGHTS =
      """
      int[] primvars:skel:jointIndices = [0, 0, 0, 0, 1, 1] (
          elementSize = 1
          interpolation = "vertex" )
      float[] primvars:skel:jointWeights = [1, 1, 1, 1, 1, 1] (
          elementSize = 1
          interpolation = "vertex" )
      """;

  @Test
  void aJointTurnsWhatIsBoundToIt() throws Exception {
    Scene scene = read(arm(rod("none", WEIGHTS), ""));
    // the skeleton's place counts, not the mesh's own
    assertBox(scene, "/arm/rod", 1, 0, 0, 7, 4, 0, 8);
    // the end turns about (2, 0) by a right angle
    assertBox(scene, "/arm/rod", 25, 0, 0, 7, 2, 2, 8);
    double half = Math.sqrt(2);
    assertBox(scene, "/arm/rod", 13, 0, 0, 7, 2 + half, half, 8);
    assertThat(scene.entity("/arm/rod").orElseThrow().moves()).isTrue();
  }

  @Test
  void jointsOfTheMeshsOwnListAndMoreInfluencesThanFourCount() throws Exception {
    String weights =
        """
        uniform token[] skel:joints = ["a/b", "a"]
        int[] primvars:skel:jointIndices = [
            1,1,1,1,1, 1,1,1,1,1, 1,1,1,1,1, 1,1,1,1,1, 1,1,1,1,0, 1,1,1,1,0] (
            elementSize = 5
            interpolation = "vertex" )
        float[] primvars:skel:jointWeights = [
            1,0,0,0,0, 1,0,0,0,0, 1,0,0,0,0, 1,0,0,0,0, 0.5,0,0,0,0.5, 0.5,0,0,0,0.5] (
            elementSize = 5
            interpolation = "vertex" )
        """;
    Scene scene = read(arm(rod("none", weights), ""));
    // half of (4, 0) and half of (2, 2)
    assertBox(scene, "/arm/rod", 25, 0, 0, 7, 3, 1, 8);
  }

  @Test
  void whatIsBoundAsAWholeMovesAsAWhole() throws Exception {
    String weights =
        """
        int[] primvars:skel:jointIndices = [1] ( elementSize = 1 interpolation = "constant" )
        float[] primvars:skel:jointWeights = [1] ( elementSize = 1 interpolation = "constant" )
        matrix4d primvars:skel:geomBindTransform =
            ((1,0,0,0),(0,1,0,0),(0,0,1,0),(2,0,0,1))
        """;
    Scene scene = read(arm(rod("none", weights), ""));
    assertBox(scene, "/arm/rod", 1, 2, 0, 7, 6, 0, 8);
    assertBox(scene, "/arm/rod", 25, 2, 0, 7, 2, 4, 8);
  }

  @Test
  void aCageIsBentBeforeItIsDivided() throws Exception {
    Scene scene = read(arm(rod("catmullClark", WEIGHTS), ""));
    // the edge's corners stay where the cage has them
    assertBox(scene, "/arm/rod", 1, 0, 0, 7, 4, 0, 8);
    float[] bent = box(scene, "/arm/rod", 25);
    assertThat((double) bent[4]).as("the end is bent up").isCloseTo(2, within(1e-5));
    assertThat(bent[3]).as("and rounded").isLessThan(2).isGreaterThan(1.5f);
  }

  @Test
  void shapesAreBlended() throws Exception {
    String shapes =
        """
        uniform token[] skel:blendShapes = ["up", "long"]
        rel skel:blendShapeTargets = [</arm/rod/up>, </arm/rod/long>]
        def BlendShape "up"
        {
            uniform vector3f[] offsets = [(0, 3, 0), (0, 3, 0)]
            uniform int[] pointIndices = [4, 5]
        }
        def BlendShape "long"
        {
            uniform vector3f[] offsets = [(0,0,0), (0,0,0), (0,0,0), (0,0,0), (1,0,0), (1,0,0)]
        }
        """;
    String weights =
        """
        uniform token[] blendShapes = ["long", "up"]
        float[] blendShapeWeights.timeSamples = { 1: [0, 0], 3: [1, 0.5] }
        """;
    Scene scene = read(arm(rod("none", shapes), weights));
    assertBox(scene, "/arm/rod", 1, 0, 900, 0, 4, 900, 1);
    assertBox(scene, "/arm/rod", 2, 0, 900, 0, 4.5, 900.75, 1);
    assertBox(scene, "/arm/rod", 3, 0, 900, 0, 5, 901.5, 1);
  }

  @Test
  void aJointThatIsNotThereIsTold() {
    assertThatThrownBy(() ->
            read(arm(rod("none", WEIGHTS.replace("[0, 0, 0, 0, 1, 1]", "[0, 0, 0, 0, 1, 2]")), "")))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("/arm/rod.primvars:skel:jointIndices")
        .hasMessageContaining("joint 2");
  }

  // ---- what moves by itself, and what is drawn at all

  @ParameterizedTest
  @ValueSource(strings = {"none", "catmullClark"})
  void pointsMoveBetweenTheirSamples(String scheme) throws Exception {
    Scene scene =
        read(
            square(
                    "m",
                    """
                    point3f[] points.timeSamples = {
                        1: [(-1,-1,0), (1,-1,0), (1,1,0), (-1,1,0)],
                        2: [(-1,-1,0), (1,-1,0), (1,1,0), (-1,1,0)],
                        4: [(-1,-1,4), (1,-1,4), (1,1,4), (-1,1,4)] }
                    """)
                .replace("\"none\"", "\"" + scheme + "\""));
    assertBox(scene, "/m", 1, -1, -1, 0, 1, 1, 0);
    assertBox(scene, "/m", 2, -1, -1, 0, 1, 1, 0);
    assertBox(scene, "/m", 3, -1, -1, 2, 1, 1, 2);
    assertBox(scene, "/m", 9, -1, -1, 4, 1, 1, 4);
    assertThat(scene.entities().getFirst().moves()).isTrue();
    assertThat(scene.deformations().get(0).morph().positions())
        .as("equal samples are one shape")
        .hasNumberOfRows(1);
  }

  @Test
  void theSameMeshAtAnotherTimeMovesAtThatTime() throws Exception {
    String moving =
        """
        point3f[] points.timeSamples = {
            1: [(-1,-1,0), (1,-1,0), (1,1,0), (-1,1,0)],
            5: [(-1,-1,4), (1,-1,4), (1,1,4), (-1,1,4)] }
        """;
    Scene scene =
        read(
            "def Xform \"now\" ( references = </_it> ) { }\n"
                + "def Xform \"later\" ( references = </_it> (offset = 10) ) { }\n"
                + "def Xform \"again\" ( references = </_it> ) { }\n"
                + "class \"_it\" {\n"
                + square("m", moving)
                + "}");
    assertBox(scene, "/now/m", 3, -1, -1, 2, 1, 1, 2);
    assertBox(scene, "/later/m", 3, -1, -1, 0, 1, 1, 0);
    assertBox(scene, "/later/m", 13, -1, -1, 2, 1, 1, 2);
    assertThat(scene.entity("/again/m").orElseThrow().payload())
        .isEqualTo(scene.entity("/now/m").orElseThrow().payload());
  }

  @Test
  void visibilityChangesWithTime() throws Exception {
    Scene scene =
        read(
            "def Xform \"g\" {\n token visibility.timeSamples = { 1: \"invisible\", 5: \"inherited\","
                + " 9: \"invisible\" }\n"
                + square("m", "")
                + "def SphereLight \"l\" { }\n}");
    assertThat(paths(scene)).contains("/g/m", "/g/l");
    assertThat(box(scene, "/g/m", 4)).isNull();
    assertBox(scene, "/g/m", 6, -1, -1, 0, 1, 1, 0);
    assertThat(box(scene, "/g/m", 9)).isNull();
    assertThat(scene.entity("/g/m").orElseThrow().moves()).isTrue();
    int light = scene.entity("/g/l").orElseThrow().node();
    assertThat(scene.visible(3 / 24.0)[light]).isFalse();
    assertThat(scene.visible(4 / 24.0)[light]).isTrue();
  }

  @Test
  void proxiesAndGuidesAreNotDrawn() throws Exception {
    Scene scene =
        read(
            square("a", "uniform token purpose = \"render\"")
                + "def Xform \"p\" { uniform token purpose = \"proxy\"\n"
                + square("b", "")
                + "}\n"
                + square("c", "uniform token purpose = \"guide\""));
    assertThat(paths(scene)).containsExactly("/a", "/environment");
    assertThat(scene.unsupported())
        .containsExactly("/p: for proxy; skipped", "/c: for guide; skipped");
  }

  @Test
  void coloursForDisplayColourWhatHasNoMaterial() throws Exception {
    Scene scene =
        read(
            "def Xform \"g\" { color3f[] primvars:displayColor = [(0.2, 0.4, 0.6)]\n"
                + square("m", "float[] primvars:displayOpacity = [0.5]")
                + "}");
    float[] colors = scene.meshes().getFirst().colors();
    assertThat(colors).hasSize(16);
    for (int v = 0; v < 4; v++) {
      assertThat(colors[4 * v]).isEqualTo(0.2f);
      assertThat(colors[4 * v + 2]).isEqualTo(0.6f);
      assertThat(colors[4 * v + 3]).isEqualTo(0.5f);
    }
    assertThat(scene.materials().getFirst().fades()).isTrue();
    assertThat(scene.materials().getFirst().baseColor().r()).isEqualTo(1);
  }

  @ParameterizedTest
  @CsvSource({"Z, 2, 3, 0", "Y, 2, 0, 3", "X, 0, 3, 2"})
  void planesLieAcrossTheirAxis(String axis, double x, double y, double z) throws Exception {
    Scene scene =
        read(
            "def Plane \"p\" { double width = 4\n double length = 6\n uniform token axis = \"%s\" }"
                .formatted(axis));
    assertBox(scene, "/p", 1, -x, -y, -z, x, y, z);
  }

  @Test
  void bodiesHaveTheirColoursToo() throws Exception {
    Scene scene =
        read(
            """
            def Sphere "a" { color3f[] primvars:displayColor = [(0.1, 0.2, 0.3)] }
            def Sphere "b" { color3f[] primvars:displayColor = [(0.1, 0.2, 0.3)] }
            def Sphere "c" { }
            """);
    assertThat(scene.meshes().getFirst().colors()).startsWith(0.1f, 0.2f, 0.3f, 1);
    assertThat(scene.meshes()).as("of one kind and of another").hasSize(2);
    assertThat(scene.meshes().getLast().colors()).isNull();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "rel material:binding = </paint>",
        "def GeomSubset \"all\" { int[] indices = [0]\n rel material:binding = </paint>\n }"
      })
  void coordinatesAreThoseThatTheMaterialReads(String binding) throws Exception {
    Scene scene =
        read(
            """
            def Material "paint"
            {
                token outputs:surface.connect = </paint/s.outputs:surface>
                string inputs:set = "map1"
                def Shader "s"
                {
                    uniform token info:id = "UsdPreviewSurface"
                    color3f inputs:diffuseColor.connect = </paint/t.outputs:rgb>
                    token outputs:surface
                }
                def Shader "t"
                {
                    uniform token info:id = "UsdUVTexture"
                    asset inputs:file = @none.png@
                    float2 inputs:st.connect = </paint/r.outputs:result>
                    float3 outputs:rgb
                }
                def Shader "r"
                {
                    uniform token info:id = "UsdPrimvarReader_float2"
                    string inputs:varname.connect = </paint.inputs:set>
                    float2 outputs:result
                }
            }
            """
                + square(
                    "m",
                    """
                    texCoord2f[] primvars:st = [(0,0), (0,0), (0,0), (0,0)] (
                        interpolation = "vertex" )
                    texCoord2f[] primvars:map1 = [(0.5,1), (1,1), (1,0), (0,0)] (
                        interpolation = "vertex" )
                    """
                        + binding));
    assertThat(scene.meshes().getFirst().uvs()).startsWith(0.5f, 0, 1, 0);
  }

  @Test
  void creasesHolesAndPeaksComeWithTheCage() throws Exception {
    String mesh =
        """
        def Mesh "m"
        {
            int[] faceVertexCounts = [4, 4]
            int[] faceVertexIndices = [0, 1, 2, 3, 1, 4, 5, 2]
            point3f[] points = [(0,0,0), (2,0,0), (2,0,1), (0,0,1), (4,0,0), (4,0,1)]
            int[] holeIndices = [1]
            int[] creaseLengths = [3, 2]
            int[] creaseIndices = [0, 1, 4, 2, 5]
            float[] creaseSharpnesses = [10, 2.5]
            int[] cornerIndices = [2]
            float[] cornerSharpnesses = [10]
            uniform token interpolateBoundary = "edgeOnly"
        }
        """;
    var cage = read(mesh).meshes().getFirst().cage();
    assertThat(cage.materials()).containsExactly(0, Cage.HOLE);
    assertThat(cage.creases().ends()).containsExactly(0, 1, 1, 4, 2, 5);
    assertThat(cage.creases().sharpness()).containsExactly(10, 10, 2.5f);
    assertThat(cage.peaks().points()).containsExactly(2);
    assertThat(cage.boundary()).isEqualTo(Cage.Boundary.SMOOTH);
    assertThatThrownBy(() -> read(mesh.replace("[0, 1, 4, 2, 5]", "[0, 1, 4, 2, 6]")))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("/m.creaseIndices");
  }
}

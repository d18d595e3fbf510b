package org.wedgecutter.core.scene.usd;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.awt.image.BufferedImage;
import java.nio.file.Path;
import java.util.List;
import javax.imageio.ImageIO;
import org.joml.Vector3f;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Scene;

/** Meshes, transform operations, textures and shapes of lights of OpenUSD text. */
class UsdShapesTest {
  private static Scene read(String prims) throws InputException {
    return read(prims, Path.of("t.usda"));
  }

  private static Scene read(String prims, Path file) throws InputException {
    return UsdReader.parse("#usda 1.0\n(\n metersPerUnit = 1\n)\n" + prims, file);
  }

  private static Mesh quad(String more) throws InputException {
    return read("""
    def Mesh "m"
    {
        uniform token subdivisionScheme = "none"
        int[] faceVertexCounts = [4]
        int[] faceVertexIndices = [0, 1, 2, 3]
        point3f[] points = [(0,0,0), (1,0,0), (1,1,0), (0,1,0)]
    """
            + more
            + "\n}")
        .meshes()
        .getFirst();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "vertex | (0,0,1),(0,1,0),(1,0,0),(0,0,1) | 0,1,0",
        "faceVarying | (0,0,1),(0,1,0),(1,0,0),(0,0,1) | 0,1,0",
        "uniform | (0,1,0) | 0,1,0",
        "constant | (1,0,0) | 1,0,0"
      })
  void normalsAreSpreadByTheirInterpolation(String how, String values, String second)
      throws Exception {
    Mesh mesh =
        quad("normal3f[] normals = [%s] (\n interpolation = \"%s\"\n)".formatted(values, how));
    String[] expected = second.split(",");
    for (int c = 0; c < 3; c++) {
      assertThat(mesh.normals()[3 + c]).isEqualTo(Float.parseFloat(expected[c]));
    }
  }

  @Test
  void indexedPrimvarsArePicked() throws Exception {
    Mesh mesh =
        quad(
            """
            texCoord2f[] primvars:st = [(0.25, 0.5), (0.75, 1)] ( interpolation = "vertex" )
            int[] primvars:st:indices = [0, 1, 1, 0]
            """);
    assertThat(mesh.uvs()).containsExactly(0.25f, 0.5f, 0.75f, 0, 0.75f, 0, 0.25f, 0.5f);
  }

  @Test
  void tooFewValuesAreToldWithTheirPlace() {
    assertThatThrownBy(
            () -> quad("texCoord2f[] primvars:st = [(0,0)] ( interpolation = \"vertex\" )"))
        .isInstanceOf(InputException.class)
        .hasMessageContaining("/m.primvars:st")
        .hasMessageContaining("too few");
  }

  @Test
  void leftHandedFacesAreTurnedRound() throws Exception {
    Mesh right = quad("");
    Mesh left = quad("uniform token orientation = \"leftHanded\"");
    assertThat(right.positions()).containsExactly(0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0);
    assertThat(left.positions()).containsExactly(0, 0, 0, 0, 1, 0, 1, 1, 0, 1, 0, 0);
    assertThat(left.indices()).isEqualTo(right.indices());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "rotateX | 90 | 0,0,1",
        "rotateY | 90 | 0,1,0",
        "rotateZ | 90 | -1,0,0",
        "rotateXYZ | (90, 0, 90) | 0,0,1",
        "rotateZYX | (90, 0, 90) | -1,0,0",
        "scale | (2, 3, 4) | 0,3,0",
        "translate | (5, 6, 7) | 5,7,7",
        "orient | (0.7071068, 0.7071068, 0, 0) | 0,0,1"
      })
  void everyOperationMovesAPointAsItShould(String op, String value, String expected)
      throws Exception {
    Scene scene =
        read(
            """
            def Xform "x"
            {
                float3 xformOp:%s = %s
                uniform token[] xformOpOrder = ["xformOp:%s"]
            }
            """
                .formatted(op, value, op));
    // where (0, 1, 0) goes
    Vector3f at = scene.pose(0)[0].transformPosition(new Vector3f(0, 1, 0));
    String[] e = expected.split(",");
    assertThat(at.distance(Float.parseFloat(e[0]), Float.parseFloat(e[1]), Float.parseFloat(e[2])))
        .as("%s", at)
        .isLessThan(1e-5f);
  }

  @Test
  void theFirstOperationIsTheOutermostAndAPivotIsTakenBack() throws Exception {
    Scene scene =
        read(
            """
            def Xform "x"
            {
                double3 xformOp:translate:pivot = (1, 0, 0)
                float xformOp:rotateZ = 180
                uniform token[] xformOpOrder = ["xformOp:translate:pivot", "xformOp:rotateZ", "!invert!xformOp:translate:pivot"]
            }
            """);
    Vector3f at = scene.pose(0)[0].transformPosition(new Vector3f(0, 0, 0));
    assertThat(at.distance(2, 0, 0)).isLessThan(1e-5f);
  }

  @Test
  void shearIsLostAndTold() throws Exception {
    Scene scene =
        read(
            """
            def Xform "x"
            {
                matrix4d xformOp:transform = ((1,0,0,0),(1,1,0,0),(0,0,1,0),(0,0,0,1))
                uniform token[] xformOpOrder = ["xformOp:transform"]
            }
            """);
    assertThat(scene.unsupported()).containsExactly("/x: shear in its transform");
  }

  @Test
  void whatIsInvisibleIsLeftOutWithAllBelow() throws Exception {
    Scene scene =
        read(
            """
            def Xform "x"
            {
                token visibility = "invisible"
                def SphereLight "light" { float inputs:radius = 1 }
            }
            """);
    assertThat(scene.entities()).hasSize(1);
    assertThat(scene.unsupported()).containsExactly("/x: invisible; skipped");
  }

  @ParameterizedTest
  @CsvSource({
    "SphereLight, SPHERE, 2, 12.566",
    "DiskLight, DISC, 2, 3.1416",
    "RectLight, RECTANGLE, 2, 2"
  })
  void lightsHaveTheAreaOfTheirShape(String type, Light.Type kind, float width, double area)
      throws Exception {
    Light light =
        read("""
        def %s "l"
        {
            float inputs:radius = 1
            float inputs:width = 2
            float inputs:height = 1
            float inputs:intensity = 5
            bool inputs:normalize = true
        }
        """
                .formatted(type))
            .lights()
            .getFirst();
    assertThat(light.type()).isEqualTo(kind);
    assertThat(light.width()).isEqualTo(width);
    assertThat((double) light.intensity().r()).isCloseTo(5 / area, within(1e-4));
  }

  @Test
  void aCylinderOfLightShinesFromItsSide() throws Exception {
    Scene scene =
        read(
            """
            def CylinderLight "l"
            {
                float inputs:radius = 0.5
                float inputs:length = 3
                float inputs:intensity = 2
            }
            """);
    assertThat(scene.emits(scene.entities().getFirst())).isTrue();
    Mesh mesh = scene.meshes().getFirst();
    double sum = 0;
    for (int t = 0; t < mesh.triangles(); t++) {
      Vector3f a = corner(mesh, 3 * t);
      Vector3f b = corner(mesh, 3 * t + 1).sub(a);
      Vector3f c = corner(mesh, 3 * t + 2).sub(a);
      sum += b.cross(c).length() / 2;
      assertThat(Math.abs(a.x)).as("along x").isEqualTo(1.5f);
    }
    assertThat(sum).isCloseTo(3 * Math.PI, within(0.01));
  }

  private static Vector3f corner(Mesh mesh, int at) {
    int i = 3 * mesh.indices()[at];
    float[] p = mesh.positions();
    return new Vector3f(p[i], p[i + 1], p[i + 2]);
  }

  @Test
  void aTextureIsReadBesideTheStageAndNowhereElse(@TempDir Path dir) throws Exception {
    BufferedImage image = new BufferedImage(2, 2, BufferedImage.TYPE_INT_RGB);
    image.setRGB(0, 0, 0xff8000);
    ImageIO.write(image, "png", dir.resolve("wood.png").toFile());
    String stage =
        """
        def Mesh "m"
        {
            int[] faceVertexCounts = [3]
            int[] faceVertexIndices = [0, 1, 2]
            point3f[] points = [(0,0,0), (1,0,0), (1,1,0)]
            rel material:binding = </wood>
        }
        def Material "wood"
        {
            token outputs:surface.connect = </wood/s.outputs:surface>
            def Shader "s"
            {
                uniform token info:id = "UsdPreviewSurface"
                color3f inputs:diffuseColor.connect = </wood/t.outputs:rgb>
                token outputs:surface
            }
            def Shader "t"
            {
                uniform token info:id = "UsdUVTexture"
                asset inputs:file = @wood.png@
                token inputs:wrapS = "clamp"
                float3 outputs:rgb
            }
        }
        """;
    Scene scene = read(stage, dir.resolve("t.usda"));
    assertThat(scene.images()).hasSize(1);
    assertThat(scene.images().getFirst().width()).isEqualTo(2);
    var texture = scene.material("wood").orElseThrow().baseColorTexture();
    assertThat(texture).isNotNull();
    assertThat(texture.repeatU()).isFalse();
    for (String other : List.of("../wood.png", "gone.png", "/etc/hostname")) {
      Scene without = read(stage.replace("wood.png", other), dir.resolve("t.usda"));
      assertThat(without.images()).isEmpty();
      assertThat(without.missing()).anyMatch(n -> n.contains(other));
    }
  }

  @Test
  void classesVariantsAndRemarksDoNotDisturb() throws Exception {
    Scene scene =
        read(
            """
            class "_base" { double x = 1 }
            def Xform "x" ( variants = { string look = "a" } prepend variantSets = "look" )
            {
                custom string note = "a { brace \\" and a quote"
                dictionary extra = { int a = 1; string b = "c" }
                variantSet "look" = { "a" { def Xform "inner" { } } "b" { } }
                # a remark with { braces
                string long = \"\"\"over
            several lines\"\"\"
                def Camera "eye" { float focalLength = 50; float verticalAperture = 20 }
            }
            """);
    assertThat(scene.cameras()).hasSize(1);
    assertThat(scene.nodes().stream().map(n -> n.path())).contains("/x/inner");
    assertThat(scene.variants()).containsExactly("/x{look=a}", "/x{look=b}");
    assertThat(scene.unsupported()).isEmpty();
  }

  /** By the divergence theorem: the volume within outward faces, and how far the body reaches. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "Cube |  | 8 | 1,1,1",
        "Cube | double size = 0.5 | 0.125 | 0.25,0.25,0.25",
        "Sphere |  | 4.18879 | 1,1,1",
        "Cylinder | double height = 3 | 9.42478 | 1,1,1.5",
        "Cylinder | double radius = 2; uniform token axis = \"X\" | 25.13274 | 1,2,2",
        "Cone |  | 2.094395 | 1,1,1",
        "Cone | uniform token axis = \"Y\" ; double height = 6 | 6.283185 | 1,3,1",
        "Capsule |  | 1.308997 | 0.5,0.5,1"
      })
  void bodiesHaveTheirVolumeAndTheirNormalsPointOutwards(
      String type, String with, double volume, String reach) throws Exception {
    String line = with == null ? "" : with;
    Scene scene = read("def %s \"it\" { %s \n}\n".formatted(type, line));
    Mesh mesh = scene.meshes().getFirst();
    float[] p = mesh.positions();
    float[] n = mesh.normals();
    double sum = 0;
    for (int t = 0; t < mesh.triangles(); t++) {
      Vector3f[] at = new Vector3f[3];
      Vector3f normal = new Vector3f();
      for (int k = 0; k < 3; k++) {
        int v = 3 * mesh.indices()[3 * t + k];
        at[k] = new Vector3f(p[v], p[v + 1], p[v + 2]);
        normal.add(n[v], n[v + 1], n[v + 2]);
      }
      Vector3f face = at[1].sub(at[0], new Vector3f()).cross(at[2].sub(at[0], new Vector3f()));
      assertThat(face.dot(normal)).as("triangle %d", t).isPositive();
      sum += at[0].dot(at[1].cross(at[2], new Vector3f())) / 6;
    }
    assertThat(sum).isCloseTo(volume, within(0.006 * volume));
    String[] far = reach.split(",");
    for (int axis = 0; axis < 3; axis++) {
      float most = 0;
      for (int v = axis; v < p.length; v += 3) {
        most = Math.max(most, Math.abs(p[v]));
      }
      assertThat((double) most).isCloseTo(Double.parseDouble(far[axis]), within(1e-6));
    }
  }
}

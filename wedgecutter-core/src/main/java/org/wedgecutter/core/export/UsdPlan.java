package org.wedgecutter.core.export;

import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.joml.Matrix4f;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.pass.LightPass;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.LayerSettings;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.SceneCamera;

/**
 * A plan as OpenUSD text, by the open schemas of UsdRender and UsdCollectionAPI.
 *
 * <p>Every collection of the plan is a collection of the prim {@code /Cut}. Every layer is a
 * RenderPass with four collections: {@code renderVisibility} (all that is not Absent), {@code
 * cameraVisibility} (all that the camera does not look through), {@code prune} (what is Absent),
 * and {@code matte} (what is Holdout or Catcher). What the schema has no word for stands in custom
 * attributes under {@code wedgecutter:}. Paths are those of the scene, so that the layer can be put
 * over it; the scene itself is not copied.
 */
public final class UsdPlan {
  private final StringBuilder out = new StringBuilder();
  private final LoadedShot loaded;
  private final Plan plan;
  private final Shot shot;
  private final Scene scene;

  /** Where an instance begins in a path: the standard's names do not begin with digits. */
  private static final Pattern INSTANCE = Pattern.compile("/\\d+/");

  private final Map<String, String> safePaths = new LinkedHashMap<>();

  /** How many entities a prim stands for. */
  private final Map<String, Integer> entitiesOf = new HashMap<>();

  private final boolean isStage;

  private UsdPlan(LoadedShot loaded) {
    this.loaded = loaded;
    plan = loaded.plan();
    shot = plan.requireShot();
    scene = loaded.scene();
    isStage = scene.file().toString().toLowerCase(Locale.ROOT).matches(".*\\.usd[acz]?");
  }

  /** Returns the text. */
  public static String text(LoadedShot shot) {
    return new UsdPlan(shot).write();
  }

  private String write() {
    Set<String> taken = new HashSet<>();
    for (Entity e : scene.entities()) {
      String path = safePath(e.path());
      for (int k = 2; !taken.add(path); k++) {
        path = safePath(e.path()) + "_" + k;
      }
      safePaths.put(e.path(), path);
    }
    for (Entity e : scene.entities()) {
      entitiesOf.merge(prim(e), 1, Integer::sum);
    }
    ResolvedShot resolved = loaded.resolve(shot.frames().first());
    line(0, "#usda 1.0");
    line(0, "(");
    line(1, "defaultPrim = \"Cut\"");
    line(1, "startTimeCode = %d", shot.frames().first());
    line(1, "endTimeCode = %d", shot.frames().last());
    line(1, "timeCodesPerSecond = %s", number(shot.fps()));
    line(1, "metersPerUnit = 1");
    line(1, "upAxis = \"Y\"");
    line(0, ")");
    line(0, "");
    collections();
    line(0, "");
    line(0, "def Scope \"Render\"");
    line(0, "{");
    vars();
    if (shot.placed() != null) {
      camera(loaded.camera());
    }
    Set<String> names = new HashSet<>();
    for (int l = 0; l < plan.layers().size(); l++) {
      String name = safe(plan.layers().get(l).name());
      for (int k = 2; !names.add(name); k++) {
        name = safe(plan.layers().get(l).name()) + "_" + k;
      }
      settings(name, plan.layers().get(l));
      pass(name, plan.layers().get(l), resolved.layers().get(l));
    }
    line(0, "}");
    return out.toString();
  }

  private void collections() {
    StringBuilder apis = new StringBuilder();
    for (CollectionDef c : plan.collections()) {
      apis.append(apis.isEmpty() ? "" : ", ")
          .append("\"CollectionAPI:")
          .append(safe(c.name()))
          .append('"');
    }
    line(0, "def Scope \"Cut\" (");
    line(1, "prepend apiSchemas = [%s]", apis);
    line(0, ")");
    line(0, "{");
    for (CollectionDef c : plan.collections()) {
      line(1, "uniform token collection:%s:expansionRule = \"explicitOnly\"", safe(c.name()));
      line(
          1,
          "custom string wedgecutter:rule:%s = \"%s\"",
          safe(c.name()),
          Quoting.usd(c.rule().text()));
      targets("collection:%s:includes".formatted(safe(c.name())), loaded.members().of(c));
    }
    line(0, "}");
  }

  private String cameraPath(SceneCamera camera) {
    return camera.node() < 0 ? "/Render/Camera" : safePath(scene.nodes().get(camera.node()).path());
  }

  /** A camera of the plan's own; apertures and focal length are in tenths of a scene unit. */
  private void camera(SceneCamera camera) {
    double height = camera.lens().sensor() * 10;
    float[] m = camera.in(new Matrix4f[0]).get(new float[16]);
    StringBuilder rows = new StringBuilder();
    for (int r = 0; r < 4; r++) {
      rows.append(r == 0 ? "" : ", ")
          .append(
              "(%s, %s, %s, %s)"
                  .formatted(
                      number(m[4 * r]),
                      number(m[4 * r + 1]),
                      number(m[4 * r + 2]),
                      number(m[4 * r + 3])));
    }
    line(1, "def Camera \"Camera\"");
    line(1, "{");
    line(2, "float focalLength = %s", number(camera.focalLength() * 10));
    line(2, "float horizontalAperture = %s", number(height * shot.width() / shot.height()));
    line(2, "float verticalAperture = %s", number(height));
    line(2, "float horizontalApertureOffset = %s", number(camera.projection().right() * height));
    line(2, "float verticalApertureOffset = %s", number(camera.projection().up() * height));
    if (camera.projection().isBent()) {
      // the format has no distortion of its own: kept as custom numbers
      line(2, "custom double wedgecutter:k1 = %s", number(camera.projection().k1()));
      line(2, "custom double wedgecutter:k2 = %s", number(camera.projection().k2()));
    }
    line(2, "matrix4d xformOp:transform = (%s)", rows);
    line(2, "uniform token[] xformOpOrder = [\"xformOp:transform\"]");
    line(1, "}");
  }

  private void vars() {
    line(1, "def Scope \"Vars\"");
    line(1, "{");
    var("beauty", "color4f", "rgba");
    if (plan.output().passes()) {
      for (LightPass.Named pass : LightPass.PASSES) {
        var(pass.name(), "color3f", pass.name());
      }
    }
    line(1, "}");
  }

  private void var(String name, String type, String source) {
    line(2, "def RenderVar \"%s\"", safe(name));
    line(2, "{");
    line(3, "uniform token dataType = \"%s\"", type);
    line(3, "uniform string sourceName = \"%s\"", Quoting.usd(source));
    line(2, "}");
  }

  private void settings(String name, LayerDef layer) {
    Value.Size size =
        (Value.Size) LayerSettings.at(layer, shot, Property.SIZE, shot.frames().first());
    FileNames names =
        new FileNames(plan.output().name(), loaded.name(), loaded.camera().name(), "1");
    line(1, "def RenderSettings \"%s_settings\"", name);
    line(1, "{");
    line(2, "uniform int2 resolution = (%d, %d)", size.width(), size.height());
    line(2, "rel camera = <%s>", cameraPath(loaded.camera()));
    line(2, "rel products = </Render/%s_settings/product>", name);
    line(2, "def RenderProduct \"product\"");
    line(2, "{");
    line(
        3,
        "token productName = \"%s\"",
        Quoting.usd(names.name(layer.name(), shot.frames().first(), "exr")));
    StringBuilder vars = new StringBuilder("</Render/Vars/beauty>");
    if (plan.output().passes()) {
      for (LightPass.Named pass : LightPass.PASSES) {
        vars.append(", </Render/Vars/").append(safe(pass.name())).append('>');
      }
    }
    line(3, "rel orderedVars = [%s]", vars);
    line(2, "}");
    line(1, "}");
  }

  private void pass(String name, LayerDef def, ResolvedLayer layer) {
    EntitySet absent = layer.decisions().of(Role.ABSENT);
    EntitySet there = loaded.resolve(shot.frames().first()).all().minus(absent);
    EntitySet seenByCamera = there.minus(layer.decisions().of(Role.UNSEEN));
    EntitySet matte = layer.decisions().of(Role.HOLDOUT).or(layer.decisions().of(Role.CATCHER));
    line(1, "def RenderPass \"%s\" (", name);
    line(
        2,
        "prepend apiSchemas = [\"CollectionAPI:renderVisibility\", \"CollectionAPI:cameraVisibility\", \"CollectionAPI:prune\", \"CollectionAPI:matte\"]");
    line(1, ")");
    line(1, "{");
    line(2, "uniform token passType = \"%s\"", layer.catcher() == null ? "layer" : "catcher");
    line(2, "rel renderSource = </Render/%s_settings>", name);
    line(2, "custom string wedgecutter:layer = \"%s\"", Quoting.usd(def.name()));
    line(2, "custom bool wedgecutter:render = %s", def.render());
    line(
        2,
        "custom token wedgecutter:join = \"%s\"",
        plan.join(def.name()).map(j -> j.word()).orElse("none"));
    collection("renderVisibility", there);
    collection("cameraVisibility", seenByCamera);
    collection("prune", absent);
    collection("matte", matte);
    line(1, "}");
  }

  private void collection(String name, EntitySet entities) {
    line(2, "uniform bool collection:%s:includeRoot = 0", name);
    line(2, "uniform token collection:%s:expansionRule = \"explicitOnly\"", name);
    out.append("  ");
    targets("collection:%s:includes".formatted(name), entities);
  }

  /**
   * Writes what a relationship leads to. The environment is no prim of the scene; it is left out.
   * Instances of an instancer are none either: the instancer stands for them, and where not all of
   * them are meant, that is said.
   */
  private void targets(String relationship, EntitySet entities) {
    Map<String, Integer> prims = new LinkedHashMap<>();
    for (int e : entities.indices()) {
      Entity entity = scene.entities().get(e);
      if (entity.kind() != EntityKind.ENVIRONMENT) {
        prims.merge(prim(entity), 1, Integer::sum);
      }
    }
    line(1, "rel %s = [%s]", relationship, paths(prims.keySet()));
    List<String> partly =
        prims.keySet().stream()
            .filter(p -> prims.getOrDefault(p, 0) < entitiesOf.getOrDefault(p, 0))
            .toList();
    if (!partly.isEmpty()) {
      line(1, "custom rel wedgecutter:partly:%s = [%s]", relationship, paths(partly));
    }
  }

  private static String paths(Collection<String> prims) {
    return prims.stream().map(p -> "<" + p + ">").collect(Collectors.joining(", "));
  }

  /** The path of an entity's prim: its own, or that of the outermost instancer that it is of. */
  private String prim(Entity entity) {
    Matcher instance = INSTANCE.matcher(entity.path());
    return isStage && instance.find()
        ? safePath(entity.path().substring(0, instance.start()))
        : safePaths.getOrDefault(entity.path(), "");
  }

  private void line(int indent, String text, Object... values) {
    out.append("  ".repeat(indent))
        .append(values.length == 0 ? text : text.formatted(values))
        .append('\n');
  }

  private static String number(double x) {
    return x == Math.rint(x) ? String.valueOf((long) x) : String.valueOf(x);
  }

  /** A name that the form allows: letters, digits and underscores, not beginning with a digit. */
  static String safe(String name) {
    String safe = name.replaceAll("[^\\p{Alnum}_]", "_");
    return safe.isEmpty() || Character.isDigit(safe.charAt(0)) ? "_" + safe : safe;
  }

  private static String safePath(String path) {
    StringBuilder safe = new StringBuilder();
    for (String part : List.of(path.substring(1).split("/"))) {
      safe.append('/').append(safe(part));
    }
    return safe.toString();
  }
}

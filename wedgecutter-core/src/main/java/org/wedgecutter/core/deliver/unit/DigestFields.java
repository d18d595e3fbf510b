package org.wedgecutter.core.deliver.unit;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.image.Region;
import org.wedgecutter.core.image.TextureImage;
import org.wedgecutter.core.plan.Bounces;
import org.wedgecutter.core.plan.CatcherTuning;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.AppearanceOverride;
import org.wedgecutter.core.resolve.CatcherSpec;
import org.wedgecutter.core.resolve.ResolvedShot;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.scene.Cage;
import org.wedgecutter.core.scene.Deformation;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Mesh;
import org.wedgecutter.core.scene.Projection;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.SceneCamera;
import org.wedgecutter.core.scene.TextureRef;
import org.wedgecutter.core.trace.Environment;

/**
 * The fields of each sort of value that count in a unit's digest, one after another: those that
 * change a pixel or what is written. Names count only where they are written (materials, in ID
 * mattes). A new field is added here or, in the test of this table, to those that change nothing.
 */
final class DigestFields {
  private DigestFields() {}

  /** A mesh without a cage tells nothing of one, so that what was rendered before stays valid. */
  private static List<@Nullable Object> mesh(Mesh m) {
    List<@Nullable Object> out =
        new ArrayList<>(
            list(
                "mesh",
                m.positions(),
                m.normals(),
                m.uvs(),
                m.colors(),
                m.indices(),
                m.triangleMaterials()));
    if (m.cage() != null) {
      out.add(m.cage());
    }
    return out;
  }

  /**
   * Returns the fields of a value that count, after a word for its sort.
   *
   * @throws IllegalArgumentException for a sort that is not in the table
   */
  static List<@Nullable Object> of(Record value) {
    return switch (value) {
      case Mesh m -> mesh(m);
      case Cage c ->
          list(
              "cage",
              c.levels(),
              c.points(),
              c.counts(),
              c.corners(),
              c.materials(),
              c.creases(),
              c.peaks(),
              c.boundary(),
              c.uvs(),
              c.colors());
      case Cage.Creases c -> list("creases", c.ends(), c.sharpness());
      case Cage.Peaks c -> list("peaks", c.points(), c.sharpness());
      case Cage.Values v -> list("values", v.size(), v.values(), v.corners(), v.seams());
      case Material m ->
          list(
              "material",
              m.name(),
              m.baseColor(),
              m.baseColorTexture(),
              m.opacity(),
              m.cutoff(),
              m.fades(),
              m.metallic(),
              m.roughness(),
              m.metallicRoughnessTexture(),
              m.dielectric(),
              m.normalTexture(),
              m.normalScale(),
              m.emission(),
              m.emissionTexture(),
              m.glass(),
              m.coat(),
              m.sheen(),
              m.unlit());
      case Material.Coat c ->
          list("coat", c.strength(), c.strengthTexture(), c.roughness(), c.roughnessTexture());
      case Material.Dielectric d ->
          list(
              "dielectric",
              d.specular(),
              d.specularTexture(),
              d.color(),
              d.colorTexture(),
              d.ior());
      case Material.Glass g ->
          list(
              "glass",
              g.transmission(),
              g.transmissionTexture(),
              g.thick(),
              g.attenuation(),
              g.distance());
      case Material.Sheen s -> list("sheen", s.color(), s.colorTexture(), s.roughness());
      case TextureRef.Placing p -> list("placing", p.uu(), p.uv(), p.u(), p.vu(), p.vv(), p.v());
      case TextureImage i -> list("image", i.width(), i.height(), i.rgba());
      case Picture p -> list("picture", p.width(), p.height(), p.rgba());
      case Light l ->
          list(
              "light",
              l.type(),
              l.intensity(),
              l.innerCone(),
              l.outerCone(),
              l.width(),
              l.height());
      case Medium m ->
          list(
              "medium",
              m.everywhere(),
              m.density(),
              m.color(),
              m.anisotropy(),
              m.emission(),
              m.falloff(),
              m.base(),
              m.puff());
      case Medium.Puff p ->
          list(
              "puff",
              p.cells(),
              p.octaves(),
              p.threshold(),
              p.foot(),
              p.head(),
              p.sway(),
              p.rise(),
              p.seed());
      case Rgb c -> list("rgb", c.r(), c.g(), c.b());
      case Deformation d -> list("deformation", d.morph(), d.skin());
      case Deformation.Morph m -> list("morph", m.positions(), m.normals());
      case Deformation.Skin s ->
          s.influences() == 4
              ? list("skin", s.nodes(), s.inverseBind(), s.joints(), s.weights())
              : list("skin", s.nodes(), s.inverseBind(), s.influences(), s.joints(), s.weights());
      case Environment e -> list("environment", e.image(), e.rotation(), e.level());
      // where it stands is in the digest of the time
      case SceneCamera c ->
          // none counts as nothing, so that files from before there were any are not stale
          c.projection().equals(Projection.NONE)
              ? list("camera", c.verticalView(), c.lens())
              : list("camera", c.verticalView(), c.lens(), c.projection());
      case Projection p -> list("projection", p.right(), p.up(), p.k1(), p.k2());
      case SceneCamera.Lens l -> list("lens", l.sensor(), l.fStop(), l.focus());
      case Region r -> list("region", r.x(), r.y(), r.width(), r.height());
      case Bounces b -> list("bounces", b.surfaces(), b.glass(), b.media());
      case TraceSettings s ->
          list(
              "settings",
              s.bounces(),
              s.seed(),
              s.clamp(),
              s.soften(),
              s.samples(),
              s.across(),
              s.down(),
              s.turn(),
              s.level(),
              s.seeThrough(),
              s.blur());
      case CatcherSpec c ->
          list(
              "catcher",
              c.surfaces(),
              c.casters(),
              c.without(),
              c.output(),
              c.tuning(),
              c.lights());
      case CatcherTuning t -> {
        List<@Nullable Object> own =
            new ArrayList<>(list("tuning", t.opacity(), t.tint(), t.reflection(), t.reach()));
        // files from before there were backgrounds stay what they are
        if (!t.backgrounds().isEmpty()) {
          own.add(t.backgrounds());
        }
        yield own;
      }
      case CatcherTuning.Place p -> list("place", p.x(), p.y(), p.z());
      case CatcherTuning.Reach r ->
          list("reach", r.centre(), r.across(), r.along(), r.turn(), r.soft());
      case AppearanceOverride.Change c -> list("change", c.property(), c.verb(), c.value());
      case Value.Switch v -> list("switch", v.on());
      case Value.Num v -> list("number", v.number());
      case Value.Colour v -> list("colour", v.r(), v.g(), v.b());
      case Value.Text v -> list("text", v.word());
      case Value.Size v -> list("size", v.width(), v.height());
      case ResolvedShot.Group g -> list("group", g.name(), g.entities());
      default ->
          throw new IllegalArgumentException(
              "no fields are listed for %s".formatted(value.getClass().getName()));
    };
  }

  private static List<@Nullable Object> list(@Nullable Object... parts) {
    return new ArrayList<>(Arrays.asList(parts));
  }
}

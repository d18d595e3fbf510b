package org.wedgecutter.core.cut;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.CollectionDef;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.AppearanceOverride;
import org.wedgecutter.core.resolve.Members;
import org.wedgecutter.core.resolve.Subjects;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.scene.Material;
import org.wedgecutter.core.scene.Medium;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.Scene;

/**
 * What an entity is to a layer at a frame, and what decided it.
 *
 * @param role its role
 * @param by the row that decided the role; "the rest" if none
 * @param rows every row that matches the entity, from the top, and its cell
 * @param properties every property that the entity has
 */
public record Explanation(Role role, String by, List<RowSays> rows, List<PropertySays> properties) {
  public Explanation {
    rows = List.copyOf(rows);
    properties = List.copyOf(properties);
  }

  /**
   * A row that matches the entity.
   *
   * @param row name of the collection, or "the rest"
   * @param why how it matches: by its rule, or picked
   * @param role the role that its cell gives; null leaves it to rows below
   */
  public record RowSays(String row, String why, @Nullable Role role) {}

  /**
   * A property.
   *
   * @param property which
   * @param before its value in the scene, in words; empty where there is no single one
   * @param after its value in the layer
   * @param by the row whose override decided; null if it is as in the scene
   * @param override that override; null if there is none
   */
  public record PropertySays(
      Property property,
      String before,
      String after,
      @Nullable String by,
      @Nullable CellOverride override) {}

  /** Explains an entity in a layer. */
  public static Explanation of(
      Plan plan, Members members, LayerDef layer, Entity entity, int frame) {
    List<RowSays> rows = new ArrayList<>();
    Role role = null;
    String by = "the rest";
    for (CollectionDef c : plan.collections()) {
      if (members.of(c).contains(entity.index())) {
        Role own = layer.cell(c.name()).role();
        rows.add(new RowSays(c.name(), why(c, entity), own));
        if (role == null && own != null) {
          role = own;
          by = c.name();
        }
      }
    }
    rows.add(new RowSays("the rest", "everything that no row decides", layer.rest().role()));
    if (role == null) {
      role = layer.rest().role() == null ? Role.HOLDOUT : layer.rest().role();
    }
    List<PropertySays> properties = new ArrayList<>();
    for (Property property : Property.values()) {
      if (Subjects.has(members.scene(), entity, property)) {
        properties.add(property(plan, members, layer, entity, frame, property));
      }
    }
    for (PropertySays p : properties) {
      if (p.property == Property.VISIBLE_CAMERA
          && p.after.equals("off")
          && p.by != null
          && role != Role.ABSENT) {
        role = Role.UNSEEN;
        by = p.by;
      }
    }
    return new Explanation(role, by, rows, properties);
  }

  private static String why(CollectionDef c, Entity entity) {
    return c.added().contains(entity.path()) && !c.rule().matches(entity)
        ? "picked"
        : c.rule().text();
  }

  private static PropertySays property(
      Plan plan, Members members, LayerDef layer, Entity entity, int frame, Property property) {
    Scene scene = members.scene();
    // what changes over time has a value at the frame
    Value before =
        property.subject() == Property.Subject.MEDIUM
            ? matter(
                scene.media().get(entity.payload()).at(plan.requireShot().time(frame)), property)
            : before(scene, entity, property);
    String row = null;
    CellOverride found = null;
    for (CollectionDef c : plan.collections()) {
      if (found == null && members.of(c).contains(entity.index())) {
        found = find(layer.cell(c.name()).overrides(), property);
        row = found == null ? row : c.name();
      }
    }
    if (found == null) {
      found = find(layer.rest().overrides(), property);
      row = found == null ? row : "the rest";
    }
    String was = before == null ? "" : before.text();
    if (found == null) {
      return new PropertySays(property, was, was, null, null);
    }
    Value by = found.at(frame);
    String after =
        before == null
            ? found.verb() == Property.Verb.SET ? by.text() : found.verb().word() + " " + by.text()
            : Value.apply(property, found.verb(), before, by).text();
    return new PropertySays(property, was, after, row, found);
  }

  private static @Nullable CellOverride find(List<CellOverride> list, Property property) {
    return list.stream().filter(o -> o.on() && o.property() == property).findFirst().orElse(null);
  }

  /** Returns the value that a property has in the scene; null where it has no single one. */
  public static @Nullable Value before(Scene scene, Entity entity, Property property) {
    return switch (property.sort()) {
      case SWITCH -> new Value.Switch(true);
      case MATERIAL ->
          entity.materials().size() == 1 ? new Value.Text(entity.materials().getFirst()) : null;
      default -> number(scene, entity, property);
    };
  }

  private static @Nullable Value number(Scene scene, Entity entity, Property property) {
    if (entity.kind() == EntityKind.LIGHT) {
      return light(scene.lights().get(entity.payload()).intensity(), property);
    }
    if (entity.kind() == EntityKind.ENVIRONMENT) {
      return light(Rgb.WHITE, property);
    }
    if (entity.kind() == EntityKind.MEDIUM) {
      Medium m = scene.media().get(entity.payload());
      return property == Property.MEDIUM_DENSITY && m.factors() != null
          ? null
          : matter(m, property);
    }
    if (entity.kind() != EntityKind.MESH || entity.materials().size() != 1) {
      return null;
    }
    int[] of = scene.meshes().get(entity.payload()).triangleMaterials();
    if (of.length == 0) {
      return null;
    }
    Material m = scene.materials().get(of[0]);
    return switch (property) {
      case BASE_COLOR -> AppearanceOverride.colour(m.baseColor());
      case ROUGHNESS -> new Value.Num(m.roughness());
      case METAL -> new Value.Num(m.metallic());
      case TRANSMISSION -> new Value.Num(m.glass().transmission());
      case OPACITY -> new Value.Num(m.opacity());
      case EMISSION -> AppearanceOverride.colour(m.emission());
      case SUBDIVISION -> new Value.Num(scene.meshes().get(entity.payload()).levels());
      case RETURNED -> AppearanceOverride.colour(Rgb.WHITE);
      default -> light(m.emission(), property);
    };
  }

  private static @Nullable Value matter(Medium m, Property property) {
    return switch (property) {
      case MEDIUM_DENSITY -> new Value.Num(m.density());
      case MEDIUM_COLOR -> AppearanceOverride.colour(m.color());
      case MEDIUM_EMISSION -> AppearanceOverride.colour(m.emission());
      default -> null;
    };
  }

  private static @Nullable Value light(Rgb light, Property property) {
    return switch (property) {
      case LIGHT_INTENSITY -> new Value.Num(light.max());
      case LIGHT_COLOR ->
          AppearanceOverride.colour(light.max() > 0 ? light.times(1 / light.max()) : Rgb.WHITE);
      default -> null;
    };
  }
}

package org.wedgecutter.core.scene.usd;

import java.util.List;
import org.wedgecutter.core.scene.Light;
import org.wedgecutter.core.scene.Rgb;
import org.wedgecutter.core.scene.usd.stage.StagePrim;

/** Lights of a stage (UsdLux) that have no mesh. */
final class UsdLights {
  private final List<String> unsupported;

  UsdLights(List<String> unsupported) {
    this.unsupported = unsupported;
  }

  private Rgb color(StagePrim prim) {
    for (String name : prim.properties().keySet()) {
      if (name.startsWith("inputs:shaping") || name.startsWith("inputs:shadow")) {
        unsupported.add(prim.path() + "." + name);
      }
    }
    double level =
        prim.number("inputs:intensity", prim.type().equals("DistantLight") ? 50000 : 1)
            * Math.pow(2, prim.number("inputs:exposure", 0));
    return UsdMaterials.color(prim, "inputs:color", 1).times((float) level);
  }

  /** Returns the radiance of a light of an area. */
  Rgb radiance(StagePrim prim, double area) {
    Rgb color = color(prim);
    return prim.flag("inputs:normalize", false) && area > 0
        ? color.times((float) (1 / area))
        : color;
  }

  /** Returns a light; areas shine to the side of their -z axis, spheres outwards. */
  Light light(StagePrim prim) {
    Rgb color = color(prim);
    boolean normalize = prim.flag("inputs:normalize", false);
    double radius = prim.number("inputs:radius", 0.5);
    double width = prim.number("inputs:width", 1);
    double height = prim.number("inputs:height", 1);
    switch (prim.type()) {
      case "DistantLight" -> {
        float angle = (float) Math.toRadians(Math.max(0, prim.number("inputs:angle", 0.53)));
        return new Light(Light.Type.DIRECTIONAL, color, 0, 0, Math.min(3, angle), 0);
      }
      case "SphereLight" -> {
        if (prim.flag("treatAsPoint", false)) {
          // a sphere's strength in one direction: radiance by the area of its disc
          double disc = normalize ? 0.25 : Math.PI * radius * radius;
          return new Light(Light.Type.POINT, color.times((float) disc), 0, 0);
        }
        double area = 4 * Math.PI * radius * radius;
        return area(Light.Type.SPHERE, color, normalize, area, 2 * radius, 0);
      }
      case "DiskLight" -> {
        double area = Math.PI * radius * radius;
        return area(Light.Type.DISC, color, normalize, area, 2 * radius, 0);
      }
      default -> {
        return area(Light.Type.RECTANGLE, color, normalize, width * height, width, height);
      }
    }
  }

  private static Light area(
      Light.Type type, Rgb color, boolean normalize, double area, double width, double height) {
    Rgb radiance = normalize && area > 0 ? color.times((float) (1 / area)) : color;
    return new Light(type, radiance, 0, 0, (float) width, (float) height);
  }
}

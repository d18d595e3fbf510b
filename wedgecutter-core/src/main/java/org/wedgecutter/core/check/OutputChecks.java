package org.wedgecutter.core.check;

import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.LayerFrames;
import org.wedgecutter.core.resolve.LayerSettings;

/** Names, sizes and frames of what is written. */
final class OutputChecks {
  private static final double SAME_SHAPE = 0.01;

  private OutputChecks() {}

  static void run(Checked c) {
    names(c);
    for (LayerDef layer : c.plan.layers()) {
      LayerFrames frames = LayerFrames.of(layer, c.shot);
      if (frames.own() && c.shot.frames().frames().stream().noneMatch(frames::rendered)) {
        c.add(
            Kind.FRAMES_OUTSIDE,
            layer.name(),
            "",
            "the frames of layer %s lie outside of the shot's %s"
                .formatted(layer.name(), c.shot.frames().text()),
            "take the shot's frames",
            p -> LayerEdits.removeSetting(p, layer.name(), Property.FRAMES));
      }
      Value.Size size = (Value.Size) LayerSettings.at(layer, c.shot, Property.SIZE, 1);
      double shape = size.width() / (double) size.height();
      double wanted = c.shot.width() / (double) c.shot.height();
      if (Math.abs(shape / wanted - 1) > SAME_SHAPE) {
        c.add(
            Kind.SIZE_ASPECT,
            layer.name(),
            "",
            "layer %s is %s, the shot %d × %d: it shows another part of the scene"
                .formatted(layer.name(), size.text(), c.shot.width(), c.shot.height()),
            "scale the size instead of setting it",
            p -> LayerEdits.removeSetting(p, layer.name(), Property.SIZE));
      }
    }
  }

  private static void names(Checked c) {
    String template = c.plan.output().name();
    String lower = template.toLowerCase(Locale.ROOT);
    if (FileNames.hasExtension(lower)) {
      c.add(
          Kind.NAME_EXTENSION,
          "",
          "",
          "the template '%s' ends in an extension, which the format brings itself"
              .formatted(template),
          "take it out",
          p -> p.withOutput(p.output().withName(FileNames.withoutExtension(p.output().name()))));
    }
    if (template.contains("{frame}") && c.shot.frames().last() > 9) {
      c.add(
          Kind.NAME_PADDING,
          "",
          "",
          "the template '%s' writes frame numbers without padding".formatted(template),
          "write {frame:4}",
          p ->
              p.withOutput(p.output().withName(p.output().name().replace("{frame}", "{frame:4}"))));
    }
    collisions(c, template);
  }

  private static void collisions(Checked c, String template) {
    String clash = "";
    try {
      FileNames names = new FileNames(template, "shot", c.shot.camera(), "1");
      Map<String, String> taken = new HashMap<>();
      for (LayerDef layer : c.plan.layers()) {
        String other = taken.putIfAbsent(names.name(layer.name(), 1, "exr"), layer.name());
        if (other != null) {
          clash =
              "layers %s and %s would be written to the same files".formatted(other, layer.name());
        }
      }
    } catch (IllegalArgumentException e) {
      clash = String.valueOf(e.getMessage());
    }
    if (!clash.isEmpty()) {
      boolean template1 = !clash.startsWith("layers");
      c.add(
          Kind.NAME_COLLISION,
          "",
          "",
          clash,
          template1 ? "write {layer} and {frame:4} in the template" : "give one another name",
          template1 ? p -> p.withOutput(p.output().withName(Output.DEFAULT_NAME)) : null);
    }
  }
}

package org.wedgecutter.core.check;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.wedgecutter.core.fragment.LayerPictures;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.FileNames;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.plan.OutputNames;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Value;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.LayerFrames;
import org.wedgecutter.core.resolve.LayerSettings;
import org.wedgecutter.core.resolve.ResolvedLayer;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.exr.Compression;

/** Names, sizes and frames of what is written. */
final class OutputChecks {
  private static final double SAME_SHAPE = 0.01;

  private OutputChecks() {}

  static void run(Checked c) {
    names(c);
    compression(c);
    for (LayerDef layer : c.plan.layers()) {
      LayerFrames frames = LayerFrames.of(layer, c.shot);
      if (frames.own() && c.shot.frames().frames().stream().noneMatch(frames::rendered)) {
        c.add(
            Message.of(
                Sentence.FRAMES_OUTSIDE, "layer", layer.name(), "range", c.shot.frames().text()),
            layer.name(),
            "",
            p -> LayerEdits.removeSetting(p, layer.name(), Property.FRAMES));
      }
      Value.Size size = (Value.Size) LayerSettings.at(layer, c.shot, Property.SIZE, 1);
      double shape = size.width() / (double) size.height();
      double wanted = c.shot.width() / (double) c.shot.height();
      if (Math.abs(shape / wanted - 1) > SAME_SHAPE) {
        c.add(
            Message.of(
                Sentence.SIZE_ASPECT,
                "layer",
                layer.name(),
                "size",
                size.text(),
                "shotSize",
                "%d×%d".formatted(c.shot.width(), c.shot.height())),
            layer.name(),
            "",
            p -> LayerEdits.removeSetting(p, layer.name(), Property.SIZE));
      }
      List<String> lost =
          c.plan.output().copies().stream()
              .filter(copy -> !copy.isSigned())
              .map(Output.Copy::word)
              .toList();
      if (!lost.isEmpty() && layer.takesLight()) {
        c.add(
            Message.of(Sentence.COPY_UNSIGNED, "layer", layer.name(), "formats", lost),
            layer.name(),
            "",
            null);
      }
      if (c.plan.output().more(layer.name()).contains(Output.More.DEEP)) {
        deep(c, layer.name());
      }
    }
  }

  private static void compression(Checked c) {
    Output output = c.plan.output();
    UnaryOperator<Plan> zip =
        p -> p.withOutput(p.output().with(o -> o.compression = Compression.ZIP));
    if (output.isLossy()) {
      c.add(
          Message.of(
              Sentence.COMPRESSION_LOSSY,
              "compression",
              output.compression().name().toLowerCase(Locale.ROOT)),
          "",
          "",
          zip);
    }
    if (output.compression() == Compression.PXR24 && output.more().contains(Output.More.IDS)) {
      c.add(Message.of(Sentence.IDS_ROUNDED), "", "", zip);
    }
  }

  private static void deep(Checked c, String name) {
    ResolvedLayer layer = c.layer(name);
    UnaryOperator<Plan> without = p -> p.withOutput(p.output().without(name, Output.More.DEEP));
    if (layer.catcher() != null) {
      c.add(Message.of(Sentence.DEEP_CATCHER, "layer", name), name, "", without);
      return;
    }
    EntitySet held =
        EntitySet.where(
            c.resolved.entities(),
            e ->
                layer.decisions().role(e) == Role.HOLDOUT
                    && c.entity(e).kind().isSeen()
                    && c.entity(e).kind() != EntityKind.ENVIRONMENT);
    if (!held.isEmpty()) {
      c.add(
          Message.of(Sentence.DEEP_HELD_OUT, "layer", name, "entities", c.paths(held)),
          name,
          "",
          held,
          without);
    }
    if (c.resolved.asked().denoise(c.plan.layerIndex(name)) > 0) {
      c.add(Message.of(Sentence.DEEP_UNFILTERED, "layer", name), name, "", without);
    }
  }

  private static void names(Checked c) {
    String template = c.plan.output().name();
    String lower = template.toLowerCase(Locale.ROOT);
    if (FileNames.hasExtension(lower)) {
      c.add(
          Message.of(Sentence.NAME_EXTENSION, "template", template),
          "",
          "",
          p -> p.withOutput(p.output().withName(FileNames.withoutExtension(p.output().name()))));
    }
    if (template.contains("{frame}") && c.shot.frames().last() > 9) {
      c.add(
          Message.of(Sentence.NAME_PADDING, "template", template, "padded", "{frame:4}"),
          "",
          "",
          p ->
              p.withOutput(p.output().withName(p.output().name().replace("{frame}", "{frame:4}"))));
    }
    collisions(c, template);
  }

  private static void collisions(Checked c, String template) {
    FileNames names;
    try {
      names = new FileNames(template, "shot", c.shot.camera(), "1");
    } catch (IllegalArgumentException e) {
      Message message =
          Message.of(
              Sentence.NAME_TEMPLATE,
              "trouble",
              String.valueOf(e.getMessage()),
              "tokens",
              "{layer} and {frame:4}");
      c.add(message, "", "", p -> p.withOutput(p.output().withName(Output.DEFAULT_NAME)));
      return;
    }
    Output output = c.plan.output();
    List<String> titles = LayerPictures.passTitles(c.resolved);
    Map<String, String> taken = new HashMap<>();
    List<String> owners = new ArrayList<>(List.of(FileNames.UNCUT));
    if (output.copies().contains(Output.Copy.FRAME)) {
      taken.put(
          names.name(FileNames.FRAME, 1, Output.Copy.FRAME.extension()).toLowerCase(Locale.ROOT),
          FileNames.FRAME);
    }
    c.plan.layers().forEach(l -> owners.add(l.name()));
    Set<List<String>> told = new HashSet<>();
    for (int k = 0; k < owners.size(); k++) {
      String owner = owners.get(k);
      if (k > 0 && names.cuts(owner)) {
        c.add(
            Message.of(Sentence.NAME_CUT, "layer", owner),
            owner,
            "",
            p -> LayerEdits.rename(p, owner, LayerEdits.shortName(p, owner)));
      }
      String layer = k == 0 ? "" : owner;
      List<String> passes =
          titles.stream().filter(t -> output.writes(layer, LayerPictures.passWord(t))).toList();
      for (String name : OutputNames.of(output, names, owner, 1, passes)) {
        // on some systems, names that differ by case alone are one
        String other = taken.putIfAbsent(name.toLowerCase(Locale.ROOT), owner);
        if (other != null && told.add(List.of(other, owner))) {
          c.add(
              Message.of(Sentence.NAME_SHARED, "layers", List.of(other, owner)),
              owner,
              "",
              p -> LayerEdits.rename(p, owner, LayerEdits.freeName(p, owner)));
        }
      }
    }
  }
}

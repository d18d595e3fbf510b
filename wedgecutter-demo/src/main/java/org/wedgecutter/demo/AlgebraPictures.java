package org.wedgecutter.demo;

import java.awt.image.BufferedImage;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import javax.imageio.ImageIO;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.CatcherOptions;
import org.wedgecutter.core.plan.CatcherOutput;
import org.wedgecutter.core.plan.Cell;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.Recipe;
import org.wedgecutter.core.plan.Role;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.render.RenderedFrame;

/**
 * Makes the pictures of roles and catchers in the documentation from the courtyard: {@code
 * AlgebraPictures demo docs/pictures}. Signed values are shown around middle grey, ratios as they
 * are, transparency over a checker.
 */
public final class AlgebraPictures {
  private static final double SCALE = 0.375;
  private static final int SAMPLES = 96;

  private AlgebraPictures() {}

  /** Runs with the demo folder and the folder to write into. */
  public static void main(String[] args) throws IOException {
    if (args.length != 2) {
      throw new IllegalArgumentException("expected two arguments: the demo folder, the output");
    }
    LoadedShot shot = LoadedShot.load(Path.of(args[0]).resolve("courtyard/courtyard.wedge"));
    Path out = Path.of(args[1]);
    Files.createDirectories(out);
    Map<String, LayerDef> roles = new LinkedHashMap<>();
    for (Role role : Role.values()) {
      Cell cell = Cell.of(role);
      if (role == Role.CATCHER) {
        continue;
      }
      roles.put("role-" + role.word().toLowerCase(java.util.Locale.ROOT), all(role.word(), cell));
    }
    Map<String, LayerDef> catchers = new LinkedHashMap<>();
    for (CatcherOutput output : CatcherOutput.values()) {
      catchers.put("catcher-" + output.word(), caught(output));
    }
    render(shot, catchers, out);
    // a plate shows its surfaces as they were photographed, whatever stands on them; without it
    // they
    // show the heron's shadow
    render(withoutPlate(shot), roles, out);
  }

  private static LoadedShot withoutPlate(LoadedShot shot) {
    Shot.PlateDef none = new Shot.PlateDef("", "", Extra.NONE);
    Plan plan = shot.plan();
    return shot.withPlan(plan.withShot(plan.requireShot().with(s -> s.plate = none)));
  }

  /** The heron in a role, all else Seen and whole. */
  private static LayerDef all(String name, Cell heron) {
    return LayerDef.of(name, 0, Map.of("Heron", heron), Cell.of(Role.SEEN));
  }

  private static LayerDef caught(CatcherOutput output) {
    Cell catcher = Cell.of(Role.CATCHER).withCatcher(CatcherOptions.NONE.withOutput(output));
    return LayerDef.of(
        output.word(),
        0,
        Map.of("Heron", Cell.of(Role.UNSEEN), "Paving", catcher, "Walls", catcher),
        Cell.of(Role.HOLDOUT));
  }

  private static void render(LoadedShot shot, Map<String, LayerDef> layers, Path out)
      throws IOException {
    List<LayerDef> defs = new ArrayList<>(layers.values());
    Plan plan =
        shot.plan()
            .withLayers(defs)
            .withRecipe(
                new Recipe(
                    List.of(new Recipe.Step(defs.getFirst().name(), Join.PLUS, Extra.NONE)),
                    Extra.NONE))
            .withShot(shot.plan().requireShot().with(s -> s.denoise = 0));
    LoadedShot changed = shot.withPlan(plan);
    FrameRenderer.Settings settings = FrameRenderer.Settings.of(changed, SCALE, SAMPLES, 0, false);
    RenderedFrame frame = new FrameRenderer(changed, settings).render(1, l -> true, true, p -> {});
    int index = 0;
    for (String name : layers.keySet()) {
      write(frame.layer(index++), name, out.resolve(name + ".png"));
    }
    write(frame.uncut(), "uncut", out.resolve("uncut.png"));
  }

  private static void write(Picture p, String name, Path file) throws IOException {
    boolean signed = name.endsWith("difference") || name.endsWith("-reflection");
    boolean ratio =
        name.endsWith("ratio") || name.endsWith("-shadow") || name.endsWith("occlusion");
    BufferedImage image = new BufferedImage(p.width(), p.height(), BufferedImage.TYPE_INT_RGB);
    for (int i = 0; i < p.width() * p.height(); i++) {
      int x = i % p.width();
      int y = i / p.width();
      float alpha = p.rgba()[4 * i + 3];
      double check = (x / 12 + y / 12) % 2 == 0 ? 0.10 : 0.16;
      int rgb = 0;
      for (int c = 0; c < 3; c++) {
        double v = p.rgba()[4 * i + c];
        if (signed) {
          v = 0.18 + 0.6 * v;
        } else if (ratio) {
          v = 0.75 * v;
        } else if (!name.endsWith("bounce")) {
          v += (1 - Math.min(1, alpha)) * check;
        } else {
          v *= 4;
        }
        rgb = rgb << 8 | code(v);
      }
      image.setRGB(x, y, rgb);
    }
    ImageIO.write(image, "png", file.toFile());
  }

  /** Converts light for the screen, with a soft shoulder. */
  private static int code(double v) {
    double x = Math.max(0, v);
    double soft = x < 0.6 ? x : 0.6 + 0.4 * (1 - Math.exp(-(x - 0.6) / 0.4));
    double s = soft <= 0.0031308 ? 12.92 * soft : 1.055 * Math.pow(soft, 1 / 2.4) - 0.055;
    return (int) Math.round(255 * Math.min(1, s));
  }
}

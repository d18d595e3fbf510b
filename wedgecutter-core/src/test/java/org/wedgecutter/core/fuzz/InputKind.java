package org.wedgecutter.core.fuzz;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.zip.GZIPOutputStream;
import org.wedgecutter.core.check.PlanCheck;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.UnitState;
import org.wedgecutter.core.deliver.check.DeliveryProof;
import org.wedgecutter.core.deliver.file.DeliveryPictures;
import org.wedgecutter.core.deliver.unit.BandedDelivery;
import org.wedgecutter.core.deliver.unit.DeliveryStatus;
import org.wedgecutter.core.export.CutPage;
import org.wedgecutter.core.export.JoinScript;
import org.wedgecutter.core.export.OpenRaster;
import org.wedgecutter.core.image.PictureFiles;
import org.wedgecutter.core.image.TextureImage;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.CellBlock;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.plan.PlanParts;
import org.wedgecutter.core.plan.PlanReader;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.plan.RuleException;
import org.wedgecutter.core.plan.RuleParser;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.Resolver;
import org.wedgecutter.core.resolve.TraceSettings;
import org.wedgecutter.core.resolve.TransportClass;
import org.wedgecutter.core.scene.Scene;
import org.wedgecutter.core.scene.files.SceneFiles;
import org.wedgecutter.core.survey.SurveyStore;
import org.wedgecutter.core.survey.Surveyor;
import org.wedgecutter.core.testing.Traces;
import org.wedgecutter.core.trace.SceneTracer;
import org.wedgecutter.core.trace.TraceJob;
import org.wedgecutter.exr.ExrException;
import org.wedgecutter.exr.ExrReader;

/** A kind of file that comes from outside, and what the program does with it. */
enum InputKind {
  GLTF {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      scene(bytes, ground, "scene.gltf");
    }
  },
  GLB {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      scene(bytes, ground, "scene.glb");
    }
  },
  OBJ {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      scene(bytes, ground, "scene.obj");
    }
  },
  USDA {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      scene(bytes, ground, "scene.usda");
    }
  },
  USDC {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      scene(bytes, ground, "scene.usdc");
    }
  },
  USDZ {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      scene(bytes, ground, "scene.usdz");
    }
  },
  /** A plan is resolved for the shot of the ground, checked, and written again. */
  PLAN {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      Plan plan = PlanReader.read(ground.file("fuzzed.wedge", bytes));
      String text = PlanWriter.text(plan);
      Plan again = PlanReader.parse(text, ground.folder().resolve("again.wedge"));
      if (!again.equals(plan) || !PlanWriter.text(again).equals(text)) {
        throw new AssertionError("a plan is not what was written");
      }
      if (plan.shot() != null && plan.layers().size() < 30 && plan.collections().size() < 100) {
        LoadedShot shot = ground.shot().withPlan(plan);
        int frame = plan.shot().frames().first();
        PlanCheck.check(plan, shot.members(), Resolver.resolve(plan, shot.members(), frame));
      }
    }
  },
  PART {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      PlanParts.read(ground.shot().plan(), "Front", ground.file("part.json", bytes));
    }
  },
  CELLS {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      CellBlock.parse(new String(bytes, StandardCharsets.UTF_8));
    }
  },
  RULE {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      try {
        var rule = RuleParser.parse(new String(bytes, StandardCharsets.UTF_8));
        RuleParser.parse(rule.text());
        ground.shot().members().of(rule);
      } catch (RuleException e) {
        throw new InputException(ground.folder(), "", String.valueOf(e.getMessage()), e);
      }
    }
  },
  /** A manifest beside the files of a real delivery, which is then proved. */
  DELIVERY {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      Path folder = ground.delivery();
      Files.write(folder.resolve(Delivery.MANIFEST), bytes);
      Delivery delivery = Delivery.read(folder);
      for (int frame : delivery.frames()) {
        DeliveryProof.prove(delivery, frame);
      }
    }
  },
  /** The record of a unit of a delivery whose manifest is right. */
  RECORD {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      Path folder = ground.delivery();
      Files.write(folder.resolve(Delivery.MANIFEST), ground.manifest());
      Path record = folder.resolve("units/Front.0001.json");
      byte[] own = Files.readAllBytes(record);
      try {
        Files.write(record, bytes);
        DeliveryStatus.read(folder);
        DeliveryProof.judge(Delivery.read(folder), 1);
      } finally {
        Files.write(record, own);
      }
    }
  },
  /** The recipe of a delivery's plan: its files are put together as it says, and proved. */
  RECIPE {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      Path folder = ground.delivery();
      Files.write(folder.resolve(Delivery.MANIFEST), ground.withRecipe(bytes));
      Delivery delivery = Delivery.read(folder);
      // what a hand-over makes of it, without its contact sheets, which take most of the time
      DeliveryPictures.corrected(delivery, 1);
      OpenRaster.write(delivery, 1, OutputStream.nullOutputStream());
      CutPage.text(delivery);
      DeliveryProof.prove(delivery, 1);
      try {
        JoinScript.text(delivery);
      } catch (InputException e) {
        // not every recipe has a script
      }
    }
  },
  /** The first band of a unit that was stopped, and goes on. */
  BAND {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      Path folder = ground.banded().stopped();
      Files.write(folder.resolve(BandedDelivery.BAND), bytes);
      ground.banded().resume();
      if (DeliveryStatus.read(folder).count(UnitState.DONE) != 1) {
        throw new AssertionError("a delivery that went on is not done");
      }
    }
  },
  /** What a quick trace told, from the folder beside the plan. */
  SURVEY {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      Path kept = ground.survey();
      try (OutputStream out = new GZIPOutputStream(Files.newOutputStream(kept))) {
        out.write(bytes);
      }
      LoadedShot shot = ground.shot();
      new SurveyStore(shot).read(shot, Surveyor.quick(shot, 1), 1);
    }
  },
  /** Links in the place of files and folders of a delivery: nothing around it changes. */
  LINKS {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      new LinkedDelivery(ground).use(bytes);
    }
  },
  /** One picture of a delivery whose manifest is right. */
  EXR {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      ExrReader.read(bytes);
      PictureFiles.read(ground.file("fuzzed.exr", bytes));
    }
  },
  HDR {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      PictureFiles.read(ground.file("fuzzed.hdr", bytes));
    }
  },
  TEXTURE {
    @Override
    void use(byte[] bytes, Ground ground) throws IOException {
      TextureImage.decode(bytes, "fuzzed", ground.folder(), "images/0");
    }
  };

  /**
   * Uses bytes as this kind of file.
   *
   * @throws InputException if they are refused with a reason, which is a right end
   */
  abstract void use(byte[] bytes, Ground ground) throws IOException;

  /** Returns the folder's name of this kind. */
  String folder() {
    return name().toLowerCase(Locale.ROOT);
  }

  /**
   * Uses bytes, and fails unless they are taken or refused with a reason.
   *
   * @return whether they were taken
   */
  boolean ends(byte[] bytes, Ground ground) {
    try {
      use(bytes, ground);
      return true;
    } catch (InputException | ExrException e) {
      String text = String.valueOf(e.getMessage());
      if (text.contains("Exception")
          || text.endsWith("null")
          || text.contains("cannot be read as a scene")) {
        throw new AssertionError("refused without a reason: " + text, e);
      }
      return false;
    } catch (IOException e) {
      throw new AssertionError("not an error of the input", e);
    }
  }

  private static void scene(byte[] bytes, Ground ground, String name) throws IOException {
    Scene scene = SceneFiles.read(ground.file(name, bytes));
    if (scene.cameras().isEmpty() || scene.entities().size() > 200) {
      return;
    }
    int entities = scene.entities().size();
    EntitySet all = EntitySet.where(entities, e -> true);
    TraceJob job =
        new TraceJob(
            TransportClass.whole(entities, TraceSettings.unbiased(2, 1)),
            EntitySet.NONE,
            List.of(new TraceJob.View(EntitySet.NONE, all)));
    var worker =
        new SceneTracer(scene)
            .at(new SceneTracer.Time(0.5, 0.2, 0.25), Traces.uniform(0.5))
            .worker(job, scene.cameras().getFirst(), 3, 2, null);
    for (int p = 0; p < 6; p++) {
      worker.sample(p % 3, p / 3, 0, p, (view, pixel, fragment) -> {});
    }
  }
}

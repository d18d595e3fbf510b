package org.wedgecutter.core.export;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.zip.ZipFile;
import javax.imageio.ImageIO;
import javax.xml.parsers.DocumentBuilderFactory;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.w3c.dom.Element;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.Join;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Plan;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.testing.ShotFolder;

class OpenRasterTest {
  @TempDir Path dir;

  @Test
  void theFileHoldsTheLayersFrontFirstWithTheirJoins() throws Exception {
    LoadedShot shot = ShotFolder.load(dir);
    Plan plan = LayerEdits.join(shot.plan(), "Front", Join.OVER);
    plan = LayerEdits.rename(plan, "Back", "Back & <far>");
    shot = shot.withPlan(plan);
    Delivery delivery =
        new DeliveryRenderer(
                shot,
                new DeliveryOrder(
                    dir.resolve("out"),
                    List.of(),
                    List.of(1),
                    false,
                    FrameRenderer.Settings.of(shot, 1, 0, 2, false),
                    false))
            .run((f, p, s) -> {});
    Path file = dir.resolve("frame.ora");
    RejoinedFile.write(delivery, 1, file);
    // the kind of the file can be read at a fixed place
    byte[] bytes = Files.readAllBytes(file);
    assertThat(new String(bytes, 30, 8 + 16, StandardCharsets.US_ASCII))
        .isEqualTo("mimetypeimage/openraster");
    try (ZipFile zip = new ZipFile(file.toFile())) {
      Element image;
      try (InputStream in = zip.getInputStream(zip.getEntry("stack.xml"))) {
        image =
            DocumentBuilderFactory.newInstance()
                .newDocumentBuilder()
                .parse(in)
                .getDocumentElement();
      }
      assertThat(image.getAttribute("w")).isEqualTo("40");
      assertThat(image.getAttribute("h")).isEqualTo("24");
      var layers = image.getElementsByTagName("layer");
      List<String> told = new ArrayList<>();
      for (int k = 0; k < layers.getLength(); k++) {
        Element layer = (Element) layers.item(k);
        told.add(layer.getAttribute("name") + " " + layer.getAttribute("composite-op"));
        var picture = ImageIO.read(zip.getInputStream(zip.getEntry(layer.getAttribute("src"))));
        assertThat(picture.getWidth()).isEqualTo(40);
        assertThat(picture.getColorModel().hasAlpha()).isTrue();
      }
      assertThat(told)
          .containsExactly("Front svg:src-over", "Back & <far> svg:plus", "Floor svg:plus");
      byte[] merged = zip.getInputStream(zip.getEntry("mergedimage.png")).readAllBytes();
      Path png = dir.resolve("merged.png");
      RejoinedFile.write(delivery, 1, png);
      assertThat(merged).isEqualTo(Files.readAllBytes(png));
      assertThat(ImageIO.read(new ByteArrayInputStream(merged)).getHeight()).isEqualTo(24);
      assertThat(zip.getEntry("Thumbnails/thumbnail.png")).isNotNull();
    }
  }
}

package org.wedgecutter.core.export;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.awt.image.BufferedImage;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.wedgecutter.core.deliver.Delivery;
import org.wedgecutter.core.deliver.unit.DeliveryOrder;
import org.wedgecutter.core.deliver.unit.DeliveryRenderer;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.plan.LayerEdits;
import org.wedgecutter.core.plan.Output;
import org.wedgecutter.core.render.FrameRenderer;
import org.wedgecutter.core.testing.ShotFolder;

/** The page of a delivery, as a real browser shows it. */
class CutPageTest {
  private static final Path BROWSER = Path.of("/usr/bin/chromium");

  @TempDir Path dir;

  private Delivery deliver(LoadedShot shot) throws Exception {
    return new DeliveryRenderer(
            shot,
            new DeliveryOrder(
                dir.resolve("out"),
                List.of(),
                List.of(1, 2),
                true,
                FrameRenderer.Settings.of(shot, 2, 0, 2, false),
                false))
        .run((f, p, s) -> {});
  }

  private String browser(String... more) throws Exception {
    List<String> command =
        new ArrayList<>(
            List.of(
                BROWSER.toString(),
                "--headless",
                "--no-sandbox",
                "--disable-gpu",
                "--no-first-run",
                "--disable-background-networking",
                "--disable-component-update",
                "--disable-sync",
                "--host-resolver-rules=MAP * ~NOTFOUND",
                "--user-data-dir=" + dir.resolve("profile")));
    command.addAll(List.of(more));
    Path out = dir.resolve("told.html");
    Process process =
        new ProcessBuilder(command)
            .redirectOutput(out.toFile())
            .redirectError(ProcessBuilder.Redirect.DISCARD)
            .start();
    assertThat(process.waitFor(90, TimeUnit.SECONDS)).isTrue();
    assertThat(process.exitValue()).isZero();
    return Files.readString(out, StandardCharsets.UTF_8);
  }

  @Test
  void aBrowserShowsPicturesEquationsAndTheProof() throws Exception {
    assumeTrue(Files.isExecutable(BROWSER), "needs Chromium");
    LoadedShot shot = ShotFolder.load(dir.resolve("shot"));
    shot =
        shot.withPlan(
            LayerEdits.rename(shot.plan(), "Back", "Back <b> & \"co\"")
                .withOutput(shot.plan().output().withMore(Set.of(Output.More.IDS))));
    Delivery delivery = deliver(shot);
    Path page = dir.resolve("page.html");
    Files.writeString(page, CutPage.text(delivery));
    assertThat(Files.readString(page)).doesNotContain("http:", "https:", "<script");

    String dom = browser("--dump-dom", page.toUri().toString());
    assertThat(dom)
        .contains(
            "R = <b>Floor</b>",
            "R ← R + <b>Back &lt;b&gt; &amp; \"co\"</b>",
            "2 of 2 frames rejoin exactly",
            "Cryptomatte",
            "How it was rendered",
            "set/Front/set_Front.0002.exr");
    assertThat(dom.split("<img", -1)).as("rejoined, uncut and three layers").hasSize(6);

    Path shown = dir.resolve("page.png");
    browser(
        "--window-size=1100,900",
        "--hide-scrollbars",
        "--screenshot=" + shown,
        page.toUri().toString());
    BufferedImage image = ImageIO.read(shown.toFile());
    Set<Integer> colours = new HashSet<>();
    for (int y = 100; y < 400; y++) {
      for (int x = 60; x < 500; x++) {
        colours.add(image.getRGB(x, y));
      }
    }
    assertThat(colours).as("the rejoined picture is drawn").hasSizeGreaterThan(200);
  }
}

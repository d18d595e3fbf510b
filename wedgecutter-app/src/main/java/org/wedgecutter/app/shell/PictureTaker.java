package org.wedgecutter.app.shell;

import java.util.Map;
import javafx.scene.image.Image;
import org.wedgecutter.app.live.Pictures;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.Banner;
import org.wedgecutter.app.viewer.PicturePipe;

/** Hands pictures to the parts of the window that show something of them. */
final class PictureTaker implements PicturePipe.Host {
  private final MainWindow window;

  /** What was reported last of a picture that cannot be read. */
  private String reported = "";

  PictureTaker(MainWindow window) {
    this.window = window;
  }

  @Override
  public void smallPictures(Map<String, Image> byLayer) {
    Session s = window.session();
    window.headers().pictures(byLayer);
    if (s != null) {
      window.headers().show(s.plan());
    }
  }

  @Override
  public void shown(Pictures pictures, double editMillis) {
    window.listener().shown(pictures, editMillis);
  }

  @Override
  public void complete(Pictures pictures) {
    Session s = window.session();
    if (s == null) {
      return;
    }
    window.stations().forEach(each -> each.picturesComplete(s, pictures));
    window.sheet().refresh();
    window.pictures().redraw(s.plan());
    window.proof().show(s, pictures);
    if (!pictures.unread().equals(reported)) {
      reported = pictures.unread();
      if (!reported.isEmpty()) {
        window.bench().banner(reported + ". The picture is shown without it.");
      }
    }
    window.listener().complete(pictures);
  }

  @Override
  public void kept() {
    window.timeline().keptChanged();
  }

  @Override
  public void failed(Throwable why) {
    window.playback().halt(false);
    window.viewer().setEmptyText("Tracing failed");
    window
        .bench()
        .offer(
            "Tracing failed: " + Trouble.words(why),
            new Banner.Choice("retry", "Try again", () -> window.pictures().retry(false)),
            new Banner.Choice(
                "retry-less", "Try again at a smaller size", () -> window.pictures().retry(true)),
            new Banner.Choice("banner-close", "Dismiss", () -> {}));
  }
}

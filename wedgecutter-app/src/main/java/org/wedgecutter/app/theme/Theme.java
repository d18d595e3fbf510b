package org.wedgecutter.app.theme;

import atlantafx.base.theme.PrimerDark;
import atlantafx.base.theme.PrimerLight;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.Objects;
import javafx.application.Application;
import javafx.scene.Scene;
import javafx.scene.paint.Color;
import javafx.scene.text.Font;

/** Colours and fonts. Surfaces around pictures are neutral grey, so that colour can be judged. */
public enum Theme {
  DARK(
      "#1a1b1c", "#212223", "#2a2b2d", "#3b3d40", "#e6e6e2", "#a3a5a8", "#67c5a0", "#ee8277",
      "#e0c05a"),
  LIGHT(
      "#dcdcda", "#ececea", "#f7f7f5", "#bcbdbe", "#1c1d1e", "#55585b", "#12684a", "#a62c20",
      "#735600");

  /** Hues of layers: a set that eyes with colour weaknesses tell apart (P. Tol's muted scheme). */
  private static final Color[] HUES = {
    Color.web("#88ccee"),
    Color.web("#ddcc77"),
    Color.web("#cc6677"),
    Color.web("#44aa99"),
    Color.web("#b46ab4"),
    Color.web("#a5a54a"),
    Color.web("#7d86d8"),
    Color.web("#d98c5f")
  };

  /** Least size of text, in pixels. */
  public static final double MIN_SIZE = 12;

  private static final String[] FONTS = {
    "IBMPlexSans_400Regular.ttf",
    "IBMPlexSans_500Medium.ttf",
    "IBMPlexSans_600SemiBold.ttf",
    "JetBrainsMono_400Regular.ttf"
  };

  /** Text of what is inherited: fainter than text, but legible on every surface. */
  public final Color inherited;

  /** Background behind everything. */
  public final Color ground;

  /** Surfaces. */
  public final Color panel;

  /** Raised surfaces. */
  public final Color raised;

  /** Lines between things. */
  public final Color line;

  /** Text. */
  public final Color text;

  /** Secondary text. */
  public final Color dim;

  /** The one accent. */
  public final Color accent;

  /** Errors. */
  public final Color error;

  /** Warnings. */
  public final Color warning;

  Theme(
      String ground,
      String panel,
      String raised,
      String line,
      String text,
      String dim,
      String accent,
      String error,
      String warning) {
    this.ground = Color.web(ground);
    this.panel = Color.web(panel);
    this.raised = Color.web(raised);
    this.line = Color.web(line);
    this.text = Color.web(text);
    this.dim = Color.web(dim);
    this.accent = Color.web(accent);
    this.error = Color.web(error);
    this.warning = Color.web(warning);
    this.inherited = this.dim.interpolate(this.panel, 0.12);
  }

  /** Loads the fonts that ship with the program; once, before the first window. */
  public static void loadFonts() {
    for (String name : FONTS) {
      try (InputStream in = Theme.class.getResourceAsStream("fonts/" + name)) {
        Objects.requireNonNull(Font.loadFont(in, 13), name);
        KEPT.clear();
      } catch (java.io.IOException e) {
        throw new java.io.UncheckedIOException(e);
      }
    }
  }

  /** Applies the colours to a window. */
  public void apply(Scene scene) {
    Application.setUserAgentStylesheet(
        this == DARK
            ? new PrimerDark().getUserAgentStylesheet()
            : new PrimerLight().getUserAgentStylesheet());
    String css =
        Objects.requireNonNull(Theme.class.getResource("wedgecutter.css")).toExternalForm();
    scene.getStylesheets().setAll(colors(), css);
  }

  /** A style sheet of the colours' names, which menus and hints in windows of their own see too. */
  private String colors() {
    String sheet =
        ".root{-w-ground:%s;-w-panel:%s;-w-raised:%s;-w-line:%s;-w-text:%s;-w-dim:%s;-w-accent:%s;-w-error:%s;-w-warning:%s;}"
            .formatted(
                web(ground),
                web(panel),
                web(raised),
                web(line),
                web(text),
                web(dim),
                web(accent),
                web(error),
                web(warning));
    return "data:text/css;base64,"
        + Base64.getEncoder().encodeToString(sheet.getBytes(StandardCharsets.UTF_8));
  }

  /** Returns a colour as style sheets write it, #rrggbb. */
  public static String web(Color c) {
    return "#%02x%02x%02x"
        .formatted(
            Math.round(c.getRed() * 255),
            Math.round(c.getGreen() * 255),
            Math.round(c.getBlue() * 255));
  }

  /** Returns a layer's hue. */
  public static Color hue(int number) {
    return HUES[Math.floorMod(number, HUES.length)];
  }

  /** The text face. */
  public static Font sans(double size) {
    return font("IBM Plex Sans", size);
  }

  /** The text face, heavier. */
  public static Font medium(double size) {
    return font("IBM Plex Sans Medium", size);
  }

  /** The face for numbers, all equally wide. */
  public static Font mono(double size) {
    return font("JetBrains Mono", size);
  }

  /**
   * Finding a font takes longer than drawing with it, so those in use are kept.
   *
   * @throws IllegalArgumentException if text would be too small to be read
   */
  private static Font font(String family, double size) {
    if (size < MIN_SIZE) {
      throw new IllegalArgumentException("text of %s px, at least %s".formatted(size, MIN_SIZE));
    }
    return KEPT.computeIfAbsent(family + size, k -> Font.font(family, size));
  }

  private static final java.util.Map<String, Font> KEPT =
      new java.util.concurrent.ConcurrentHashMap<>();
}

package org.wedgecutter.core.export;

import java.awt.image.BufferedImage;
import java.awt.image.Raster;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import javax.imageio.ImageIO;
import javax.xml.XMLConstants;
import javax.xml.parsers.DocumentBuilderFactory;
import javax.xml.parsers.ParserConfigurationException;
import org.w3c.dom.Element;
import org.w3c.dom.NodeList;
import org.wedgecutter.core.io.InputException;
import org.xml.sax.SAXException;

/**
 * The difference between the merged picture of a layered file and its layers, composited as paint
 * programs do: display values, by the formulas of <a
 * href="https://www.w3.org/TR/compositing-1/">Compositing and Blending Level 1</a>, over black.
 *
 * @param most the largest difference of a colour or of alpha, in steps of 255
 * @param rms root of the mean square of all differences, in steps of 255
 * @param share of the pixels that differ by more than one step, 0 to 1
 * @param layers how many layers the file has
 */
public record LayeredProof(double most, double rms, double share, int layers) {
  private static final long MOST_BYTES = 1L << 30;
  private static final int STEPS = 255;
  private static final double BIT_16 = 65535;

  /** Whether nobody sees a difference: no pixel differs by more than one step of 255. */
  public boolean isClose() {
    return most <= 1;
  }

  /** Returns a sentence. */
  public String line() {
    return isClose()
        ? "layers stacked on a screen give the merged picture"
        : "layers stacked on a screen differ from the merged picture by up to %.0f of 255, rms %.2f, in %.2f %% of pixels by more than 1: painters add what is shown, not light"
            .formatted(most, rms, 100 * share);
  }

  /**
   * Stacks the layers of an OpenRaster file, and compares them with its merged picture.
   *
   * @throws InputException if it is no file of this kind, or its layers are not of its size
   */
  public static LayeredProof of(Path file) throws IOException {
    try (ZipFile zip = new ZipFile(file.toFile())) {
      Element image = stack(zip, file);
      double[] merged = picture(zip, OpenRaster.MERGED, file);
      double[] stacked = new double[merged.length];
      List<Element> layers = new ArrayList<>();
      NodeList nodes = image.getElementsByTagName("layer");
      for (int k = nodes.getLength() - 1; k >= 0; k--) {
        layers.add((Element) nodes.item(k));
      }
      for (Element layer : layers) {
        double[] front = picture(zip, layer.getAttribute("src"), file);
        if (front.length != stacked.length) {
          throw new InputException(file, layer.getAttribute("src"), "expected the frame's size");
        }
        put(
            stacked,
            front,
            layer.getAttribute("composite-op"),
            Double.parseDouble(layer.getAttribute("opacity")));
      }
      return compared(stacked, merged, layers.size());
    } catch (IllegalArgumentException e) {
      throw new InputException(file, OpenRaster.STACK, String.valueOf(e.getMessage()), e);
    }
  }

  private static Element stack(ZipFile zip, Path file) throws IOException {
    DocumentBuilderFactory factory = DocumentBuilderFactory.newInstance();
    try {
      factory.setFeature(XMLConstants.FEATURE_SECURE_PROCESSING, true);
      factory.setFeature("http://apache.org/xml/features/disallow-doctype-decl", true);
      return factory
          .newDocumentBuilder()
          .parse(new ByteArrayInputStream(bytes(zip, OpenRaster.STACK, file)))
          .getDocumentElement();
    } catch (ParserConfigurationException | SAXException e) {
      throw new InputException(file, OpenRaster.STACK, "not readable as XML", e);
    }
  }

  private static byte[] bytes(ZipFile zip, String name, Path file) throws IOException {
    ZipEntry entry = zip.getEntry(name);
    if (entry == null || entry.getSize() > MOST_BYTES) {
      throw new InputException(file, name, "missing, or larger than 1 GiB");
    }
    try (InputStream in = zip.getInputStream(entry)) {
      return in.readNBytes((int) MOST_BYTES);
    }
  }

  /** Premultiplied numbers from 0 to 1. */
  private static double[] picture(ZipFile zip, String name, Path file) throws IOException {
    BufferedImage image = ImageIO.read(new ByteArrayInputStream(bytes(zip, name, file)));
    if (image == null || image.getRaster().getNumBands() != 4) {
      throw new InputException(file, name, "expected a picture with alpha");
    }
    Raster raster = image.getRaster();
    double most = raster.getSampleModel().getSampleSize(0) == 16 ? BIT_16 : STEPS;
    double[] out = raster.getPixels(0, 0, image.getWidth(), image.getHeight(), (double[]) null);
    for (int p = 0; p < out.length; p += 4) {
      out[p + 3] /= most;
      for (int c = p; c < p + 3; c++) {
        out[c] *= out[p + 3] / most;
      }
    }
    return out;
  }

  private static void put(double[] back, double[] front, String operation, double opacity) {
    for (int p = 0; p < back.length; p += 4) {
      double as = front[p + 3] * opacity;
      double ab = back[p + 3];
      for (int c = p; c < p + 3; c++) {
        double s = front[c] * opacity;
        back[c] =
            operation.equals("svg:plus")
                ? Math.min(1, s + back[c])
                : (1 - ab) * s
                    + (1 - as) * back[c]
                    + as * ab * blend(operation, ab > 0 ? back[c] / ab : 0, as > 0 ? s / as : 0);
      }
      back[p + 3] = operation.equals("svg:plus") ? Math.min(1, as + ab) : as + ab - as * ab;
    }
  }

  private static double blend(String operation, double back, double front) {
    return switch (operation) {
      case "svg:src-over" -> front;
      case "svg:multiply" -> back * front;
      case "svg:screen" -> back + front - back * front;
      case "svg:darken" -> Math.min(back, front);
      case "svg:lighten" -> Math.max(back, front);
      case "svg:difference" -> Math.abs(back - front);
      default -> throw new IllegalArgumentException("unknown operation '" + operation + "'");
    };
  }

  private static LayeredProof compared(double[] stacked, double[] merged, int layers) {
    double most = 0;
    double squares = 0;
    int apart = 0;
    for (int p = 0; p < merged.length; p += 4) {
      double here = 0;
      for (int c = p; c < p + 4; c++) {
        double d = STEPS * Math.abs(stacked[c] - merged[c]);
        here = Math.max(here, d);
        squares += d * d;
      }
      most = Math.max(most, here);
      apart += here > 1 ? 1 : 0;
    }
    int numbers = Math.max(1, merged.length);
    return new LayeredProof(most, Math.sqrt(squares / numbers), 4.0 * apart / numbers, layers);
  }
}

package org.wedgecutter.core.rejoin;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.wedgecutter.core.image.Picture;
import org.wedgecutter.exr.Box;
import org.wedgecutter.exr.Channel;
import org.wedgecutter.exr.Compression;
import org.wedgecutter.exr.ExrImage;
import org.wedgecutter.exr.ExrPart;
import org.wedgecutter.exr.ExrReader;
import org.wedgecutter.exr.ExrWriter;
import org.wedgecutter.exr.PixelType;
import org.wedgecutter.exr.Samples;

/** Pictures of odd pixels, and files of them for other programs. */
final class RandomPictures {
  static final int W = 61;
  static final int H = 70;
  static final String[] NAMES = {"R", "G", "B", "A"};

  private RandomPictures() {}

  /** Premultiplied pixels: no, tiny, some and all alpha; light without any; none, huge light. */
  static Picture random(long seed, boolean negative) {
    Random random = new Random(seed);
    Picture out = Picture.empty(W, H);
    for (int p = 0; p < W * H; p++) {
      float alpha =
          switch (random.nextInt(5)) {
            case 0 -> 0;
            case 1 -> 1;
            case 2 -> 1e-5f * random.nextFloat();
            default -> random.nextFloat();
          };
      float light =
          switch (random.nextInt(4)) {
            case 0 -> 0;
            case 1 -> 5000;
            default -> 1;
          };
      for (int c = 0; c < 3; c++) {
        float v = (alpha == 0 ? 0.3f : alpha) * light * random.nextFloat();
        out.rgba()[4 * p + c] = negative && random.nextInt(5) == 0 ? -v : v;
      }
      out.rgba()[4 * p + 3] = alpha;
    }
    return out;
  }

  static void write(Picture p, Path file) throws Exception {
    var channels = ExrPart.newChannels();
    for (int c = 0; c < 4; c++) {
      float[] plane = new float[W * H];
      for (int k = 0; k < plane.length; k++) {
        plane[k] = p.rgba()[4 * k + c];
      }
      channels.put(new Channel(NAMES[c], PixelType.FLOAT), new Samples.Real(plane));
    }
    Box box = Box.ofSize(W, H);
    try (var out = Files.newOutputStream(file)) {
      ExrWriter.write(
          new ExrImage(List.of(new ExrPart("", Compression.ZIP, box, box, Map.of(), channels))),
          out);
    }
  }

  static Picture read(Path file) throws Exception {
    ExrPart part = ExrReader.read(file).parts().getFirst();
    Picture out = Picture.empty(part.dataWindow().width(), part.dataWindow().height());
    for (int c = 0; c < 4; c++) {
      float[] plane = part.real(NAMES[c]);
      for (int p = 0; p < plane.length; p++) {
        out.rgba()[4 * p + c] = plane[p];
      }
    }
    return out;
  }
}

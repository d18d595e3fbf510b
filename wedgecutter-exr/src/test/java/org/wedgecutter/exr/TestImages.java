package org.wedgecutter.exr;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.SortedMap;

/** Images made from a seed: smooth in places, noisy in others, with the odd extreme value. */
final class TestImages {
  private TestImages() {}

  static ExrPart part(String name, Compression compression, Box box, long seed) {
    Random random = new Random(seed);
    int n = box.width() * box.height();
    float[] smooth = new float[n];
    float[] noisy = new float[n];
    int[] ids = new int[n];
    for (int i = 0; i < n; i++) {
      smooth[i] = Float.float16ToFloat(Float.floatToFloat16((i / 7) * 0.01f));
      noisy[i] = (float) (random.nextGaussian() * 100);
      ids[i] = random.nextInt(10) == 0 ? random.nextInt() : 42;
    }
    noisy[0] = Float.POSITIVE_INFINITY;
    noisy[n - 1] = -1e-30f;
    SortedMap<Channel, Samples> channels = ExrPart.newChannels();
    channels.put(new Channel("diffuse.direct.R", PixelType.HALF), new Samples.Real(smooth));
    channels.put(new Channel("Z", PixelType.FLOAT), new Samples.Real(noisy));
    channels.put(new Channel("id", PixelType.UINT), new Samples.Whole(ids));
    Map<String, Attribute> attributes =
        Map.of(
            "layer", new Attribute.Text("Hero"),
            "framesPerSecond", new Attribute.Rational(24, 1),
            "worldToCamera", new Attribute.Matrix(new float[16]),
            "imageCounter", new Attribute.Int(7),
            "aperture", new Attribute.Real(2.8f),
            "chromaticities", Attribute.Chromaticities.BT709);
    return new ExrPart(name, compression, box, Box.ofSize(40, 40), attributes, channels);
  }

  static byte[] bytes(ExrPart... parts) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    ExrWriter.write(new ExrImage(List.of(parts)), out);
    return out.toByteArray();
  }
}

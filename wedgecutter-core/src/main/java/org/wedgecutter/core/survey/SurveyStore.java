package org.wedgecutter.core.survey;

import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.core.io.ContentDigest;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.RootFolder;
import org.wedgecutter.core.io.TextFile;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.measure.InterplayTable;
import org.wedgecutter.core.plan.PlanWriter;
import org.wedgecutter.core.render.FrameRenderer;

/**
 * What quick traces told, kept beside the plan so that none is made twice: in a folder named like
 * the plan, with the ending {@code .survey}, a file for each frame, named by the digest of all that
 * it depends on. It may be deleted at any time.
 *
 * <p>A file is a {@link FrameSurvey} as gzipped JSON. Files that cannot be read, or that do not fit
 * the shot, count as missing; so does a folder that cannot be written. Only a plan that has a file
 * has a folder.
 */
public final class SurveyStore {
  /** Is changed when traces or what is kept of them changes. */
  private static final int FORMAT = 2;

  private static final String ENDING = ".survey";
  private static final String ENDING_OF_FILES = ".json.gz";
  private static final int MOST_FILES = 256;
  private static final int MOST_BYTES = 1 << 26;
  private static final Logger LOG = LoggerFactory.getLogger(SurveyStore.class);
  private static final JsonMapper MAPPER =
      JsonMapper.builder().enable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES).build();

  /** The digests that files are named by. */
  private static final Pattern OWN =
      Pattern.compile("[0-9a-f]{16,}" + Pattern.quote(ENDING_OF_FILES));

  private final LoadedShot of;
  private final RootFolder kept;
  private @Nullable String scene;

  /**
   * A store for all plans of the shot that lie where it does. With the first use it takes the
   * digest of the scene and its images: a second or so for a large one.
   */
  public SurveyStore(LoadedShot shot) {
    of = shot;
    kept = new RootFolder(folder(shot.file()));
  }

  private synchronized String scene() {
    String known = scene;
    if (known == null) {
      known = ContentDigest.of(FORMAT, of.scene(), of.pictures(), machine());
      scene = known;
    }
    return known;
  }

  /** Returns the folder of a plan's file. */
  public static Path folder(Path plan) {
    String name = Objects.requireNonNull(plan.getFileName()).toString();
    int dot = name.lastIndexOf('.');
    return plan.resolveSibling((dot > 0 ? name.substring(0, dot) : name) + ENDING);
  }

  /** Times are those of a machine. */
  private static String machine() {
    return String.join(
        " ",
        System.getProperty("os.arch"),
        System.getProperty("java.vm.version"),
        String.valueOf(Runtime.getRuntime().availableProcessors()),
        processor());
  }

  private static String processor() {
    Path file = Path.of("/proc/cpuinfo");
    try {
      return TextFile.read(file, 1)
          .lines()
          .filter(l -> l.startsWith("model name"))
          .findFirst()
          .orElse("");
    } catch (InputException e) {
      // elsewhere the other properties must do
      return "";
    }
  }

  private String file(LoadedShot shot, FrameRenderer.Settings settings, int frame) {
    // what is known of the scene changes no trace
    String text = PlanWriter.text(shot.plan().withShot(shot.plan().requireShot().asTraced()));
    return ContentDigest.of(scene(), text, settings, frame) + ENDING_OF_FILES;
  }

  /** Returns what a quick trace of a frame told, if it was made before. */
  public Optional<FrameSurvey> read(LoadedShot shot, FrameRenderer.Settings settings, int frame) {
    if (!Files.isDirectory(kept.path(), LinkOption.NOFOLLOW_LINKS)) {
      return Optional.empty();
    }
    String file = file(shot, settings, frame);
    if (!kept.isFile(file)) {
      return Optional.empty();
    }
    try (InputStream in = new GZIPInputStream(kept.read(file))) {
      byte[] bytes = in.readNBytes(MOST_BYTES);
      FrameSurvey found = MAPPER.readValue(bytes, FrameSurvey.class);
      return fits(found, shot, frame) ? Optional.of(found) : Optional.empty();
    } catch (IOException | RuntimeException e) {
      LOG.warn("{} cannot be read, and is made again: {}", file, e.toString());
      return Optional.empty();
    }
  }

  /** Whether all that is in it belongs to the shot; files may come from anywhere. */
  private static boolean fits(FrameSurvey f, LoadedShot shot, int frame) {
    int entities = shot.scene().entities().size();
    int layers = shot.plan().layers().size();
    InterplayTable table = f.interplay();
    return f.frame() == frame
        && f.samples() > 0
        && f.threads() > 0
        && f.coverage().length == entities
        && table.light().length == entities
        && table.pairs().stream().allMatch(p -> isIn(p.of(), entities) && isIn(p.by(), entities))
        && f.layers().size() == layers
        && f.layers().stream().allMatch(n -> n.samples() > 0)
        && f.uncut().samples() > 0
        && f.rejoined().samples() > 0
        && f.written().length == layers
        && f.costs().stream()
            .allMatch(c -> c.layers().stream().allMatch(l -> l != null && isIn(l, layers)));
  }

  private static boolean isIn(int index, int size) {
    return index >= 0 && index < size;
  }

  /** Keeps what a quick trace of a frame told; the oldest files go where there are too many. */
  public void write(LoadedShot shot, FrameRenderer.Settings settings, FrameSurvey made) {
    if (!Files.isRegularFile(of.file())) {
      return;
    }
    String file = file(shot, settings, made.frame());
    if (Files.isSymbolicLink(kept.path())) {
      LOG.warn("{} is a symbolic link; what quick traces told is not kept", kept.path());
      return;
    }
    try {
      ByteArrayOutputStream bytes = new ByteArrayOutputStream();
      try (GZIPOutputStream zipped = new GZIPOutputStream(bytes)) {
        zipped.write(MAPPER.writeValueAsBytes(made));
      }
      kept.write(file, out -> out.write(bytes.toByteArray()));
      sweep();
    } catch (IOException | UncheckedIOException e) {
      LOG.warn("{} is not kept: {}", file, e.toString());
    }
  }

  private void sweep() throws IOException {
    List<String> files = kept.list("", n -> OWN.matcher(n).matches());
    if (files.size() <= MOST_FILES) {
      return;
    }
    Map<String, FileTime> times = new HashMap<>();
    for (String f : files) {
      times.put(f, Files.getLastModifiedTime(kept.file(f)));
    }
    files.sort(Comparator.comparing(times::get, Comparator.reverseOrder()));
    for (String old : files.subList(MOST_FILES, files.size())) {
      kept.delete(old);
    }
  }
}

package org.wedgecutter.core.deliver;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryNotEmptyException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.wedgecutter.core.io.InputException;
import org.wedgecutter.core.io.JsonText;
import org.wedgecutter.core.io.RootFolder;
import org.wedgecutter.core.io.TextFile;
import org.wedgecutter.core.plan.PlanWriter;

/**
 * The folder {@code units} of a delivery: for each unit that is done its record, and beside it what
 * helps while it is not. There is no lock: a mark that a unit is being rendered is a hint, so that
 * processes that share the folder do not choose the same one.
 *
 * <pre>
 * units/Hero.0012.json      the record of a unit that is done
 * units/Hero.0012.running   who renders it; its time says when that was last heard of
 * units/Hero.0012.failed    why it could not be rendered
 * units/Hero.0012.bands/    its finished bands, until there are all of them
 * </pre>
 */
public final class UnitFolder {
  /** Its name within the delivery. */
  public static final String NAME = "units";

  /** Who does not tell of a unit for so long has been stopped, seconds. */
  public static final long SILENT = 90;

  private static final Logger LOG = LoggerFactory.getLogger(UnitFolder.class);
  private static final String RECORD = ".json";
  private static final String RUNNING = ".running";
  private static final String FAILED = ".failed";
  private static final String BANDS = ".bands";
  private static final Pattern BAND = Pattern.compile("\\d{4,}\\.exr");
  private static final long MAX_MEBIBYTES = 1;

  private final RootFolder root;

  public UnitFolder(Path delivery) {
    this(new RootFolder(delivery));
  }

  /**
   * @param delivery the folder of the delivery
   */
  public UnitFolder(RootFolder delivery) {
    root = delivery;
  }

  /**
   * Who renders a unit.
   *
   * @param machine name of the machine
   * @param process number of the process
   * @param started when the process was started, milliseconds since 1970
   * @param share how much of the unit is done, 0 to 1
   */
  public record Running(String machine, long process, long started, double share) {
    /** This process. */
    static Running here(double share) {
      return new Running(Machine.name(), ProcessHandle.current().pid(), Machine.started(), share);
    }

    boolean isHere() {
      return machine.equals(Machine.name())
          && process == ProcessHandle.current().pid()
          && started == Machine.started();
    }

    /** Whether its process runs on this machine and is known to have ended. */
    boolean hasEnded() {
      return machine.equals(Machine.name())
          && ProcessHandle.of(process)
              .filter(ProcessHandle::isAlive)
              .filter(p -> Machine.started(p) == started)
              .isEmpty();
    }
  }

  /**
   * What is known of all units.
   *
   * @param records of those that are done, by unit
   * @param running who renders which unit, by the unit's name; only those that were heard of lately
   * @param failed why units failed, by the unit's name
   * @param problems records that cannot be read, one sentence each
   */
  public record Known(
      Map<Unit.Key, UnitRecord> records,
      Map<String, Running> running,
      Map<String, String> failed,
      List<String> problems) {}

  /** Whether a delivery has one. */
  boolean exists() {
    return root.isFolder(NAME);
  }

  /** Reads all that there is. */
  public Known read() throws IOException {
    Map<Unit.Key, UnitRecord> records = new HashMap<>();
    Map<String, Running> running = new HashMap<>();
    Map<String, String> failed = new HashMap<>();
    List<String> problems = new ArrayList<>();
    if (!exists()) {
      return new Known(records, running, failed, problems);
    }
    for (String file : root.list(NAME, n -> !n.startsWith("."))) {
      String name = file.substring(NAME.length() + 1);
      if (name.endsWith(RECORD)) {
        try {
          UnitRecord record = UnitRecord.read(root, file);
          if (file.equals(file(record.unit().key(), RECORD))) {
            records.put(record.unit().key(), record);
          } else {
            problems.add(root.path().resolve(file) + ": is the record of another unit");
          }
        } catch (InputException e) {
          if (root.isFile(file)) {
            problems.add(String.valueOf(e.getMessage()));
          }
        }
      } else if (name.endsWith(RUNNING)) {
        heardOf(file).ifPresent(r -> running.put(without(name, RUNNING), r));
      } else if (name.endsWith(FAILED)) {
        String why = line(file);
        if (!why.isEmpty()) {
          failed.put(without(name, FAILED), why);
        }
      }
    }
    return new Known(records, running, failed, problems);
  }

  /** Returns how many records there are, by their names alone. */
  public long count() throws IOException {
    return root.list(NAME, n -> n.endsWith(RECORD) && !n.startsWith(".")).size();
  }

  private static String without(String name, String end) {
    return name.substring(0, name.length() - end.length());
  }

  private static String file(Unit.Key unit, String end) {
    return NAME + "/" + unit.name() + end;
  }

  /** Returns the record of a unit, if there is one that can be read. */
  public Optional<UnitRecord> record(Unit.Key unit) {
    String file = file(unit, RECORD);
    if (!root.isFile(file)) {
      return Optional.empty();
    }
    try {
      return Optional.of(UnitRecord.read(root, file)).filter(r -> r.unit().key().equals(unit));
    } catch (InputException e) {
      LOG.warn("{}", e.getMessage());
      return Optional.empty();
    }
  }

  /** Writes the record of a unit whose files are in place, and removes what is left of it. */
  public void write(UnitRecord record) throws IOException {
    byte[] text = record.text().getBytes(StandardCharsets.UTF_8);
    Unit.Key unit = record.unit().key();
    root.write(file(unit, RECORD), out -> out.write(text));
    root.delete(file(unit, FAILED));
    dropBands(unit);
  }

  /** Takes a unit's record away: it is to be rendered again. */
  public void forget(Unit.Key unit) throws IOException {
    root.delete(file(unit, RECORD));
    dropBands(unit);
  }

  /** Notes why a unit could not be rendered. */
  public void failed(Unit.Key unit, String why) {
    byte[] text = why.replace('\n', ' ').getBytes(StandardCharsets.UTF_8);
    try {
      root.write(file(unit, FAILED), out -> out.write(text));
    } catch (IOException e) {
      // on a full disk there is no room for a note either; whoever renders tells it
      LOG.warn("{} cannot be noted as failed: {}", unit.name(), e.getMessage());
    }
  }

  /** Returns why a unit could not be rendered, if that was noted. */
  public Optional<String> failure(Unit.Key unit) {
    String file = file(unit, FAILED);
    return root.isFile(file)
        ? Optional.of(line(file)).filter(why -> !why.isEmpty())
        : Optional.empty();
  }

  private String line(String file) {
    try {
      return TextFile.read(root, file, MAX_MEBIBYTES).strip();
    } catch (InputException e) {
      return "";
    }
  }

  /** Marks a unit as being rendered here; does nothing where that cannot be written. */
  public void running(Unit.Key unit, double share) {
    Running here = Running.here(share);
    String text =
        PlanWriter.text(
            JsonNodeFactory.instance
                .objectNode()
                .put("machine", here.machine)
                .put("process", here.process)
                .put("started", here.started)
                .put("share", share));
    try {
      root.write(file(unit, RUNNING), out -> out.write(text.getBytes(StandardCharsets.UTF_8)));
    } catch (IOException e) {
      LOG.debug("{} cannot be marked", unit, e);
    }
  }

  /** Removes the mark that a unit is being rendered here. */
  public void ended(Unit.Key unit) {
    try {
      String file = file(unit, RUNNING);
      if (mark(file).filter(Running::isHere).isPresent()) {
        root.delete(file);
      }
    } catch (IOException e) {
      LOG.debug("{} keeps its mark", unit, e);
    }
  }

  /** Returns who renders a unit, if it is another process and was heard of lately. */
  public Optional<Running> elsewhere(Unit.Key unit) {
    return heardOf(file(unit, RUNNING)).filter(r -> !r.isHere());
  }

  private Optional<Running> heardOf(String file) {
    try {
      Instant last = Files.getLastModifiedTime(root.file(file)).toInstant();
      // clocks of machines differ a little; a mark of the far future is of none that is at work
      boolean lately = Math.abs(last.until(Instant.now(), ChronoUnit.SECONDS)) < SILENT;
      return lately ? mark(file).filter(r -> !r.hasEnded()) : Optional.empty();
    } catch (NoSuchFileException e) {
      return Optional.empty();
    } catch (IOException e) {
      LOG.debug("{} cannot be read", file, e);
      return Optional.empty();
    }
  }

  private Optional<Running> mark(String file) throws IOException {
    if (!root.isFile(file)) {
      return Optional.empty();
    }
    try {
      JsonNode n = JsonText.read(TextFile.read(root, file, MAX_MEBIBYTES), root.at(file));
      return Optional.of(
          new Running(
              n.path("machine").asText(""),
              n.path("process").asLong(),
              n.path("started").asLong(),
              n.path("share").asDouble()));
    } catch (InputException e) {
      return Optional.empty();
    }
  }

  /** Returns the name of a band of a unit, relative to the delivery. */
  public static String band(Unit.Key unit, int number) {
    return file(unit, BANDS) + "/%04d.exr".formatted(number);
  }

  private void dropBands(Unit.Key unit) throws IOException {
    String bands = file(unit, BANDS);
    if (!root.isFolder(bands)) {
      return;
    }
    for (String band : root.list(bands, n -> BAND.matcher(n).matches())) {
      root.delete(band);
    }
    try {
      root.delete(bands);
    } catch (DirectoryNotEmptyException e) {
      // another process makes the same unit; who ends last takes the folder away
      LOG.debug("{} is in use", bands, e);
    }
  }
}

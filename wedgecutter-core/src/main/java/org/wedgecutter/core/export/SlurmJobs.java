package org.wedgecutter.core.export;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.stream.Collectors;

/**
 * A delivery as jobs of the Slurm scheduler: an array whose elements render shares of the work, and
 * a job that depends on it, which submits again what failed, and at last merges the records, joins
 * the layers and proves them. Each element is one share, of about the time that is asked for.
 *
 * @param program the command that starts this program, as a shell reads it
 * @param plan the plan's file
 * @param delivery folder of the delivery, which all nodes share
 * @param render further options of {@code render}, as a shell reads them
 * @param seconds predicted processor time of the whole, in seconds of one core
 * @param mebibytes memory that an element needs
 * @param wishes what is asked of the scheduler
 */
public record SlurmJobs(
    String program,
    Path plan,
    Path delivery,
    List<String> render,
    double seconds,
    long mebibytes,
    Wishes wishes) {
  /** The most elements that an array has: half of what the scheduler allows by default. */
  public static final int MOST = 500;

  /** How much longer than predicted an element may take before it is ended. */
  private static final double PATIENCE = 4;

  private static final long LEAST_MINUTES = 15;

  /** What the runtime needs beside its heap, MiB. */
  private static final long BESIDE = 400;

  /** How often what failed is submitted again. */
  private static final int TRIES = 3;

  public SlurmJobs {
    render = List.copyOf(render);
  }

  /**
   * What is asked of the scheduler.
   *
   * @param partition its partition; empty leaves it to the scheduler
   * @param account who pays; empty leaves it to the scheduler
   * @param constraint features that nodes must have; may be empty
   * @param cores cores of an element
   * @param minutes about how long an element takes
   */
  public record Wishes(
      String partition, String account, String constraint, int cores, double minutes) {
    public Wishes {
      if (cores < 1 || !(minutes > 0)) {
        throw new IllegalArgumentException("expected 1 core or more, and minutes above 0");
      }
      for (String word : List.of(partition, account, constraint)) {
        if (!Quoting.isSchedulerWord(word)) {
          throw new IllegalArgumentException(
              "'%s' is no name for the scheduler: expected letters, digits and . , @ + : & | * %% / [ ] ( ) ! -"
                  .formatted(word));
        }
      }
    }
  }

  /** Returns how many shares the work is divided into. */
  public int shares() {
    double each = wishes.minutes() * 60 * wishes.cores();
    return (int) Math.max(1, Math.min(MOST, Math.ceil(seconds / each)));
  }

  /** Returns the time that an element is given, in minutes. */
  public long limit() {
    double share = seconds / shares() / wishes.cores() / 60;
    return Math.max(LEAST_MINUTES, (long) Math.ceil(share * PATIENCE));
  }

  /** Returns the files by name: {@code submit.sh}, {@code render.sbatch}, {@code finish.sbatch}. */
  public SortedMap<String, String> files() {
    SortedMap<String, String> out = new TreeMap<>();
    out.put("submit.sh", submit());
    out.put("render.sbatch", element());
    out.put("finish.sbatch", finish());
    return out;
  }

  private static String path(Path path) {
    return Quoting.shell(path.toAbsolutePath().normalize().toString());
  }

  private String asked(String name, boolean array) {
    List<String> lines = new ArrayList<>();
    lines.add("--job-name=" + name);
    lines.add("--output=" + (array ? "log/render-%A_%a.txt" : "log/finish-%j.txt"));
    if (!wishes.partition().isEmpty()) {
      lines.add("--partition=" + wishes.partition());
    }
    if (!wishes.account().isEmpty()) {
      lines.add("--account=" + wishes.account());
    }
    if (!wishes.constraint().isEmpty()) {
      lines.add("--constraint=" + Quoting.shell(wishes.constraint()));
    }
    lines.add("--nodes=1");
    lines.add("--ntasks=1");
    lines.add("--cpus-per-task=" + (array ? wishes.cores() : 1));
    lines.add("--mem=%dM".formatted(mebibytes));
    lines.add("--time=" + (array ? limit() : LEAST_MINUTES * 4));
    if (array) {
      lines.add("--requeue");
    }
    StringBuilder out = new StringBuilder();
    lines.forEach(l -> out.append("#SBATCH ").append(l).append('\n'));
    return out.toString();
  }

  private String submit() {
    return """
    #!/usr/bin/env bash
    # Submits the render of %s: %d shares of about %s minutes on %d cores,
    # and a job that waits for them, submits again what failed, and proves the delivery.
    set -euo pipefail
    cd "$(dirname "${BASH_SOURCE[0]}")"
    mkdir -p log
    array=$(sbatch --parsable --array=1-%d render.sbatch)
    finish=$(sbatch --parsable --dependency="afterany:${array%%%%;*}" finish.sbatch)
    echo "render ${array%%%%;*}, finish ${finish%%%%;*}"
    """
        .formatted(
            Quoting.comment(String.valueOf(plan.getFileName())),
            shares(),
            String.format(Locale.ROOT, "%.3g", seconds / shares() / wishes.cores() / 60),
            wishes.cores(),
            shares());
  }

  private String element() {
    return "#!/usr/bin/env bash\n"
        + asked("wedgecutter-render", true)
        + """
        # One share of the work. What it finishes stays, whatever becomes of it: an element that is
        # started again renders only what is missing.
        set -euo pipefail
        export WEDGECUTTER_JAVA_OPTIONS="-Xmx%dM ${WEDGECUTTER_JAVA_OPTIONS:-}"
        exec %s render %s --out %s --part "$SLURM_ARRAY_TASK_ID/%d" --threads "$SLURM_CPUS_PER_TASK" %s
        """
            .formatted(
                mebibytes - BESIDE,
                program,
                path(plan),
                path(delivery),
                shares(),
                render.stream().map(Quoting::shell).collect(Collectors.joining(" ")));
  }

  private String finish() {
    return "#!/usr/bin/env bash\n"
        + asked("wedgecutter-finish", false)
        + """
        # Runs after all elements have ended, well or not.
        set -euo pipefail
        try=${TRY:-1}
        open=$(%1$s status %2$s --open-parts %3$d | tail -n 1) || true
        if [ -n "$open" ] && [ "$try" -le %4$d ]; then
          echo "try $try: submitting again shares $open"
          array=$(sbatch --parsable --array="$open" render.sbatch)
          sbatch --dependency="afterany:${array%%;*}" --export=ALL,TRY=$((try + 1)) finish.sbatch
          exit 0
        fi
        # merges the records into delivery.json; ends here with 1 if anything is missing
        %1$s status %2$s
        %1$s prove %2$s --frames all
        """
            .formatted(program, path(delivery), shares(), TRIES);
  }
}

package org.wedgecutter.core.fragment;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.function.Predicate;
import org.wedgecutter.core.pass.PassPicture;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.resolve.ResolvedShot;

/** Some passes of one picture: of a layer, or of the uncut frame. */
final class ChosenPasses {
  private final LayerPictures pictures;
  private final ResolvedShot shot;
  private final JobPlan.Source source;
  private final EntitySet shown;
  private final Predicate<String> chosen;

  /**
   * @param source the light of the picture
   * @param shown what it shows
   * @param chosen tells a pass by its title
   */
  ChosenPasses(
      LayerPictures pictures,
      ResolvedShot shot,
      JobPlan.Source source,
      EntitySet shown,
      Predicate<String> chosen) {
    this.pictures = pictures;
    this.shot = shot;
    this.chosen = chosen;
    this.source = source;
    this.shown = shown;
  }

  /**
   * @param lightOf the light of those among some entities that are shown and not the plate
   */
  List<PassPicture> all(Function<EntitySet, float[]> lightOf, EntitySet showing, double denoise) {
    FragmentSums of = pictures.sumsOf(source);
    Map<String, EntitySet> limits = shot.asked().limits();
    List<PassPicture> out = new ArrayList<>();
    Predicate<String> free = title -> !limits.containsKey(PassPictures.word(title));
    out.addAll(made(of, lightOf, shot.all(), chosen.and(free), denoise));
    limits.forEach((word, only) -> {
      Predicate<String> own = title -> PassPictures.word(title).equals(word);
      if (pictures.passTitles().stream().anyMatch(chosen.and(own))) {
        out.addAll(made(of, lightOf, only, chosen.and(own), denoise));
      }
    });
    if (!showing.isEmpty() && chosen.test("plate")) {
      out.add(PassPicture.light("plate", pictures.plateLight(source, showing)));
    }
    return out.stream().map(p -> pictures.shown(p, of)).toList();
  }

  private List<PassPicture> made(
      FragmentSums of,
      Function<EntitySet, float[]> lightOf,
      EntitySet only,
      Predicate<String> wanted,
      double denoise) {
    PassPictures made =
        new PassPictures(
            shot.asked(),
            of,
            pictures.viewOf(source),
            lightOf.apply(only),
            shown.and(only),
            wanted);
    List<PassPicture> out = new ArrayList<>(made.light());
    if (denoise > 0) {
      for (PassPicture pass : out) {
        pictures.denoiser(of).filter(pass.values(), 3, LayerPictures.COLOURS, denoise);
      }
    }
    out.addAll(made.more());
    made.ids(pictures.names()).stream()
        .flatMap(m -> m.pictures().stream())
        .filter(p -> wanted.test(p.title()))
        .forEach(out::add);
    return out;
  }

  Map<String, String> idHeader() {
    PassPictures made =
        new PassPictures(
            shot.asked(),
            pictures.sumsOf(source),
            pictures.viewOf(source),
            new float[0],
            shown,
            chosen);
    Map<String, String> out = new LinkedHashMap<>();
    made.ids(pictures.names()).forEach(m -> out.putAll(m.header()));
    return out;
  }
}

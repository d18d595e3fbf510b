package org.wedgecutter.core.propose;

import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.core.load.LoadedShot;
import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Entity;
import org.wedgecutter.core.scene.EntityKind;
import org.wedgecutter.core.survey.DepthOrder;
import org.wedgecutter.core.survey.Parts;
import org.wedgecutter.core.survey.ShotSurvey;

/**
 * What each part of a scene is to the cut.
 *
 * @param roles the parts, back to front; together they hold everything that can be seen
 */
record Casting(List<Member> roles) {
  /** What a part is to the cut, from back to front. */
  enum Kind {
    BACKGROUND("Background"),
    SET("Set"),
    AROUND("Around the hero"),
    HERO("Hero"),
    FOREGROUND("Foreground"),
    EFFECTS("Effects");

    private final String title;

    Kind(String title) {
      this.title = title;
    }

    String title() {
      return title;
    }
  }

  /**
   * One part.
   *
   * @param title its name, that of its group if it is just one
   * @param reason why it is what it is, in a sentence
   */
  record Member(Kind kind, String title, EntitySet entities, String reason) {}

  private static final Pattern HERO = Pattern.compile("(^|[^a-z])(hero|main|lead)([^a-z]|$)");

  /** Covers so much that it can only be what is behind all. */
  private static final double FILLS = 0.5;

  /** Covers so little that it is not a part of the cut. */
  private static final double LITTLE = 0.002;

  /** Casts a scene; the survey must be by the groups of its hierarchy. */
  static Casting of(LoadedShot shot, ShotSurvey survey) {
    return new Cast(shot, survey).cast();
  }

  private static final class Cast {
    private final LoadedShot shot;
    private final List<Member> out = new ArrayList<>();
    private final EntitySet surfaces;
    private final @Nullable Member hero;

    /** By groups, and the hero, if there is one, as a part of its own, the last. */
    private final ShotSurvey survey;

    private final Parts groups;

    Cast(LoadedShot shot, ShotSurvey byGroups) {
      this.shot = shot;
      surfaces = ofKind(EntityKind.MESH);
      hero = hero(byGroups);
      survey = hero == null ? byGroups : byGroups.by(apart(byGroups.parts(), hero));
      groups = survey.parts();
    }

    private static Parts apart(Parts groups, Member hero) {
      List<Parts.Part> out = new ArrayList<>();
      for (Parts.Part p : groups.parts()) {
        EntitySet left = p.entities().minus(hero.entities);
        if (!left.isEmpty()) {
          out.add(new Parts.Part(p.name(), left));
        }
      }
      out.add(new Parts.Part(hero.title, hero.entities));
      return new Parts(out);
    }

    Casting cast() {
      int count = hero == null ? groups.size() : groups.size() - 1;
      List<Integer> front = new ArrayList<>();
      List<Integer> back = new ArrayList<>();
      List<Integer> around = new ArrayList<>();
      List<Integer> set = new ArrayList<>();
      for (int g = 0; g < count; g++) {
        if (own(g).isEmpty()) {
          continue;
        }
        boolean meets = hero != null && survey.order(g, count) == DepthOrder.Order.INTERLOCKED;
        (isBehind(g) ? back : meets ? around : isInFront(g) ? front : set).add(g);
      }
      if (back.isEmpty() && !set.isEmpty() && set.size() + around.size() + front.size() > 1) {
        // something has to be behind: what is most of the picture
        Integer most = Collections.max(set, Comparator.comparingDouble(this::greatest));
        set.remove(most);
        back.add(most);
      }
      add(
          Kind.BACKGROUND,
          back,
          ofKind(EntityKind.ENVIRONMENT),
          back.isEmpty()
              ? "What is behind everything: the environment."
              : "%s: behind what it overlaps, or most of the picture.".formatted(names(back)));
      add(Kind.SET, set, EntitySet.NONE, "What remains between background and foreground.");
      add(
          Kind.AROUND,
          around,
          EntitySet.NONE,
          "%s: in front of the hero and behind it.".formatted(names(around)));
      if (hero != null) {
        out.add(hero);
      }
      add(
          Kind.FOREGROUND,
          front,
          EntitySet.NONE,
          "%s: in front of all that it overlaps.".formatted(names(front)));
      add(
          Kind.EFFECTS,
          List.of(),
          ofKind(EntityKind.MEDIUM),
          "Media: they can be changed, and cost time, by themselves.");
      return new Casting(List.copyOf(out));
    }

    private void add(Kind kind, List<Integer> of, EntitySet more, String reason) {
      EntitySet entities = more;
      for (int g : of) {
        entities = entities.or(own(g));
      }
      if (!entities.isEmpty()) {
        String title = of.size() == 1 ? titled(groups.name(of.getFirst())) : kind.title();
        boolean taken = out.stream().anyMatch(m -> m.title.equalsIgnoreCase(title));
        out.add(new Member(kind, taken ? kind.title() : title, entities, reason));
      }
    }

    /** The name of a group as a title: "great_ring" becomes "Great ring". */
    private static String titled(String name) {
      String words = name.replace('_', ' ').strip();
      return words.isEmpty()
          ? name
          : words.substring(0, 1).toUpperCase(Locale.ROOT) + words.substring(1);
    }

    private EntitySet ofKind(EntityKind kind) {
      List<Entity> all = shot.scene().entities();
      return EntitySet.where(all.size(), e -> all.get(e).kind() == kind);
    }

    private EntitySet own(int group) {
      return groups.parts().get(group).entities().and(surfaces);
    }

    private String names(List<Integer> of) {
      List<String> names = of.stream().map(groups::name).toList();
      return names.size() > 3
          ? "%s, %s and %d more".formatted(names.get(0), names.get(1), names.size() - 2)
          : Message.all(names);
    }

    private @Nullable Member hero(ShotSurvey byGroups) {
      List<Entity> all = shot.scene().entities();
      EntitySet tagged =
          EntitySet.where(all.size(), e -> all.get(e).tags().contains("hero")).and(surfaces);
      if (!tagged.isEmpty() && !tagged.equals(surfaces)) {
        return new Member(Kind.HERO, Kind.HERO.title(), tagged, "Tagged as the hero.");
      }
      EntitySet named =
          EntitySet.where(
                  all.size(), e -> HERO.matcher(all.get(e).path().toLowerCase(Locale.ROOT)).find())
              .and(surfaces);
      if (!named.isEmpty() && !named.equals(surfaces)) {
        return new Member(Kind.HERO, Kind.HERO.title(), named, "Named as the hero.");
      }
      return moving(byGroups);
    }

    /** What moves and is seen most, unless all there is to see moves. */
    private @Nullable Member moving(ShotSurvey byGroups) {
      Parts parts = byGroups.parts();
      EntitySet best = EntitySet.NONE;
      String name = "";
      double most = LITTLE;
      for (int g = 0; g < parts.size(); g++) {
        EntitySet moves = movers(byGroups, parts.parts().get(g).entities());
        double cover = moves.isEmpty() ? 0 : greatest(byGroups, g);
        if (cover > most && cover < FILLS) {
          most = cover;
          best = moves;
          name = parts.name(g);
        }
      }
      return best.isEmpty() || best.equals(surfaces)
          ? null
          : new Member(
              Kind.HERO,
              Kind.HERO.title(),
              best,
              "%s moves, and is seen more than all else that does.".formatted(name));
    }

    private EntitySet movers(ShotSurvey byGroups, EntitySet group) {
      return EntitySet.where(
              shot.scene().entities().size(), e -> !byGroups.changes().moves().get(e).isEmpty())
          .and(group)
          .and(surfaces);
    }

    private double greatest(int group) {
      return greatest(survey, group);
    }

    private static double greatest(ShotSurvey survey, int group) {
      double most = 0;
      for (int frame : survey.frames()) {
        most = Math.max(most, survey.coverage(group, frame));
      }
      return most;
    }

    private boolean isBehind(int group) {
      boolean overlaps = false;
      boolean front = false;
      for (int other = 0; other < groups.size(); other++) {
        DepthOrder.Order order =
            other == group ? DepthOrder.Order.NONE : survey.order(group, other);
        overlaps |= order != DepthOrder.Order.NONE;
        front |= order == DepthOrder.Order.FRONT || order == DepthOrder.Order.INTERLOCKED;
      }
      return (overlaps && !front) || (greatest(group) > FILLS && !onlyInFront(group));
    }

    private boolean onlyInFront(int group) {
      for (int other = 0; other < groups.size(); other++) {
        if (other != group
            && survey.order(group, other) != DepthOrder.Order.FRONT
            && survey.order(group, other) != DepthOrder.Order.NONE) {
          return false;
        }
      }
      return true;
    }

    private boolean isInFront(int group) {
      boolean overlaps = false;
      for (int other = 0; other < groups.size(); other++) {
        DepthOrder.Order order =
            other == group ? DepthOrder.Order.NONE : survey.order(group, other);
        if (order == DepthOrder.Order.BEHIND || order == DepthOrder.Order.INTERLOCKED) {
          return false;
        }
        overlaps |= order == DepthOrder.Order.FRONT;
      }
      return overlaps && greatest(group) >= LITTLE;
    }
  }
}

package org.wedgecutter.app.station;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.UnaryOperator;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.wedgecutter.app.files.ShotScenes.Addition;
import org.wedgecutter.app.model.Session;
import org.wedgecutter.app.panel.DetailPanel;
import org.wedgecutter.app.panel.Entry;
import org.wedgecutter.app.panel.Typed;
import org.wedgecutter.app.panel.Words;
import org.wedgecutter.core.plan.AddedEdits;
import org.wedgecutter.core.plan.AddedObject;
import org.wedgecutter.core.resolve.EntitySet;
import org.wedgecutter.core.scene.Material;

/** What the plan adds to the scene: ground, haze and fog. */
final class AddedForm extends VBox {
  private static final double FAR = 1e6;

  private final Workbench bench;
  private final Label trouble = Entry.trouble("added-trouble");
  private final List<String> materials;

  AddedForm(Workbench bench, Session session) {
    super(2);
    this.bench = bench;
    materials =
        new ArrayList<>(
            new TreeSet<>(session.shot().read().materials().stream().map(Material::name).toList()));
    getChildren().add(buttons());
    for (AddedObject object : session.plan().requireShot().added()) {
      getChildren()
          .add(
              switch (object) {
                case AddedObject.Ground g -> ground(g);
                case AddedObject.Fog f -> fog(f);
              });
    }
    getChildren().add(trouble);
  }

  private FlowPane buttons() {
    FlowPane out = line(DetailPanel.dim("added to the scene"));
    for (Addition a :
        List.of(Addition.GROUND, Addition.HAZE, Addition.GROUND_FOG, Addition.FOG_BOX)) {
      Button button = new Button("Add " + a.title());
      button.setId("add-" + a.title().replace(' ', '-'));
      button.setOnAction(e -> bench.scenes().add(a, EntitySet.NONE, Set.of()));
      out.getChildren().add(button);
    }
    return out;
  }

  private static FlowPane line(Node... parts) {
    FlowPane out = new FlowPane(14, 2, parts);
    out.setAlignment(Pos.CENTER_LEFT);
    return out;
  }

  private FlowPane ground(AddedObject.Ground g) {
    FlowPane out =
        line(
            new Label(g.name()),
            three(g, "at", "middle x y z (m)", g.at(), g::withAt),
            number(g, "size", "size (m)", g.size(), 1e-6, FAR, g::withSize),
            number(g, "turn", "turn (°)", g.turn(), -3600, 3600, g::withTurn),
            Entry.named("material", material(g)));
    if (g.material().isEmpty()) {
      out.getChildren()
          .addAll(
              three(g, "colour", "colour", g.colour(), g::withColour),
              number(g, "roughness", "roughness", g.roughness(), 0, 1, g::withRoughness));
    }
    out.getChildren().add(remove(g));
    return out;
  }

  private ChoiceBox<String> material(AddedObject.Ground g) {
    ChoiceBox<String> out = new ChoiceBox<>();
    out.setId(id(g, "material"));
    out.setPrefWidth(110);
    out.getItems().add("");
    out.getItems().addAll(materials);
    out.setConverter(Words.of(n -> n.isEmpty() ? "plain" : n));
    out.setValue(g.material());
    out.setOnAction(e -> edit(g, "material", g.withMaterial(out.getValue())));
    return out;
  }

  private FlowPane fog(AddedObject.Fog f) {
    FlowPane out =
        line(
            new Label(f.name()),
            Entry.named(
                "density (1/m)",
                new Entry(
                    id(f, "density"),
                    density(f),
                    9,
                    "extinction per metre, 0 to 1e9; or at frames: 1:0 24:0.1",
                    trouble,
                    t -> edit(f, "density", f.withDensity(density(t))))),
            three(f, "colour", "colour", f.colour(), f::withColour),
            number(f, "anisotropy", "anisotropy", f.anisotropy(), -0.99, 0.99, f::withAnisotropy),
            number(
                f, "falloff", "falloff height (m)", f.falloff(), 0, FAR, v -> f.lying(f.base(), v)),
            number(f, "base", "base (m)", f.base(), -FAR, FAR, v -> f.lying(v, f.falloff())),
            three(f, "emission", "emission", f.emission(), f::withEmission));
    AddedObject.Fog.Box box = f.box();
    if (box != null) {
      out.getChildren()
          .addAll(
              three(
                  f,
                  "box-at",
                  "middle x y z (m)",
                  box.at(),
                  v -> f.in(new AddedObject.Fog.Box(v, box.size()))),
              three(
                  f,
                  "box-size",
                  "size x y z (m)",
                  box.size(),
                  v -> f.in(new AddedObject.Fog.Box(box.at(), v))));
    }
    out.getChildren().add(remove(f));
    return out;
  }

  /** Returns densities as they are typed: a number, or frames with theirs. */
  private static String density(AddedObject.Fog f) {
    if (!f.isKeyed()) {
      return Typed.text(f.density().getFirst().perMetre());
    }
    List<String> keys = new ArrayList<>();
    f.density().forEach(k -> keys.add(k.frame() + ":" + Typed.text(k.perMetre())));
    return String.join("  ", keys);
  }

  private static List<AddedObject.Fog.Density> density(String text) {
    if (!text.contains(":")) {
      return List.of(new AddedObject.Fog.Density(0, Typed.number(text, 0, 1e9)));
    }
    List<AddedObject.Fog.Density> out = new ArrayList<>();
    for (String key : text.split("[;\\s]+")) {
      String[] parts = key.split(":", 2);
      if (parts.length < 2) {
        throw new IllegalArgumentException(
            "'%s': expected a frame and its density, such as 24:0.1".formatted(key));
      }
      out.add(
          new AddedObject.Fog.Density(
              (int) Typed.number(parts[0].strip(), -1e6, 1e6),
              Typed.number(parts[1].strip(), 0, 1e9)));
    }
    return out;
  }

  /** Returns the id of a part: names may hold what ids may not. */
  private static String id(AddedObject of, String part) {
    return "added-" + of.name().replaceAll("\\W", "-") + "-" + part;
  }

  private interface OfNumber {
    AddedObject with(double value);
  }

  private interface OfThree {
    AddedObject with(List<Double> values);
  }

  private HBox number(
      AddedObject of,
      String id,
      String caption,
      double value,
      double least,
      double most,
      OfNumber change) {
    return Entry.named(
        caption,
        Entry.number(
            id(of, id), value, least, most, caption, trouble, v -> edit(of, id, change.with(v))));
  }

  private HBox three(
      AddedObject of, String id, String caption, List<Double> values, OfThree change) {
    List<String> texts = values.stream().map(Typed::text).toList();
    return Entry.named(
        caption,
        new Entry(
            id(of, id),
            String.join("  ", texts),
            9,
            caption + ": three numbers, with spaces between them",
            trouble,
            t -> edit(of, id, change.with(threeNumbers(t)))));
  }

  private static List<Double> threeNumbers(String text) {
    List<Double> out = new ArrayList<>();
    for (String part : text.split("[;\\s]+")) {
      out.add(Typed.number(part, -1e9, 1e9));
    }
    return out;
  }

  private Button remove(AddedObject object) {
    Button out = new Button("Remove");
    out.setId(id(object, "remove"));
    out.setOnAction(
        e -> bench.edit("remove " + object.name(), p -> AddedEdits.remove(p, object.name())));
    return out;
  }

  private void edit(AddedObject before, String what, AddedObject next) {
    UnaryOperator<AddedObject> change = a -> next;
    bench.edit(what + " of " + before.name(), p -> AddedEdits.edit(p, before.name(), change));
  }
}

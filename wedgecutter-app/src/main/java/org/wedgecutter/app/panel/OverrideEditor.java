package org.wedgecutter.app.panel;

import java.util.ArrayList;
import java.util.List;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.GridPane;
import org.jspecify.annotations.Nullable;
import org.wedgecutter.app.typing.HalfTyped;
import org.wedgecutter.core.plan.CellOverride;
import org.wedgecutter.core.plan.Extra;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Value;

/**
 * Overrides as lines: switch, property, value before, verb, value, value after, delete. Values over
 * frames are typed as {@code 1: 0.2; 24: 1}.
 */
public final class OverrideEditor extends GridPane {
  /** What the overrides belong to. */
  public interface Target {
    /** Returns the overrides that there are. */
    List<CellOverride> overrides();

    /** Returns the properties that can be overridden there. */
    List<Property> possible();

    /** Returns the value before; null if there is no single one. */
    @Nullable Value before(Property property);

    /** Returns what can be chosen for a name; empty for other properties. */
    List<String> names(Property property);

    /** Adds or replaces an override. */
    void put(CellOverride override);

    /** Deletes the override of a property. */
    void remove(Property property);
  }

  private final Target target;
  private final int frame;
  private final Label trouble = new Label();

  public OverrideEditor(Target target, int frame) {
    this.target = target;
    this.frame = frame;
    setHgap(8);
    setVgap(4);
    trouble.setId("override-trouble");
    trouble.getStyleClass().add("trouble");
    int row = 0;
    for (CellOverride o : target.overrides()) {
      line(row++, o);
    }
    add(adder(), 1, row);
    add(trouble, 2, row, 5, 1);
  }

  private static String id(String what, Property property) {
    return what + "-" + property.word().replace('.', '-');
  }

  private static Label dim(String text) {
    Label label = new Label(text);
    label.getStyleClass().addAll("number", "dim");
    return label;
  }

  private void line(int row, CellOverride o) {
    Property p = o.property();
    CheckBox on = new CheckBox();
    on.setId(id("override-on", p));
    on.setSelected(o.on());
    on.setTooltip(new Tooltip("on or off; off keeps the override, so that both can be compared"));
    on.setOnAction(e -> target.put(o.withOn(on.isSelected())));
    Label name = new Label(p.word());
    name.setMinWidth(USE_PREF_SIZE);
    Value before = target.before(p);
    Label was = dim(before == null ? "several" : before.text());
    was.setTooltip(new Tooltip("value before the override"));
    Value now = o.at(frame);
    Value after = before == null ? null : Value.apply(p, o.verb(), before, now);
    Label becomes =
        dim(o.on() ? (after == null ? "→ " + now.text() : "→ " + after.text()) : "→ unchanged");
    becomes.setId(id("override-after", p));
    Button away = new Button("×");
    away.setId(id("override-remove", p));
    away.setAccessibleText("delete the override of " + p.word() + "");
    away.setOnAction(e -> target.remove(p));
    addRow(row, on, name, was, verb(o), value(o), becomes, away);
  }

  private Node verb(CellOverride o) {
    ChoiceBox<Property.Verb> verbs = new ChoiceBox<>();
    verbs.setId(id("override-verb", o.property()));
    for (Property.Verb v : Property.Verb.values()) {
      if (o.property().sort().allows(v)) {
        verbs.getItems().add(v);
      }
    }
    verbs.setConverter(Words.of(v -> v.word() + (v == Property.Verb.SCALE ? " by" : "")));
    verbs.setValue(o.verb());
    verbs.setDisable(verbs.getItems().size() == 1);
    verbs.setOnAction(e -> {
      Property.Verb verb = verbs.getValue();
      Value neutral =
          switch (verb) {
            case SET -> before(o.property());
            case SCALE -> new Value.Num(1);
            case ADD -> new Value.Num(0);
          };
      put(o, verb, neutral.text());
    });
    return verbs;
  }

  private Value before(Property p) {
    Value before = target.before(p);
    return before == null ? usual(p) : before;
  }

  /** A value to begin with where there is no single one before. */
  static Value usual(Property p) {
    return switch (p.sort()) {
      case SWITCH -> new Value.Switch(false);
      case NUMBER, WHOLE -> new Value.Num(Math.max(p.least(), Math.min(p.most(), 0.5)));
      case COLOUR -> new Value.Colour(0.5, 0.5, 0.5);
      case MATERIAL -> new Value.Text("clay");
      case SIZE -> new Value.Size(960, 540);
      case FRAMES -> new Value.Text("1");
    };
  }

  private Node value(CellOverride o) {
    Property p = o.property();
    if (p.sort() == Property.Sort.SWITCH && !o.keyed()) {
      ChoiceBox<String> box = new ChoiceBox<>();
      box.setId(id("override-value", p));
      box.getItems().setAll("on", "off");
      box.setValue(o.at(frame).text());
      box.setOnAction(e -> put(o, o.verb(), box.getValue()));
      return box;
    }
    List<String> names = target.names(p);
    if (!names.isEmpty()) {
      ComboBox<String> box = new ComboBox<>();
      box.setId(id("override-value", p));
      box.getItems().setAll(names);
      box.setValue(o.at(frame).text());
      box.setOnAction(e -> put(o, o.verb(), box.getValue()));
      return box;
    }
    TextField field = new TextField(text(o));
    field.setId(id("override-value", p));
    field.setPrefColumnCount(o.keyed() ? 14 : 8);
    field.setTooltip(new Tooltip("a value, or keys (frame: value), for example 1: 0.2; 24: 1"));
    Runnable take =
        () -> {
          if (!field.getText().equals(text(o))) {
            put(o, o.verb(), field.getText());
          }
        };
    HalfTyped.by(field, take);
    field
        .focusedProperty()
        .addListener((property, was, is) -> {
          if (!is && field.getScene() != null) {
            take.run();
          }
        });
    return field;
  }

  private static String text(CellOverride o) {
    if (!o.keyed()) {
      return o.keys().getFirst().value().text().replace("×", " ");
    }
    StringBuilder out = new StringBuilder();
    for (CellOverride.Key key : o.keys()) {
      out.append(out.isEmpty() ? "" : "; ").append(key.frame()).append(": ");
      out.append(key.value().text());
    }
    return o.step() ? out + " step" : out.toString();
  }

  /** Puts an override with what was typed; what is wrong with it is shown. */
  private void put(CellOverride o, Property.Verb verb, String text) {
    try {
      String typed = text.trim();
      boolean step = typed.endsWith(" step");
      String values = step ? typed.substring(0, typed.length() - 5) : typed;
      target.put(o.with(verb, keys(o.property(), verb, values), step));
    } catch (IllegalArgumentException e) {
      trouble.setText(e.getMessage());
    }
  }

  /** Reads a value, or values over frames. */
  static List<CellOverride.Key> keys(Property p, Property.Verb verb, String text) {
    List<CellOverride.Key> out = new ArrayList<>();
    if (!text.contains(":")) {
      out.add(new CellOverride.Key(0, Value.parse(p, verb, text)));
      return out;
    }
    for (String part : text.split(";")) {
      String[] two = part.split(":", 2);
      try {
        int frame = Integer.parseInt(two[0].trim());
        if (!out.isEmpty() && frame <= out.getLast().frame()) {
          throw new IllegalArgumentException("frames of keys must increase");
        }
        out.add(new CellOverride.Key(frame, Value.parse(p, verb, two.length < 2 ? "" : two[1])));
      } catch (NumberFormatException e) {
        throw new IllegalArgumentException("expected frame: value; frame: value", e);
      }
    }
    return out;
  }

  private Node adder() {
    ComboBox<Property> box = new ComboBox<>();
    box.setId("override-add");
    box.setAccessibleText("Add an override");
    box.setPromptText("Add override…");
    box.setConverter(Words.of(Property::word));
    List<Property> there = target.overrides().stream().map(CellOverride::property).toList();
    for (Property p : target.possible()) {
      if (!there.contains(p)) {
        box.getItems().add(p);
      }
    }
    box.setOnAction(e -> {
      Property p = box.getValue();
      if (p != null) {
        Value first = p.sort() == Property.Sort.SWITCH ? new Value.Switch(false) : begin(p);
        target.put(
            new CellOverride(
                p,
                Property.Verb.SET,
                List.of(new CellOverride.Key(0, first)),
                false,
                true,
                Extra.NONE));
      }
    });
    setAlignment(Pos.TOP_LEFT);
    return box;
  }

  private Value begin(Property p) {
    return p.sort() == Property.Sort.MATERIAL ? usual(p) : before(p);
  }
}

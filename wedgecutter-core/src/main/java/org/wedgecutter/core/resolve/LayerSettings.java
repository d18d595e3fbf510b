package org.wedgecutter.core.resolve;

import org.wedgecutter.core.plan.LayerDef;
import org.wedgecutter.core.plan.Property;
import org.wedgecutter.core.plan.Shot;
import org.wedgecutter.core.plan.Value;

/** The settings of a layer at a frame. */
public final class LayerSettings {
  private LayerSettings() {}

  /** Returns the shot's value of a setting. */
  public static Value before(Shot shot, Property property) {
    return switch (property) {
      case SIZE -> new Value.Size(shot.width(), shot.height());
      case FRAMES -> new Value.Text(shot.frames().text());
      case SAMPLES -> new Value.Num(shot.samples());
      case BOUNCES -> new Value.Num(shot.bounces().surfaces());
      case BOUNCES_GLASS -> new Value.Num(shot.bounces().glass());
      case BOUNCES_MEDIA -> new Value.Num(shot.bounces().media());
      case SEE_THROUGH -> new Value.Switch(shot.seeThrough());
      case ENVIRONMENT_LEVEL -> new Value.Num(shot.environment().level());
      case ENVIRONMENT_TURN -> new Value.Num(shot.environment().turn());
      case DENOISE -> new Value.Num(shot.denoise());
      case MOTION_BLUR -> new Value.Switch(shot.shutter() > 0);
      default -> throw new IllegalArgumentException(property.word() + " is not of a layer");
    };
  }

  /** Returns a layer's value of a setting at a frame. */
  public static Value at(LayerDef layer, Shot shot, Property property, int frame) {
    Value before = before(shot, property);
    return layer
        .setting(property)
        .map(o -> Value.apply(property, o.verb(), before, o.at(frame)))
        .orElse(before);
  }
}

package org.wedgecutter.core.check;

import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.Shot;

/** What the plan adds to a scene that lacks it. */
final class ShotChecks {
  private ShotChecks() {}

  static void run(Checked c) {
    if (c.shot.placed() != null
        && c.shot.marks().marks().isEmpty()
        && c.scene.cameras().isEmpty()) {
      c.add(Message.of(Sentence.CAMERA_PLACED), "", "", null);
    }
    if (c.shot.environment().image().equals(Shot.EnvironmentDef.NEUTRAL)) {
      c.add(Message.of(Sentence.LIGHT_NEUTRAL), "", "", null);
    }
  }
}

package org.wedgecutter.core.check;

import org.wedgecutter.core.mistake.Message;
import org.wedgecutter.core.mistake.Sentence;
import org.wedgecutter.core.plan.Shot;

/** What the scene lacks, and what the plan adds to it. */
final class ShotChecks {
  private ShotChecks() {}

  static void run(Checked c) {
    if (c.shot.placed() != null
        && c.shot.marks().marks().isEmpty()
        && c.scene.cameras().isEmpty()) {
      c.add(Message.of(Sentence.CAMERA_PLACED), "", "", null);
    }
    for (String missing : c.scene.missing()) {
      c.add(Message.of(Sentence.SCENE_INCOMPLETE, "what", missing), "", "", null);
    }
    if (c.shot.environment().image().equals(Shot.EnvironmentDef.NEUTRAL)) {
      c.add(Message.of(Sentence.LIGHT_NEUTRAL), "", "", null);
    }
  }
}

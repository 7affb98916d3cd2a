package servitor.core.run;

import java.util.List;
import servitor.core.trail.TrailEvent;

/** What one input did: the next state, what goes on the trail, and what is to be done now. */
public record Transition(RunState state, List<TrailEvent> happenings, List<Command> commands) {
    public Transition {
        happenings = List.copyOf(happenings);
        commands = List.copyOf(commands);
    }
}

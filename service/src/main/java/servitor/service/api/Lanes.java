package servitor.service.api;

import java.util.Optional;
import java.util.Set;
import servitor.core.trail.Lane;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.api.Views.Mark;
import tools.jackson.databind.JsonNode;

/** Shows entries of the trail on the time line of a case. */
final class Lanes {
    /** What requesters do, too: in their own lane. */
    private static final Set<TrailWord> BY_ANYBODY = Set.of(TrailWord.NOTE_ADDED, TrailWord.DOCUMENT_ADDED);

    private Lanes() {}

    /** The mark of an entry; empty for what concerns no lane. */
    static Optional<Mark> mark(RecordedEntry recorded, String requester, ViewMapper describe) {
        TrailWord word = TrailWord.of(recorded.entry().what()).orElse(null);
        JsonNode data = recorded.data();
        if (word == null || word.lane().isEmpty() || data == null) {
            return Optional.empty();
        }
        boolean own = BY_ANYBODY.contains(word) && recorded.entry().actor().equals(TrailEvent.person(requester));
        return Optional.of(new Mark(
                recorded.entry().seq(),
                recorded.entry().at(),
                own ? Lane.REQUESTER : word.lane().get(),
                word,
                word.weight(data),
                describe.named(word.says(data)),
                describe.actor(recorded.entry().actor()),
                recorded.entry().runId(),
                recorded.entry().step(),
                data));
    }
}

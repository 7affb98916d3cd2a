package servitor.core.run;

import java.util.ArrayList;
import java.util.List;
import servitor.core.handbook.Step;
import servitor.core.handbook.Verb;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * What was said between a run and its requester, as far as steps of its page remember it: the last turns word for word, those before
 * in short, and of those before that only how many there were. It stays as small however long they speak.
 *
 * @param turns the last ones, the oldest first
 * @param before the beginnings of some that were said before, the oldest first
 * @param forgotten how many were said before those
 */
public record Conversation(List<Said> turns, List<Said> before, int forgotten) {
    static final Conversation NONE = new Conversation(List.of(), List.of(), 0);
    private static final int LONGEST_TURN = 2_000;
    private static final int MOST_BEFORE = 20;
    private static final int LONGEST_BEFORE = 120;

    public Conversation {
        turns = List.copyOf(turns);
        before = List.copyOf(before);
    }

    /** Something that was said: by {@code us} or by the {@code requester}. */
    public record Said(String by, String text) {
        private Said shortened(int most) {
            return text.length() <= most ? this : new Said(by, text.substring(0, most - 1) + "…");
        }

        private Said begun() {
            return new Said(by, text.split("(?<=[.!?])\\s|\\n", 2)[0]).shortened(LONGEST_BEFORE);
        }
    }

    /** Remembers a turn, if a step of the page remembers any. */
    static void remember(TransitionBuilder turn, String by, String text) {
        int most = turn.page().steps().stream()
                .map(Step::verb)
                .mapToInt(Conversation::remembered)
                .max()
                .orElse(0);
        if (most > 0 && !text.isBlank()) {
            turn.remember(turn.memory().saying(turn.memory().conversation().and(new Said(by, text.strip()), most)));
        }
    }

    private static int remembered(Verb verb) {
        return verb instanceof Verb.Assess assess
                ? assess.remember()
                : verb instanceof Verb.Draft draft ? draft.remember() : 0;
    }

    private Conversation and(Said said, int most) {
        List<Said> last = new ArrayList<>(turns);
        last.add(said.shortened(LONGEST_TURN));
        List<Said> earlier = new ArrayList<>(before);
        while (last.size() > most) {
            earlier.add(last.remove(0).begun());
        }
        int gone = forgotten;
        while (earlier.size() > MOST_BEFORE) {
            earlier.remove(0);
            gone++;
        }
        return new Conversation(last, earlier, gone);
    }

    /** What a step that remembers so many turns is told of it. */
    JsonNode told(int most) {
        int from = Math.max(0, turns.size() - most);
        List<Said> earlier = new ArrayList<>(before);
        turns.subList(0, from).forEach(said -> earlier.add(said.begun()));
        ObjectNode told = Json.object();
        if (forgotten > 0) {
            told.put("turns before", forgotten);
        }
        if (!earlier.isEmpty()) {
            told.set("before, in short", Json.of(earlier));
        }
        return told.set("turns", Json.of(turns.subList(from, turns.size())));
    }
}

package servitor.core.run;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.core.json.Outside;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunState.WrittenText;
import tools.jackson.databind.JsonNode;

/** What a run knows, as it grows while one input is taken: the values it saved, and the texts a machine wrote for it. */
final class RunKnowledge {
    /** The most characters of everything together: well within what a row of the database holds, prompts included. */
    static final int MOST = 400_000;

    private final Map<String, TracedValue> saved;
    private List<WrittenText> written;
    private @Nullable String overgrown;

    RunKnowledge(RunState state) {
        this.saved = new LinkedHashMap<>(state.saved());
        this.written = state.written();
    }

    Map<String, TracedValue> saved() {
        return saved;
    }

    List<WrittenText> written() {
        return written;
    }

    /** Saves a value under a name, if there is one; what would be too much is left out and told by {@link #takeOvergrown}. */
    void save(@Nullable String name, TracedValue value) {
        if (name != null) {
            saved.put(name, value);
            if (length() > MOST) {
                saved.remove(name);
                overgrown = name;
            }
        }
    }

    /** Whether there is room for something of this length beside what is known already, here and in a model's pursuit. */
    boolean hasRoomFor(JsonNode more, StepProgress memory) {
        int found = memory.pursuit() == null
                ? 0
                : memory.pursuit().found().stream()
                        .mapToInt(one -> Outside.length(one.answer().value()))
                        .sum();
        return length() + found + Outside.length(more) <= MOST;
    }

    private int length() {
        return saved.values().stream()
                .mapToInt(value -> Outside.length(value.value()))
                .sum();
    }

    /** The name of what was too much to be saved, told once; null when there was room for all. */
    @Nullable
    String takeOvergrown() {
        String name = overgrown;
        overgrown = null;
        return name;
    }

    /** Marks {@code text} as written by a machine, and whether a person approved exactly this text. */
    void written(String text, boolean reviewed) {
        written = RunState.writtenWith(written, new WrittenText(text, reviewed, null));
    }

    /** {@code by} wrote {@code text} after a machine's draft, and it was approved. */
    void rewritten(String text, @Nullable String by) {
        written = RunState.writtenWith(written, new WrittenText(text, true, by));
    }

    /** Takes over the texts a machine wrote elsewhere for this run. */
    void writtenElsewhere(List<WrittenText> texts) {
        texts.forEach(text -> written = RunState.writtenWith(written, text));
    }
}

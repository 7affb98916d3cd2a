package servitor.core.handbook;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.BiFunction;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Verb.Approve;
import servitor.core.handbook.Verb.Branch;
import servitor.core.handbook.Verb.Call;
import servitor.core.handbook.Verb.Decide;
import servitor.core.handbook.Verb.Draft;
import servitor.core.handbook.Verb.Finish;
import servitor.core.handbook.Verb.HandOver;
import servitor.core.handbook.Verb.Tell;

/** Reads one step block: exactly one verb with its keys. */
final class StepReader {
    static final List<String> STATES = List.of("resolved", "closed", "with-people", "open");

    /** The keys that may stand beside each verb. */
    static final Map<String, List<String>> KEYS = new LinkedHashMap<>();

    private static final Map<String, BiFunction<StepReader, Keys, Verb>> READERS = new LinkedHashMap<>();

    static {
        verb("call", List.of("with", "save", "on", "go"), StepReader::call);
        verb("decide", List.of(), StepReader::decide);
        verb("draft", List.of("language", "max-words", "tone", "save", "on", "go"), StepReader::draft);
        verb("approve", List.of("of", "edit", "show", "within", "save", "go"), StepReader::approve);
        verb("tell", List.of("text", "unreviewed", "on", "go"), StepReader::tell);
        verb("set", List.of("go"), StepReader::set);
        verb("hand-over", List.of("why"), StepReader::handOver);
        verb("finish", List.of("summary"), StepReader::finish);
    }

    private final Yaml block;
    private final Findings findings;
    private @Nullable Keys keys;

    StepReader(Yaml block, Findings findings) {
        this.block = block;
        this.findings = findings;
    }

    private static void verb(String word, List<String> others, BiFunction<StepReader, Keys, Verb> reader) {
        List<String> all = new ArrayList<>(others);
        all.add(0, word);
        KEYS.put(word, List.copyOf(all));
        READERS.put(word, reader);
    }

    /** The verb of the block; null when there isn't exactly one, which is a finding. */
    @Nullable
    Verb verb() {
        List<String> found =
                block.entries().keySet().stream().filter(KEYS::containsKey).toList();
        if (found.size() != 1) {
            findings.error(
                    block.place(),
                    "verb",
                    found.isEmpty()
                            ? "This block has no verb."
                            : "This block has several verbs: " + String.join(", ", found) + ".",
                    found.isEmpty()
                            ? Suggest.mend(
                                    block.entries().keySet().stream()
                                            .findFirst()
                                            .orElse(""),
                                    KEYS.keySet())
                            : "Give each its own step.");
            return null;
        }
        String word = found.get(0);
        keys = Keys.of(block, findings, KEYS.get(word));
        return READERS.get(word).apply(this, keys);
    }

    @Nullable
    String go() {
        Yaml go = block.get("go");
        return go == null || go.isMap() || go.isEmptyValue() ? null : Step.address(go.text());
    }

    Map<String, String> on() {
        return keys == null ? Map.of() : keys.ways("on");
    }

    private Verb call(Keys keys) {
        Yaml with = keys.value("with");
        if (!with.isEmptyValue() && !with.isMap()) {
            findings.error(
                    with.place(),
                    "type",
                    "‘with’ should be a map of the tool's inputs.",
                    "Write ‘with: { input: value }’.");
        }
        return new Call(keys.required("call"), with.isMap() ? keys.template(with) : empty(), keys.text("save"));
    }

    private static servitor.core.expression.Template empty() {
        try {
            return servitor.core.expression.Template.parse(servitor.core.json.Json.object());
        } catch (servitor.core.expression.BadExpression e) {
            throw new IllegalStateException("an empty map is always a template", e);
        }
    }

    private Verb decide(Keys keys) {
        List<Branch> branches = new ArrayList<>();
        String otherwise = null;
        for (Yaml item : keys.value("decide").items()) {
            if (item.get("otherwise") != null) {
                otherwise = Step.address(
                        Keys.of(item, findings, List.of("otherwise")).required("otherwise"));
                continue;
            }
            Keys branch = Keys.of(item, findings, List.of("when", "go"));
            var when = branch.condition("when");
            String go = Step.address(branch.required("go"));
            if (when != null) {
                branches.add(new Branch(when, go));
            } else if (!branch.has("when")) {
                findings.error(
                        item.place(), "missing-key", "This branch has no ‘when’.", "Write ‘- when: '…'’ and ‘go: …’.");
            }
        }
        if (otherwise == null) {
            findings.error(
                    keys.place(),
                    "missing-otherwise",
                    "Nothing says what happens when no condition holds.",
                    "End the list with ‘- otherwise: <step>’.");
            otherwise = Step.HAND_OVER;
        }
        return new Decide(branches, otherwise);
    }

    private Verb draft(Keys keys) {
        if (!keys.text("draft", "").equals("text")) {
            findings.error(
                    keys.value("draft").place(),
                    "draft",
                    "‘" + keys.text("draft", "") + "’ can't be drafted.",
                    "Write ‘draft: text’.");
        }
        return new Draft(
                keys.has("language") ? keys.template("language") : null,
                keys.number("max-words", 200),
                keys.text("tone", ""),
                keys.required("save"));
    }

    private Verb approve(Keys keys) {
        Map<String, String> ways = keys.ways("go");
        List<String> known = List.of("approved", "declined", "expired");
        for (String way : ways.keySet()) {
            if (!known.contains(way)) {
                findings.error(
                        keys.value("go").placeOf(way),
                        "way",
                        "‘" + way + "’ is no answer to an approval.",
                        Suggest.mend(way, known));
            }
        }
        boolean limited = keys.has("within");
        for (String needed : limited ? List.of("declined", "expired") : List.of("declined")) {
            if (!ways.containsKey(needed)) {
                findings.error(
                        keys.placeOf("go"),
                        "missing-go",
                        "Nothing says what happens when the approval is " + needed + ".",
                        "Add ‘" + needed + ": <step>’ under ‘go’; ‘hand over’ is always there.");
            }
        }
        List<String> of = keys.texts("of");
        if (of.isEmpty()) {
            findings.error(
                    keys.place(), "missing-key", "‘of’ is missing: nobody is asked.", "Name the group that answers.");
        }
        return new Approve(
                keys.template("approve"),
                of,
                keys.text("edit"),
                keys.texts("show"),
                keys.duration("within"),
                keys.text("save"),
                ways);
    }

    private Verb tell(Keys keys) {
        if (!keys.text("tell", "").equals("requester")) {
            findings.error(
                    keys.value("tell").place(),
                    "tell",
                    "‘" + keys.text("tell", "") + "’ can't be told anything yet.",
                    "Write ‘tell: requester’.");
        }
        if (!keys.has("text")) {
            keys.required("text");
        }
        return new Tell(keys.template("text"), keys.text("unreviewed"));
    }

    private Verb set(Keys keys) {
        Yaml changes = keys.value("set");
        Keys.of(changes, findings, List.of("priority", "labels", "fields"));
        return new Verb.Set(changes.isMap() ? keys.template(changes) : empty());
    }

    private Verb handOver(Keys keys) {
        return new HandOver(keys.text("hand-over"), keys.template("why"));
    }

    private Verb finish(Keys keys) {
        String state = keys.required("finish");
        if (!state.isEmpty() && !STATES.contains(state)) {
            findings.error(
                    keys.value("finish").place(),
                    "state",
                    "A case can't be left ‘" + state + "’.",
                    Suggest.mend(state, STATES));
        }
        return new Finish(state, keys.has("summary") ? keys.template("summary") : null);
    }
}

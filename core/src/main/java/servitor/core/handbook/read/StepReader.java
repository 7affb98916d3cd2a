package servitor.core.handbook.read;

import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Channel;
import servitor.core.handbook.Opening;
import servitor.core.handbook.Step;
import servitor.core.handbook.Verb;
import servitor.core.handbook.Verb.Call;
import servitor.core.handbook.Verb.Each;
import servitor.core.handbook.Verb.Finish;
import servitor.core.handbook.Verb.Follow;
import servitor.core.handbook.Verb.HandOver;
import servitor.core.handbook.Verb.Open;
import servitor.core.handbook.Verb.Tell;
import servitor.core.handbook.VerbForm;
import servitor.core.handbook.Words;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.finding.Suggest;
import servitor.core.json.Json;

/** Reads one step block: exactly one verb with its keys. */
final class StepReader {
    private static final Map<VerbForm, VerbReader> READERS = new EnumMap<>(VerbForm.class);

    /** Reads one verb out of its block. */
    interface VerbReader {
        Verb read(Keys keys, Findings findings);
    }

    static {
        READERS.put(VerbForm.CALL, StepReader::call);
        READERS.put(VerbForm.OPEN, StepReader::open);
        READERS.put(VerbForm.ASSESS, ModelSteps::assess);
        READERS.put(VerbForm.DRAFT, ModelSteps::draft);
        READERS.put(VerbForm.PURSUE, ModelSteps::pursue);
        READERS.put(VerbForm.READ, ReadSteps::read);
        READERS.put(VerbForm.DECIDE, DecideSteps::decide);
        READERS.put(VerbForm.APPROVE, ApproveSteps::approve);
        READERS.put(VerbForm.TELL, StepReader::tell);
        READERS.put(VerbForm.SET, StepReader::set);
        READERS.put(VerbForm.AWAIT, ApproveSteps::await);
        READERS.put(VerbForm.EACH, StepReader::each);
        READERS.put(VerbForm.FOLLOW, StepReader::follow);
        READERS.put(VerbForm.HAND_OVER, StepReader::handOver);
        READERS.put(VerbForm.FINISH, StepReader::finish);
    }

    /** The verbs that can be read. */
    static Set<VerbForm> readable() {
        return READERS.keySet();
    }

    private final Yaml block;
    private final Findings findings;
    private @Nullable Keys keys;

    StepReader(Yaml block, Findings findings) {
        this.block = block;
        this.findings = findings;
    }

    /** The verb of the block; null when there isn't exactly one, which is a finding. */
    @Nullable
    Verb verb() {
        List<String> found = block.entries().keySet().stream()
                .filter(word -> VerbForm.of(word).isPresent())
                .toList();
        // ‘follow’ is a verb of its own, and a key of ‘each’
        if (found.contains(VerbForm.EACH.word())) {
            found = found.stream()
                    .filter(word -> !word.equals(VerbForm.FOLLOW.word()))
                    .toList();
        }
        if (found.size() != 1) {
            findings.error(
                    block.place(),
                    Code.VERB,
                    found.isEmpty()
                            ? "This block has no verb."
                            : "This block has several verbs: " + String.join(", ", found) + ".",
                    found.isEmpty()
                            ? Suggest.remedy(
                                    block.entries().keySet().stream()
                                            .findFirst()
                                            .orElse(""),
                                    Words.all(VerbForm.class))
                            : "Give each its own step.");
            return null;
        }
        VerbForm form = VerbForm.of(found.get(0)).orElseThrow();
        keys = Keys.of(block, findings, form.keys());
        return Objects.requireNonNull(READERS.get(form)).read(keys, findings);
    }

    @Nullable
    String go() {
        Yaml go = block.get("go");
        return go == null || go.isMap() || go.isEmptyValue() ? null : Step.address(go.text());
    }

    Map<String, String> on() {
        return keys == null ? Map.of() : keys.ways("on");
    }

    @Nullable
    Integer atMost() {
        return keys == null || !keys.has("at-most") ? null : keys.number("at-most", 1);
    }

    @Nullable
    String model() {
        return keys == null ? null : keys.text("model");
    }

    private static Verb call(Keys keys, Findings findings) {
        return new Call(keys.required("call"), keys.inputs("with"), keys.text("save"));
    }

    private static Verb open(Keys keys, Findings findings) {
        String kind = keys.required("open");
        return new Open(kind, keys.inputs("with").with(Opening.KIND, Json.of(kind)), keys.text("save"));
    }

    private static Verb tell(Keys keys, Findings findings) {
        if (keys.value("tell").isEmptyValue()) {
            keys.required("tell");
        }
        String by = keys.text("by", Channel.SAME_WAY.word());
        if (!Channel.OUT.contains(by)) {
            findings.error(
                    keys.value("by").place(),
                    Code.TELL,
                    "There is no channel ‘" + by + "’.",
                    Suggest.remedy(by, Channel.OUT));
        }
        if (!keys.has("text")) {
            keys.required("text");
        }
        return new Tell(keys.template("tell"), Channel.of(by), keys.template("text"), keys.text("unreviewed"));
    }

    private static Verb set(Keys keys, Findings findings) {
        Keys changes = Keys.of(
                keys.value("set"), findings, List.of("title", "state", "priority", "labels", "fields", "relations"));
        String state = changes.text("state");
        if (state != null && !CaseState.WHILE_WORKED_ON.contains(state)) {
            findings.error(
                    changes.value("state").place(),
                    Code.STATE,
                    "A case that is being worked on can't be set to ‘" + state + "’.",
                    "Write open, working, waiting or with-people; ‘finish’ leaves a case resolved or closed.");
        }
        return new Verb.Set(keys.inputs("set"));
    }

    private static Verb each(Keys keys, Findings findings) {
        String trouble = keys.text("on-item-trouble", "stop");
        Verb.OnTrouble onTrouble = switch (trouble) {
            case "skip", "go on" -> Verb.OnTrouble.SKIP; // older pages say ‘go on’
            case "hand-over" -> Verb.OnTrouble.HAND_OVER;
            default -> Verb.OnTrouble.STOP;
        };
        if (onTrouble == Verb.OnTrouble.STOP && !trouble.equals("stop")) {
            findings.error(
                    keys.value("on-item-trouble").place(),
                    Code.WAY,
                    "‘" + trouble + "’ is nothing to do about an item in trouble.",
                    "Write ‘stop’ (no further items; the problem ‘trouble’), ‘skip’ or ‘hand-over’.");
        }
        return new Each(
                keys.template("each"),
                keys.text("as", "item"),
                Step.page(keys.required("follow")),
                keys.inputs("with"),
                Math.min(keys.number("at-once", 1), 20),
                onTrouble,
                keys.text("save"));
    }

    private static Verb follow(Keys keys, Findings findings) {
        return new Follow(Step.page(keys.required("follow")), keys.inputs("with"), keys.text("save"));
    }

    private static Verb handOver(Keys keys, Findings findings) {
        return new HandOver(keys.text("hand-over"), keys.template("why"));
    }

    private static Verb finish(Keys keys, Findings findings) {
        String state = keys.required("finish");
        if (!state.isEmpty() && !CaseState.AT_THE_END.contains(state)) {
            findings.error(
                    keys.value("finish").place(),
                    Code.STATE,
                    "A case can't be left ‘" + state + "’.",
                    Suggest.remedy(state, CaseState.AT_THE_END));
        }
        return new Finish(state, keys.has("summary") ? keys.template("summary") : null);
    }
}

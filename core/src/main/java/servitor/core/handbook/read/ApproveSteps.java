package servitor.core.handbook.read;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Template;
import servitor.core.handbook.AnswerTime;
import servitor.core.handbook.Quorum;
import servitor.core.handbook.Step;
import servitor.core.handbook.Verb;
import servitor.core.handbook.Verb.Approve;
import servitor.core.handbook.Verb.Await;
import servitor.core.handbook.Verb.Awaited;
import servitor.core.handbook.Words;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.shape.Shape;

/** Reads the steps that wait for people or for something to happen. */
final class ApproveSteps {
    private ApproveSteps() {}

    static Verb approve(Keys keys, Findings findings) {
        Map<String, String> ways = keys.goWays(Approve.ANSWERS);
        int rounds = rounds(keys, findings);
        List<String> needed = new ArrayList<>(List.of(Approve.DECLINED));
        if (keys.has("within") || keys.has("until")) {
            needed.add(Approve.EXPIRED);
        }
        if (keys.has("valid-while")) {
            needed.add(Approve.WITHDRAWN);
        }
        if (rounds > 0) {
            needed.add(Approve.EXHAUSTED);
        }
        for (String answer : needed) {
            if (!ways.containsKey(answer)) {
                findings.error(
                        keys.placeOf("go"),
                        Code.MISSING_GO,
                        "Nothing says what happens when the approval is " + answer + ".",
                        "Add ‘" + answer + ": <step>’ under ‘go’; ‘hand over’ is always there.");
            }
        }
        List<Template> of = keys.templates("of");
        if (of.isEmpty()) {
            findings.error(
                    keys.place(),
                    Code.MISSING_KEY,
                    "‘of’ is missing: nobody is asked.",
                    "Name the group that answers.");
        }
        Shape.Fields form = keys.has("form") ? new ShapeReader(findings).map(keys.value("form")) : null;
        return new Approve(
                keys.template("approve"),
                of,
                quorum(keys, findings),
                keys.templates("not"),
                keys.text("edit"),
                form,
                keys.inputs("choices"),
                address(keys, "for"),
                keys.texts("show"),
                rounds,
                time(keys, findings),
                reminders(keys, findings),
                keys.condition("valid-while"),
                lapsesWhenNobody(keys, findings),
                keys.text("save"),
                ways);
    }

    private static boolean lapsesWhenNobody(Keys keys, Findings findings) {
        String nobody = keys.text("nobody", "");
        if (!List.of("", Approve.EXPIRED).contains(nobody)) {
            findings.error(
                    keys.value("nobody").place(),
                    Code.QUORUM,
                    "‘" + nobody + "’ is nothing to do when nobody can answer.",
                    "Write ‘nobody: expired’ to go that way at once, or leave it out: people are told, and it waits.");
        }
        return nobody.equals(Approve.EXPIRED);
    }

    private static AnswerTime time(Keys keys, Findings findings) {
        if (keys.has("until")) {
            if (keys.has("within")) {
                findings.error(
                        keys.placeOf("until"),
                        Code.UNKNOWN_KEY,
                        "‘until’ and ‘within’ both say when the time is over.",
                        "Keep one of them.");
            }
            return new AnswerTime(null, false, keys.template("until"));
        }
        if (!keys.value("within").isMap()) {
            return new AnswerTime(keys.duration("within"), false, null);
        }
        Keys within = Keys.of(keys.value("within"), findings, List.of("working-hours"));
        int hours = within.number("working-hours", 0);
        if (hours < 1 || hours > 10_000) {
            findings.error(
                    keys.placeOf("within"),
                    Code.HOURS,
                    "‘within’ says no number of working hours.",
                    "Write it as in ‘within: { working-hours: 8 }’.");
        }
        return new AnswerTime(Duration.ofHours(Math.max(1, hours)), true, null);
    }

    private static @Nullable String address(Keys keys, String key) {
        String text = keys.text(key);
        return text == null ? null : Step.address(text);
    }

    private static int rounds(Keys keys, Findings findings) {
        if (!keys.has("feedback")) {
            return 0;
        }
        Keys feedback = Keys.of(keys.value("feedback"), findings, List.of("rounds"));
        if (!keys.has("edit")) {
            findings.error(
                    keys.placeOf("feedback"),
                    Code.FEEDBACK,
                    "There is no draft that feedback could go back to.",
                    "Add ‘edit: <name>’ with the name a draft saves under.");
            return 0;
        }
        return feedback.number("rounds", 3);
    }

    private static Quorum quorum(Keys keys, Findings findings) {
        boolean tolerate = keys.text("declines", "").equals("tolerate");
        if (keys.has("declines") && !tolerate) {
            findings.error(
                    keys.value("declines").place(),
                    Code.QUORUM,
                    "‘" + keys.text("declines", "") + "’ is nothing to do about declines.",
                    "Write ‘declines: tolerate’, or leave it out: one decline then declines.");
        }
        Yaml value = keys.value("quorum");
        String word = value.isEmptyValue() ? "any" : value.text();
        if (word.equals("any") || word.equals("all")) {
            return new Quorum(word.equals("any") ? Quorum.Rule.ANY : Quorum.Rule.ALL, 1, tolerate);
        }
        if (word.matches("[1-9][0-9]?")) {
            return new Quorum(Quorum.Rule.NUMBER, Integer.parseInt(word), tolerate);
        }
        findings.error(
                value.place(),
                Code.QUORUM,
                "‘" + word + "’ is no number of approvals.",
                "Write any, all, or a number from 1 to 99.");
        return Quorum.ALL;
    }

    private static List<Double> reminders(Keys keys, Findings findings) {
        List<Double> shares = new ArrayList<>();
        Yaml value = keys.value("remind");
        List<Yaml> items = value.isList() ? value.items() : value.isEmptyValue() ? List.of() : List.of(value);
        for (Yaml item : items) {
            if (item.scalar().isNumber()
                    && item.scalar().asDouble(-1) > 0
                    && item.scalar().asDouble(-1) < 1) {
                shares.add(item.scalar().asDouble(-1));
            } else {
                findings.error(
                        item.place(),
                        Code.SURE,
                        "A reminder comes after a share of the time, between 0 and 1.",
                        "Write ‘remind: [0.5, 0.9]’.");
            }
        }
        if (!shares.isEmpty() && !keys.has("within") && !keys.has("until")) {
            findings.error(
                    keys.placeOf("remind"),
                    Code.MISSING_KEY,
                    "‘within’ is missing: a reminder comes after a share of that time.",
                    "Add ‘within: P2D’.");
        }
        return shares;
    }

    private static List<String> types(Keys keys, Awaited what, Findings findings) {
        List<String> types = keys.texts("type");
        if (!types.isEmpty() && what != Awaited.DOCUMENT) {
            findings.error(
                    keys.placeOf("type"),
                    Code.AWAIT,
                    "Only a document has a type.",
                    "Take ‘type’ out, or write ‘await: document’.");
        }
        ReadSteps.types(types, keys.value("type"), findings);
        return types;
    }

    static Verb await(Keys keys, Findings findings) {
        String word = keys.required("await");
        Awaited what = Awaited.REPLY;
        if (Words.find(Awaited.class, word).isPresent()) {
            what = Words.find(Awaited.class, word).get();
        } else if (!word.isEmpty()) {
            findings.error(
                    keys.value("await").place(),
                    Code.AWAIT,
                    "‘" + word + "’ can't be waited for.",
                    "Write " + String.join(", ", Words.all(Awaited.class)) + ".");
        }
        Map<String, String> ways = keys.goWays(Await.ANSWERS);
        boolean unnamed = keys.text("named", "").isBlank();
        if (what == Awaited.TIME && !keys.has("until") && !keys.has("within")) {
            findings.error(
                    keys.place(),
                    Code.AWAIT,
                    "Nothing says how long to wait.",
                    "Add ‘within: PT2H’ or ‘until: \"${…}\"’ with a time.");
        }
        if (what == Awaited.EVENT && unnamed) {
            findings.error(
                    keys.place(), Code.AWAIT, "Nothing says which event is waited for.", "Add ‘named: <event>’.");
        }
        if (what == Awaited.CASE && unnamed) {
            findings.error(
                    keys.place(),
                    Code.AWAIT,
                    "Nothing says which case is waited for.",
                    "Add ‘named: <name>’ with the name that a step with ‘open’ saves under.");
        }
        if (what != Awaited.TIME && keys.has("within") && !ways.containsKey(Await.EXPIRED)) {
            findings.error(
                    keys.placeOf("within"),
                    Code.MISSING_GO,
                    "Nothing says what happens when nothing comes within that time.",
                    "Write ‘go: { arrived: <step>, expired: <step> }’.");
        }
        return new Await(
                what,
                keys.text("named", ""),
                types(keys, what, findings),
                keys.has("until") ? keys.template("until") : null,
                keys.duration("within"),
                keys.text("save"),
                ways);
    }
}

package servitor.core.handbook.read;

import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import servitor.core.document.ReadDocument.Row;
import servitor.core.document.ReadDocument.Table;
import servitor.core.document.ReadOutcome;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Channel;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.About;
import servitor.core.handbook.Rehearsal.CallOf;
import servitor.core.handbook.Rehearsal.Cue;
import servitor.core.handbook.Rehearsal.Must;
import servitor.core.handbook.Rehearsal.Paper;
import servitor.core.handbook.Rehearsal.PeopleSay;
import servitor.core.handbook.Rehearsal.Requester;
import servitor.core.handbook.Rehearsal.Result;
import servitor.core.handbook.Rehearsal.Unasked;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/** Reads a file of {@code rehearsals/}. */
final class RehearsalFile {
    /** When a case is opened that doesn't say so. */
    private static final Instant USUAL = Instant.parse("2026-06-01T09:00:00Z");

    private static final List<String> SORTS = List.of("tool", "model", "people", "comes", "unasked");
    private static final List<String> REASONS = List.of("decline", "feedback", "retry", "skip", "take-over");
    private static final List<String> SAYS = Stream.of(PeopleSay.ANSWERS, PeopleSay.SETTLES, PeopleSay.MENDS)
            .flatMap(List::stream)
            .toList();
    private static final List<String> COMES = List.of("reply", "document", "event", "case");
    private static final List<String> PROOFS = List.of("signed-in", "verified", "claimed");
    /** {@code event} stands in files of before, where a case came from a system. */
    private static final List<String> CHANNELS =
            Stream.concat(Channel.IN.stream(), Stream.of("event")).toList();

    private static final List<String> MOST = List.of("calls", "tokens", "approvals");

    private static final List<String> OUTCOMES =
            Arrays.stream(ReadOutcome.values()).map(ReadOutcome::word).toList();
    private static final String SPREADSHEET = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";

    private final Findings findings;

    private RehearsalFile(Findings findings) {
        this.findings = findings;
    }

    static Rehearsal read(String name, Yaml yaml, Findings findings) {
        return new RehearsalFile(findings).read(name, yaml);
    }

    private Rehearsal read(String name, Yaml yaml) {
        Keys keys = Keys.of(yaml, findings, List.of("title", "case", "answers", "must"));
        return new Rehearsal(
                name,
                keys.required("title"),
                about(keys.needed("case")),
                keys.value("answers").items().stream().map(this::cue).toList(),
                must(keys.needed("must")),
                keys.places());
    }

    private About about(Yaml value) {
        Keys keys = Keys.of(
                value,
                findings,
                List.of(
                        "kind",
                        "page",
                        "subject",
                        "text",
                        "language",
                        "channel",
                        "priority",
                        "fields",
                        "labels",
                        "requester",
                        "documents",
                        "at"));
        return new About(
                keys.required("kind"),
                keys.text("page"),
                keys.text("subject", "A request"),
                keys.text("text", ""),
                keys.text("language", "en"),
                oneOf(keys, "channel", CHANNELS, "note"),
                keys.text("priority", "normal"),
                map(keys.value("fields")),
                keys.texts("labels"),
                requester(keys.value("requester")),
                keys.value("documents").items().stream().map(this::paper).toList(),
                time(keys));
    }

    private Requester requester(Yaml value) {
        Keys keys = Keys.of(value, findings, List.of("id", "name", "account", "manager", "groups", "proof"));
        return new Requester(
                keys.text("id", "requester"),
                keys.text("name", "Ines Halloran"),
                keys.text("account", "P-1042"),
                keys.text("manager", ""),
                Set.copyOf(keys.texts("groups")),
                oneOf(keys, "proof", PROOFS, "signed-in"));
    }

    private Paper paper(Yaml value) {
        Keys keys = Keys.of(value, findings, List.of("name", "type", "outcome", "pages", "tables"));
        List<Table> tables = new ArrayList<>();
        keys.value("tables").items().forEach(item -> {
            Keys table = Keys.of(item, findings, List.of("name", "header", "rows"));
            List<Row> rows = new ArrayList<>();
            table.value("rows")
                    .items()
                    .forEach(row -> rows.add(new Row(
                            rows.size() + 1,
                            row.items().stream().map(Yaml::json).toList())));
            tables.add(new Table(table.text("name", "Sheet"), table.number("header", 1), rows, List.of()));
        });
        String outcome = oneOf(keys, "outcome", OUTCOMES, ReadOutcome.TEXT.word());
        return new Paper(
                keys.required("name"),
                keys.text("type", tables.isEmpty() ? "application/pdf" : SPREADSHEET),
                ReadOutcome.values()[OUTCOMES.indexOf(outcome)],
                keys.texts("pages"),
                List.copyOf(tables));
    }

    private Cue cue(Yaml item) {
        String sort = SORTS.stream()
                .filter(word -> item.isMap() && item.get(word) != null)
                .findFirst()
                .orElse("");
        return switch (sort) {
            case "tool" -> {
                Keys keys = Keys.of(
                        item,
                        findings,
                        List.of("tool", "with", "gives", "fails", "detail", "in-doubt", "silent", "again", "after"));
                yield new Rehearsal.ToolSays(
                        keys.required("tool"),
                        map(keys.value("with")),
                        result(keys),
                        keys.yes("again"),
                        after(keys),
                        item.place());
            }
            case "model" -> {
                Keys keys = Keys.of(
                        item,
                        findings,
                        List.of("model", "gives", "fails", "detail", "silent", "calls", "tokens", "after"));
                Result result = result(keys);
                yield new Rehearsal.ModelSays(
                        keys.required("model"),
                        result,
                        keys.number("tokens", Rehearsal.ModelSays.usual(result)),
                        after(keys),
                        item.place());
            }
            case "people" -> people(item);
            case "comes" -> comes(item);
            case "unasked" -> unasked(item);
            default -> {
                findings.error(
                        item.place(),
                        Code.REHEARSAL,
                        "This doesn't say who answers.",
                        "Begin it with ‘tool’, ‘model’, ‘people’, ‘comes’ or ‘unasked’.");
                yield new Rehearsal.ModelSays("", new Rehearsal.Gives(Json.object()), 0, Duration.ZERO, item.place());
            }
        };
    }

    private Result result(Keys keys) {
        if (keys.has("fails")) {
            return new Rehearsal.Fails(keys.required("fails"), keys.text("detail", "as rehearsed"));
        }
        if (keys.has("in-doubt")) {
            return new Rehearsal.Doubt(keys.required("in-doubt"));
        }
        if (keys.yes("silent")) {
            return new Rehearsal.Silent();
        }
        return keys.has("calls")
                ? new Rehearsal.Calls(calls(keys.value("calls")))
                : new Rehearsal.Gives(keys.has("gives") ? keys.value("gives").json() : Json.object());
    }

    private Cue people(Yaml item) {
        Keys keys = Keys.of(
                item, findings, List.of("people", "say", "by", "reason", "text", "texts", "form", "gives", "after"));
        String says = oneOf(keys, "say", SAYS, "approve");
        Map<String, String> texts = new LinkedHashMap<>();
        keys.entries("texts").forEach((key, text) -> texts.put(key, text.text()));
        if (keys.has("text")) {
            texts.put("", keys.text("text", ""));
        }
        return new PeopleSay(
                keys.required("people"),
                says,
                keys.text("by", "rehearsed"),
                keys.text("reason", REASONS.contains(says) ? "as rehearsed" : ""),
                texts,
                given(keys, says),
                after(keys),
                item.place());
    }

    private static @Nullable JsonNode given(Keys keys, String says) {
        if (says.equals(PeopleSay.HAPPENED)) {
            return map(keys.value("gives"));
        }
        String key = says.equals(PeopleSay.SKIP) ? "gives" : "form";
        return keys.has(key) ? keys.value(key).json() : null;
    }

    private Cue comes(Yaml item) {
        Keys keys =
                Keys.of(item, findings, List.of("comes", "named", "text", "gives", "document", "unawaited", "after"));
        JsonNode value = keys.has("text") ? Json.object().put("text", keys.text("text", "")) : map(keys.value("gives"));
        return new Rehearsal.Comes(
                oneOf(keys, "comes", COMES, "reply"),
                keys.text("named", ""),
                value,
                "document".equals(keys.text("comes")) ? paper(keys.needed("document")) : null,
                keys.yes("unawaited"),
                after(keys),
                item.place());
    }

    private Cue unasked(Yaml item) {
        Keys keys = Keys.of(item, findings, List.of("unasked", "at", "which", "by", "says", "after"));
        return new Unasked(
                oneOf(keys, "unasked", Unasked.DOES, "stop"),
                keys.text("at", ""),
                keys.number("which", 1),
                keys.text("by", "rehearsed"),
                keys.text("says", "as rehearsed"),
                after(keys),
                item.place());
    }

    private static Duration after(Keys keys) {
        Duration after = keys.duration("after");
        return after == null ? Duration.ZERO : after;
    }

    private Must must(Yaml value) {
        Keys keys = Keys.of(
                value, findings, List.of("end", "steps", "calls", "never", "verdicts", "told", "asked", "at-most"));
        Map<String, String> verdicts = new LinkedHashMap<>();
        keys.entries("verdicts").forEach((tool, verdict) -> {
            known(verdict, List.of(Decision.ALLOW.word(), Decision.ASK.word(), Decision.DENY.word()));
            verdicts.put(tool, verdict.text());
        });
        Map<String, Integer> most = new LinkedHashMap<>();
        Keys limits = Keys.of(keys.value("at-most"), findings, MOST);
        MOST.stream()
                .filter(limits::has)
                .forEach(name -> most.put(name, limits.value(name).json().asInt(0)));
        if (keys.has("end")) {
            known(
                    keys.value("end"),
                    Arrays.stream(CaseState.values()).map(CaseState::word).toList());
        }
        return new Must(
                keys.text("end"),
                keys.texts("steps"),
                calls(keys.value("calls")),
                keys.texts("never"),
                verdicts,
                keys.texts("told"),
                keys.texts("asked"),
                most);
    }

    private List<CallOf> calls(Yaml value) {
        return value.items().stream()
                .map(item -> {
                    Keys keys = Keys.of(item, findings, List.of("tool", "with"));
                    return new CallOf(keys.required("tool"), map(keys.value("with")), item.place());
                })
                .toList();
    }

    private static JsonNode map(Yaml value) {
        return value.isMap() ? value.json() : Json.object();
    }

    private String oneOf(Keys keys, String key, List<String> words, String otherwise) {
        if (keys.has(key)) {
            known(keys.value(key), words);
        }
        String word = keys.text(key, otherwise);
        return words.contains(word) ? word : otherwise;
    }

    private void known(Yaml value, List<String> words) {
        findings.unknown(Code.UNKNOWN_OPTION, value.text(), words, value.place());
    }

    private Instant time(Keys keys) {
        String text = keys.text("at");
        try {
            return text == null ? USUAL : Instant.parse(text);
        } catch (DateTimeException e) {
            findings.error(
                    keys.value("at").place(),
                    Code.REHEARSAL,
                    "‘" + text + "’ is no time.",
                    "Write a time with its zone, as in 2026-06-01T09:00:00Z.");
            return USUAL;
        }
    }
}

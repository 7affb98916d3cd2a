package servitor.core.run;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalState;
import servitor.core.handbook.AnswerTime;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Desk;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Step;
import servitor.core.handbook.Verb.Approve;
import servitor.core.handbook.Verb.Call;
import servitor.core.json.Json;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunInput.ApprovalClosed;
import servitor.core.run.RunInput.FeedbackGiven;
import servitor.core.run.RunInput.Judged;
import servitor.core.run.RunState.Pending;
import servitor.core.run.StepProgress.Round;
import servitor.core.shape.Shape;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * {@code approve}: people are asked about a text they may change, a form they fill in, a coming call, or about what is
 * shown. Feedback goes back to the draft that wrote the text.
 */
final class ApproveHandler implements VerbHandler<Approve> {
    private static final int MOST_CHOICES = 200;

    @Override
    public void enter(TransitionBuilder turn, Approve verb) {
        if (verb.forStep() == null) {
            open(turn, verb, Json.object(), null);
            return;
        }
        Step about = turn.page().step(verb.forStep()).orElseThrow();
        Call call = (Call) about.verb();
        Optional<ProposedCall> prepared = GatedCall.prepare(turn, call.tool(), call.inputs());
        prepared.ifPresent(coming -> GatedCall.judge(turn, coming, Set.of()));
    }

    private static void open(TransitionBuilder turn, Approve verb, ObjectNode sheet, @Nullable ProposedCall call) {
        if (verb.edit() != null && !edits(turn, verb.edit(), sheet)) {
            return;
        }
        if (verb.form() != null) {
            TracedValue choices = turn.fill(verb.choices());
            ObjectNode form = choices == null ? null : form(turn, verb.form(), choices.value());
            if (form == null) {
                return;
            }
            sheet.set("form", form);
        }
        if (!verb.show().isEmpty()) {
            ObjectNode shown = sheet.putObject("show");
            verb.show().forEach(name -> {
                TracedValue value = turn.known().saved().get(name);
                shown.set(name, value == null ? Json.of(null) : value.value());
            });
        }
        Set<String> of = Whom.of(turn, verb.of());
        Set<String> not = of == null ? null : Whom.of(turn, verb.not());
        if (of == null || not == null) {
            return;
        }
        int left = Math.max(
                0,
                verb.rounds() - turn.memory().rounds().getOrDefault(turn.step().address(), 0));
        if (verb.rounds() > 0) {
            sheet.putObject("feedback").put("left", left);
        }
        Optional<Duration> within = within(turn, verb.time());
        if (within == null) {
            return;
        }
        ApprovalRequest request = new ApprovalRequest(
                turn.usage().nextId(),
                turn.step().address(),
                turn.words(verb.question()),
                of,
                verb.quorum(),
                not,
                left,
                sheet,
                within.orElse(null),
                verb.remind(),
                verb.validWhile() == null ? null : verb.validWhile().text(),
                verb.lapsesWhenNobody());
        turn.command(new Command.OpenApproval(request));
        turn.awaitPeople(request.id(), call, "an answer of " + String.join(" or ", new TreeSet<>(of)));
    }

    /** How long people have from now, empty for ever; null after the way of a problem, when that can't be told. */
    @SuppressWarnings("OptionalAssignedToNull")
    private static @Nullable Optional<Duration> within(TransitionBuilder turn, AnswerTime time) {
        Instant now = turn.situation().now();
        ZoneId zone = turn.edition().handbook().house().timeZone();
        Instant end;
        if (time.until() != null) {
            TracedValue until = turn.fill(time.until());
            if (until == null) {
                return null;
            }
            end = AwaitHandler.time(until.value().asString(""), zone);
        } else if (time.within() != null && time.working()) {
            Desk desk = turn.edition().handbook().desks().get(turn.page().desk());
            end = desk == null || desk.hours() == null ? null : desk.hours().after(now, time.within(), zone);
        } else {
            return Optional.ofNullable(time.within());
        }
        if (end == null) {
            turn.problem(Problem.INVALID, "it can't be told until when people may answer");
            return null;
        }
        return Optional.of(end.isBefore(now) ? Duration.ZERO : Duration.between(now, end));
    }

    /** Puts the texts that may be edited on the sheet; false when there are none. */
    private static boolean edits(TransitionBuilder turn, String name, ObjectNode sheet) {
        TracedValue saved = turn.known().saved().get(name);
        if (saved == null || !(saved.value().isString() || saved.value().isObject())) {
            turn.problem(Problem.INVALID, "‘" + name + "’ isn't saved as a text yet, so there is nothing to approve");
            return false;
        }
        List<Round> before = turn.memory().feedback().getOrDefault(name, List.of());
        if (!before.isEmpty()) {
            Round last = before.get(before.size() - 1);
            sheet.putObject("before")
                    .put("said", last.said())
                    .set(
                            "versions",
                            saved.value().isString() ? Json.object().set(name, last.version()) : named(name, last));
        }
        ArrayNode edits = sheet.putArray("edits");
        if (saved.value().isString()) {
            edits.addObject()
                    .put("key", name)
                    .put("text", saved.value().stringValue())
                    .put("written", saved.written());
        } else {
            saved.value().properties().stream()
                    .filter(e -> e.getValue().isString())
                    .forEach(e -> edits.addObject()
                            .put("key", name + "." + e.getKey())
                            .put("text", e.getValue().stringValue())
                            .put(
                                    "written",
                                    Objects.requireNonNull(saved.at(List.of(e.getKey())))
                                            .written()));
        }
        return true;
    }

    /** The texts of a version of several, by the keys that they have on the sheet. */
    private static ObjectNode named(String name, Round round) {
        ObjectNode named = Json.object();
        round.version().properties().forEach(e -> named.set(name + "." + e.getKey(), e.getValue()));
        return named;
    }

    /** The form as it is shown; null after the way of a problem, when a field has nothing to choose among. */
    static @Nullable ObjectNode form(TransitionBuilder turn, Shape.Fields form, JsonNode choices) {
        ObjectNode shown = Json.object();
        ObjectNode schema = form.schema();
        ArrayNode fields = shown.putArray("fields");
        for (Map.Entry<String, Shape.Field> one : form.fields().entrySet()) {
            String name = one.getKey();
            Shape shape = one.getValue().shape();
            List<String> options = shape instanceof Shape.OneOf oneOf ? oneOf.options() : List.of();
            List<String> titles = options;
            if (choices.has(name)) {
                options = texts(choices.get(name), "value");
                titles = texts(choices.get(name), "title");
                if (options.isEmpty()) {
                    turn.problem(Problem.INVALID, "there is nothing to choose among for ‘" + name + "’");
                    return null;
                }
                ((ObjectNode) schema.path("properties")).set(name, new Shape.OneOf(options).schema());
            }
            ObjectNode field = fields.addObject().put("name", name).put("type", shape.words());
            field.set("options", Json.of(options));
            field.set("titles", Json.of(titles));
        }
        shown.set("schema", schema);
        return shown;
    }

    private static List<String> texts(JsonNode choices, String part) {
        List<String> texts = new ArrayList<>();
        choices.forEach(choice -> {
            String text = choice.isObject()
                    ? choice.path(part).asString(choice.path("value").asString(""))
                    : choice.asString("");
            if (!text.isBlank() && texts.size() < MOST_CHOICES) {
                texts.add(text);
            }
        });
        return texts;
    }

    @Override
    public void resume(TransitionBuilder turn, Approve verb, RunInput input) {
        if (input instanceof Judged judged) {
            judged(turn, verb, judged);
        } else if (input instanceof FeedbackGiven feedback) {
            sentBack(turn, verb, feedback);
        } else if (input instanceof ApprovalClosed closed) {
            closed(turn, verb, closed);
        }
    }

    private static void judged(TransitionBuilder turn, Approve verb, Judged judged) {
        ProposedCall call = turn.awaitedCall();
        turn.log(
                TrailWord.VERDICT,
                Json.object()
                        .put("tool", call.tool())
                        .put("verdict", judged.verdict().decision().word())
                        .put("reason", judged.verdict().reason())
                        .put("beforehand", true));
        if (judged.verdict().decision() == Decision.DENY) {
            turn.problem(Problem.REFUSED, judged.verdict().reason());
        } else {
            open(turn, verb, GatedCall.sheet(turn, call, judged.verdict().reason()), call);
        }
    }

    private static void sentBack(TransitionBuilder turn, Approve verb, FeedbackGiven feedback) {
        String name = Objects.requireNonNull(verb.edit());
        String draft = name == null ? null : turn.memory().drafts().get(name);
        int rounds = turn.memory().rounds().getOrDefault(turn.step().address(), 0);
        if (draft == null || rounds >= verb.rounds()) {
            turn.known().save(verb.save(), answered(Approve.EXHAUSTED, feedback.said(), feedback.by(), null));
            turn.noteProblem(Problem.EXHAUSTED, "sent back once too often; the last words: " + feedback.said());
            turn.goTo(verb.ways().getOrDefault(Approve.EXHAUSTED, Step.HAND_OVER));
            return;
        }
        JsonNode version =
                Objects.requireNonNull(turn.known().saved().get(name)).value();
        turn.remember(turn.memory()
                .said(name, new Round(version, feedback.said()))
                .sentBack(turn.step().address()));
        turn.goTo(draft);
    }

    private static void closed(TransitionBuilder turn, Approve verb, ApprovalClosed closed) {
        if (closed.state() == ApprovalState.APPROVED) {
            turn.known().save(verb.save(), accepted(turn, verb, closed));
            turn.goOn(verb.ways(), Approve.APPROVED);
            return;
        }
        turn.known().save(verb.save(), answered(closed.state().word(), closed.reason(), closed.by(), null));
        String way = switch (closed.state()) {
            case EXPIRED -> Approve.EXPIRED;
            case WITHDRAWN -> Approve.WITHDRAWN;
            default -> Approve.DECLINED;
        };
        turn.noteProblem(way, closed.reason().isEmpty() ? "nobody answered in time" : closed.reason());
        turn.goTo(verb.ways().getOrDefault(way, Step.HAND_OVER));
    }

    /** Takes what was approved, and gives what is saved of it. */
    private static TracedValue accepted(TransitionBuilder turn, Approve verb, ApprovalClosed closed) {
        TracedValue answer = answered(closed.state().word(), closed.reason(), closed.by(), closed.form());
        if (verb.edit() == null) {
            accept(turn, verb, closed);
            return answer;
        }
        TracedValue drafted = Objects.requireNonNull(turn.known().saved().get(verb.edit()));
        accept(turn, verb, closed);
        return withTexts(
                answer, drafted, Objects.requireNonNull(turn.known().saved().get(verb.edit())));
    }

    /** The answer with the text as it was shown and as it was accepted; several are told one under the other. */
    private static TracedValue withTexts(TracedValue answer, TracedValue drafted, TracedValue released) {
        Map<String, TracedValue> parts = new LinkedHashMap<>();
        answer.value()
                .propertyNames()
                .forEach(name -> parts.put(name, Objects.requireNonNull(answer.at(List.of(name)))));
        parts.put(Approve.DRAFTED, text(drafted));
        parts.put(Approve.RELEASED, text(released));
        parts.put(Approve.CHANGED, TracedValue.of(Json.of(!drafted.value().equals(released.value())), Origin.PERSON));
        return TracedValue.fields(parts);
    }

    private static TracedValue text(TracedValue saved) {
        if (saved.value().isString()) {
            return saved;
        }
        String joined = saved.value()
                .valueStream()
                .filter(JsonNode::isString)
                .map(JsonNode::stringValue)
                .collect(Collectors.joining("\n\n"));
        return new TracedValue(Json.of(joined), saved.originsAt(""), Map.of(), saved.written());
    }

    private static TracedValue answered(String answer, String reason, String by, @Nullable JsonNode form) {
        ObjectNode value =
                Json.object().put("answer", answer).put("reason", reason).put("by", by);
        if (form != null) {
            form.properties().forEach(e -> value.set(e.getKey(), e.getValue()));
        }
        return TracedValue.of(value, Origin.PERSON);
    }

    /** Marks exactly what was shown, as it was accepted, as reviewed; and the call, if it was about one, as approved. */
    private static void accept(TransitionBuilder turn, Approve verb, ApprovalClosed closed) {
        Pending pending = turn.pending();
        if (pending != null && pending.call() != null) {
            turn.remember(turn.memory().approved(pending.call().digest(), closed.consent()));
        }
        if (verb.edit() != null) {
            acceptTexts(turn, verb.edit(), closed);
        }
        verb.show().forEach(name -> {
            TracedValue value = turn.known().saved().get(name);
            if (value != null) {
                value.machineTexts().forEach(text -> turn.known().written(text, true));
            }
        });
    }

    private static void acceptTexts(TransitionBuilder turn, String name, ApprovalClosed closed) {
        TracedValue before = Objects.requireNonNull(turn.known().saved().get(name));
        if (before.value().isString()) {
            turn.known().save(name, accepted(turn, before, name, closed));
            return;
        }
        Map<String, TracedValue> parts = new LinkedHashMap<>();
        before.value().properties().forEach(e -> {
            TracedValue part = Objects.requireNonNull(before.at(List.of(e.getKey())));
            parts.put(
                    e.getKey(), e.getValue().isString() ? accepted(turn, part, name + "." + e.getKey(), closed) : part);
        });
        turn.known().save(name, TracedValue.fields(parts));
    }

    private static TracedValue accepted(TransitionBuilder turn, TracedValue before, String key, ApprovalClosed closed) {
        String was = before.value().asString("");
        String text = closed.texts().getOrDefault(key, was);
        if (text.equals(was)) {
            turn.known().written(text, true);
            return before;
        }
        text = text.strip();
        turn.known().rewritten(text, closed.writer());
        Set<Origin> origins = EnumSet.of(Origin.PERSON);
        origins.addAll(before.originsAt(""));
        return new TracedValue(Json.of(text), origins, Map.of(), before.written());
    }
}

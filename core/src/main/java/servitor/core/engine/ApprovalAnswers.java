package servitor.core.engine;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.Answer;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalRules;
import servitor.core.approval.ApprovalRules.Counts;
import servitor.core.approval.ApprovalRules.Given;
import servitor.core.approval.ApprovalRules.Refused;
import servitor.core.approval.ApprovalRules.Ruling;
import servitor.core.approval.ApprovalRules.SentBack;
import servitor.core.approval.ApprovalRules.ShownAnew;
import servitor.core.approval.ApprovalRules.Standing;
import servitor.core.approval.ApprovalRules.Why;
import servitor.core.approval.ApprovalState;
import servitor.core.consent.Consent;
import servitor.core.expression.BadExpression;
import servitor.core.expression.EvaluationFailed;
import servitor.core.expression.Expression;
import servitor.core.handbook.Audience;
import servitor.core.json.Json;
import servitor.core.run.RunInput;
import servitor.core.run.RunState;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Takes answers to approvals, closes those whose time has run out, reminds of those whose time is running out. */
public final class ApprovalAnswers {
    private final Engine engine;

    public ApprovalAnswers(Engine engine) {
        this.engine = engine;
    }

    /** Takes an answer; what comes of it, counted or refused, is on the trail. */
    public Ruling answer(EngineStore store, String id, Answer given) {
        KeptApproval kept = store.approval(id).orElseThrow();
        if (isOverdue(store, kept)) {
            expire(store, id);
            kept = store.approval(id).orElseThrow();
        } else {
            withdrawUnlessValid(store, id);
            kept = store.approval(id).orElseThrow();
        }
        Answer answer = edited(kept, given);
        Ruling ruling = ApprovalRules.rule(standing(store, kept, kept.state()), answer);
        record(store, kept, answer, ruling);
        if (ruling instanceof Counts counts) {
            count(store, kept, counts, answer);
        } else if (ruling instanceof ShownAnew anew) {
            Set<String> authors = new TreeSet<>(kept.authors());
            authors.add(answer.person());
            store.showAnew(kept, anew.request(), authors);
        } else if (ruling instanceof SentBack) {
            store.answer(id, answer, Set.of());
            store.close(kept, ApprovalState.SENT_BACK);
            engine.feed(
                    store,
                    kept.run(),
                    new RunInput.FeedbackGiven(
                            id, answer.person(), answer.reason().strip()));
        }
        return ruling;
    }

    private static boolean isOverdue(EngineStore store, KeptApproval kept) {
        return kept.state() == ApprovalState.OPEN
                && kept.due() != null
                && !kept.held()
                && !store.now().isBefore(kept.due());
    }

    /** Texts that are as they were shown count as left alone. */
    private static Answer edited(KeptApproval kept, Answer given) {
        Map<String, String> shown = kept.request().texts();
        Map<String, String> changed = new LinkedHashMap<>();
        given.texts().forEach((key, text) -> {
            if (!text.equals(shown.get(key))) {
                changed.put(key, text);
            }
        });
        return new Answer(
                given.person(),
                given.groups(),
                given.standsInFor(),
                given.says(),
                given.digest(),
                given.reason(),
                changed,
                given.form(),
                given.via());
    }

    private static void record(EngineStore store, KeptApproval kept, Answer answer, Ruling ruling) {
        ObjectNode data = Json.object()
                .put("approval", kept.id())
                .put("answer", answer.says().word())
                .put("shown", answer.digest())
                .put("via", answer.via().word());
        TrailWord what = TrailWord.APPROVAL_ANSWERED;
        if (ruling instanceof Refused refused) {
            what = TrailWord.ANSWER_REFUSED;
            data.put("refused", refused.message());
        } else {
            data.put("reason", answer.reason());
            if (ruling instanceof Counts counts
                    && answer.standsInFor().stream()
                            .anyMatch(away -> counts.forGroups().contains("person:" + away))) {
                data.set("for", Json.of(counts.forGroups()));
            }
            if (!answer.texts().isEmpty()) {
                Map<String, String> before = new LinkedHashMap<>(kept.request().texts());
                before.keySet().retainAll(answer.texts().keySet());
                data.set("before", Json.of(before));
                data.set("edited", Json.of(answer.texts()));
            }
            if (answer.form() != null) {
                data.set("form", answer.form());
            }
        }
        store.trail(
                kept.caseId(),
                kept.run(),
                new TrailEvent(
                        TrailEvent.person(answer.person()), what, kept.request().step(), data));
    }

    private void count(EngineStore store, KeptApproval kept, Counts counts, Answer answer) {
        store.answer(kept.id(), answer, counts.forGroups());
        store.close(kept, counts.state());
        if (counts.state() != ApprovalState.OPEN) {
            List<Given> yes =
                    store.given(kept.id()).stream().filter(Given::approves).toList();
            Set<String> groups =
                    yes.stream().flatMap(given -> given.forGroups().stream()).collect(Collectors.toSet());
            Map<String, String> texts =
                    new LinkedHashMap<>(kept.request().texts()); // as others may have changed them before
            texts.putAll(answer.texts());
            engine.feed(
                    store,
                    kept.run(),
                    new RunInput.ApprovalClosed(
                            kept.id(),
                            counts.state(),
                            answer.reason(),
                            texts,
                            answer.form(),
                            groups,
                            answer.person(),
                            writer(kept, answer),
                            yes.stream()
                                    .map(given -> new Consent.Given(given.person(), given.via()))
                                    .toList()));
        }
    }

    /** Who changed the texts last; null when they are as they were drafted. */
    private static @Nullable String writer(KeptApproval kept, Answer answer) {
        return !answer.texts().isEmpty()
                ? answer.person()
                : kept.authors().stream().sorted().findFirst().orElse(null);
    }

    /**
     * Sends what lapsed because nobody answered in time: by the answer of somebody who could have approved it, under the same rules.
     * The run has ended by then, so that the text goes out as that person's note to the requester.
     *
     * @param note the id of that note
     */
    public Ruling sendLapsed(EngineStore store, String id, Answer given, String note) {
        KeptApproval kept = store.approval(id).orElseThrow();
        Answer answer = edited(kept, given);
        Ruling ruling = ApprovalRules.rule(standing(store, kept, ApprovalState.OPEN), answer);
        boolean lapsed =
                kept.state() == ApprovalState.EXPIRED && !kept.request().texts().isEmpty();
        boolean asked = !(ruling instanceof Refused refused && refused.why() == Why.NOT_ASKED);
        if (asked && !lapsed) {
            ruling = new Refused(Why.NOT_OPEN, "Only a text that nobody answered about in time can be sent like this.");
        } else if (ruling instanceof Counts counts && counts.state() != ApprovalState.APPROVED
                || ruling instanceof ShownAnew) {
            ruling = new Refused(Why.NOT_ASKED, "Several people have to approve this text, so nobody sends it alone.");
        }
        record(store, kept, answer, ruling);
        if (ruling instanceof Counts) {
            store.close(kept, ApprovalState.SENT_LATE);
            Map<String, String> texts = new LinkedHashMap<>(kept.request().texts());
            texts.putAll(answer.texts());
            store.note(
                    kept.caseId(),
                    new EngineStore.Note(
                            note,
                            TrailEvent.person(answer.person()),
                            Audience.REQUESTER.word(),
                            true,
                            String.join("\n\n", texts.values())));
        }
        return ruling;
    }

    /** Why a person can't answer an approval as it stands now; empty when they can. */
    public static Optional<String> barred(EngineStore store, String id, Answer answer) {
        KeptApproval kept = store.approval(id).orElseThrow();
        return ApprovalRules.barred(standing(store, kept, kept.state()), answer);
    }

    /** Who can't answer although they belong to those asked: whoever the page leaves out, asks, or wrote it. */
    static Set<String> barred(ApprovalRequest request, Set<String> askers, Set<String> authors) {
        Set<String> barred = new TreeSet<>(request.not());
        Stream.concat(askers.stream(), authors.stream()).forEach(person -> barred.add("person:" + person));
        return barred;
    }

    private static Standing standing(EngineStore store, KeptApproval kept, ApprovalState state) {
        return new Standing(
                kept.request(),
                state,
                store.situation(kept.caseId()).askers(),
                kept.authors(),
                store.given(kept.id()),
                store.eligible(
                        kept.request().of(),
                        barred(kept.request(), store.situation(kept.caseId()).askers(), kept.authors())));
    }

    /** Withdraws an open approval when what has to hold for it holds no more; what can't be told doesn't hold. */
    public void withdrawUnlessValid(EngineStore store, String id) {
        store.approval(id)
                .filter(kept -> kept.state() == ApprovalState.OPEN
                        && !kept.held()
                        && kept.request().validWhile() != null)
                .ifPresent(kept -> fault(store, kept).ifPresent(why -> withdraw(store, kept, why)));
    }

    private static Optional<String> fault(EngineStore store, KeptApproval kept) {
        String condition = String.valueOf(kept.request().validWhile());
        RunState run = store.run(kept.run()).orElseThrow().state();
        Map<String, JsonNode> scope =
                new LinkedHashMap<>(store.situation(kept.caseId()).plainScope(run));
        run.known().forEach((name, value) -> scope.put(name, value.value()));
        try {
            return Expression.parse(condition).holds(scope)
                    ? Optional.empty()
                    : Optional.of("‘" + condition + "’ holds no more");
        } catch (BadExpression | EvaluationFailed e) {
            return Optional.of("‘" + condition + "’ can't be told any more: " + e.getMessage());
        }
    }

    private void withdraw(EngineStore store, KeptApproval kept, String why) {
        store.close(kept, ApprovalState.WITHDRAWN);
        store.trail(
                kept.caseId(),
                kept.run(),
                new TrailEvent(
                        TrailEvent.SYSTEM,
                        TrailWord.APPROVAL_WITHDRAWN,
                        kept.request().step(),
                        Json.object().put("approval", kept.id()).put("why", why)));
        engine.feed(
                store,
                kept.run(),
                new RunInput.ApprovalClosed(kept.id(), ApprovalState.WITHDRAWN, why, Map.of(), null, Set.of(), ""));
    }

    /** Closes an approval if it is open and its time has run out. */
    public void expire(EngineStore store, String id) {
        store.approval(id).filter(kept -> isOverdue(store, kept)).ifPresent(kept -> {
            store.close(kept, ApprovalState.EXPIRED);
            store.trail(
                    kept.caseId(),
                    kept.run(),
                    new TrailEvent(
                            TrailEvent.SYSTEM,
                            TrailWord.APPROVAL_EXPIRED,
                            kept.request().step(),
                            Json.object().put("approval", id)));
            engine.feed(
                    store,
                    kept.run(),
                    new RunInput.ApprovalClosed(id, ApprovalState.EXPIRED, "", Map.of(), null, Set.of(), ""));
        });
    }

    /**
     * Puts an open approval back before people's eyes.
     *
     * @param given how many reminders had been given when this one fell due, so that it is given once
     */
    public void remind(EngineStore store, String id, int given) {
        store.approval(id)
                .filter(kept -> kept.state() == ApprovalState.OPEN && !kept.held() && kept.reminders() == given)
                .ifPresent(kept -> {
                    store.reminded(kept, kept.request().reminder(kept.opened().plus(kept.heldFor()), given + 1));
                    store.trail(
                            kept.caseId(),
                            kept.run(),
                            new TrailEvent(
                                    TrailEvent.SYSTEM,
                                    TrailWord.APPROVAL_REMINDED,
                                    kept.request().step(),
                                    Json.object()
                                            .put("approval", id)
                                            .set(
                                                    "of",
                                                    Json.of(new TreeSet<>(
                                                            kept.request().of())))));
                });
    }
}

package servitor.core.engine;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.Answer;
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
import servitor.core.json.Json;
import servitor.core.run.RunInput;
import servitor.core.trail.Happening;
import tools.jackson.databind.node.ObjectNode;

/** Takes answers to approvals, closes those whose time has run out, reminds of those whose time is running out. */
public final class Answering {
    private final Engine engine;

    public Answering(Engine engine) {
        this.engine = engine;
    }

    /** Takes an answer; what comes of it, counted or refused, is on the trail. */
    public Ruling answer(Books books, String id, Answer given) {
        KeptApproval kept = books.approval(id).orElseThrow();
        if (isOverdue(books, kept)) {
            expire(books, id);
            kept = books.approval(id).orElseThrow();
        }
        Answer answer = edited(kept, given);
        Ruling ruling = ApprovalRules.rule(standing(books, kept, kept.state()), answer);
        record(books, kept, answer, ruling);
        if (ruling instanceof Counts counts) {
            count(books, kept, counts, answer);
        } else if (ruling instanceof ShownAnew anew) {
            Set<String> authors = new TreeSet<>(kept.authors());
            authors.add(answer.person());
            books.showAnew(kept, anew.request(), authors);
        } else if (ruling instanceof SentBack) {
            books.answer(id, answer, Set.of());
            books.close(kept, ApprovalState.SENT_BACK);
            engine.feed(
                    books,
                    kept.run(),
                    new RunInput.FeedbackGiven(
                            id, answer.person(), answer.reason().strip()));
        }
        return ruling;
    }

    private static boolean isOverdue(Books books, KeptApproval kept) {
        return kept.state() == ApprovalState.OPEN
                && kept.due() != null
                && !kept.held()
                && !books.now().isBefore(kept.due());
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
                given.person(), given.groups(), given.says(), given.digest(), given.reason(), changed, given.form());
    }

    private static void record(Books books, KeptApproval kept, Answer answer, Ruling ruling) {
        ObjectNode data = Json.object()
                .put("approval", kept.id())
                .put("answer", answer.says().word())
                .put("shown", answer.digest());
        String what = "approval-answered";
        if (ruling instanceof Refused refused) {
            what = "answer-refused";
            data.put("refused", refused.message());
        } else {
            data.put("reason", answer.reason());
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
        books.trail(
                kept.caseId(),
                kept.run(),
                new Happening(
                        Happening.person(answer.person()), what, kept.request().step(), data));
    }

    private void count(Books books, KeptApproval kept, Counts counts, Answer answer) {
        books.answer(kept.id(), answer, counts.forGroups());
        books.close(kept, counts.state());
        if (counts.state() != ApprovalState.OPEN) {
            Set<String> groups = books.given(kept.id()).stream()
                    .filter(Given::approves)
                    .flatMap(given -> given.forGroups().stream())
                    .collect(Collectors.toSet());
            Map<String, String> texts =
                    new LinkedHashMap<>(kept.request().texts()); // as others may have changed them before
            texts.putAll(answer.texts());
            engine.feed(
                    books,
                    kept.run(),
                    new RunInput.ApprovalClosed(
                            kept.id(),
                            counts.state(),
                            answer.reason(),
                            texts,
                            answer.form(),
                            groups,
                            answer.person(),
                            writer(kept, answer)));
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
    public Ruling sendLapsed(Books books, String id, Answer given, String note) {
        KeptApproval kept = books.approval(id).orElseThrow();
        Answer answer = edited(kept, given);
        Ruling ruling = ApprovalRules.rule(standing(books, kept, ApprovalState.OPEN), answer);
        boolean lapsed =
                kept.state() == ApprovalState.EXPIRED && !kept.request().texts().isEmpty();
        boolean asked = !(ruling instanceof Refused refused && refused.why() == Why.NOT_ASKED);
        if (asked && !lapsed) {
            ruling = new Refused(Why.NOT_OPEN, "Only a text that nobody answered about in time can be sent like this.");
        } else if (ruling instanceof Counts counts && counts.state() != ApprovalState.APPROVED
                || ruling instanceof ShownAnew) {
            ruling = new Refused(Why.NOT_ASKED, "Several people have to approve this text, so nobody sends it alone.");
        }
        record(books, kept, answer, ruling);
        if (ruling instanceof Counts) {
            books.close(kept, ApprovalState.SENT_LATE);
            Map<String, String> texts = new LinkedHashMap<>(kept.request().texts());
            texts.putAll(answer.texts());
            books.note(
                    kept.caseId(),
                    new Books.Note(
                            note,
                            Happening.person(answer.person()),
                            "requester",
                            true,
                            String.join("\n\n", texts.values())));
        }
        return ruling;
    }

    private static Standing standing(Books books, KeptApproval kept, ApprovalState state) {
        return new Standing(
                kept.request(),
                state,
                books.situation(kept.caseId()).askers(),
                kept.authors(),
                books.given(kept.id()),
                books.eligible(kept.request().of()));
    }

    /** Closes an approval if it is open and its time has run out. */
    public void expire(Books books, String id) {
        books.approval(id).filter(kept -> isOverdue(books, kept)).ifPresent(kept -> {
            books.close(kept, ApprovalState.EXPIRED);
            books.trail(
                    kept.caseId(),
                    kept.run(),
                    new Happening(
                            Happening.SYSTEM,
                            "approval-expired",
                            kept.request().step(),
                            Json.object().put("approval", id)));
            engine.feed(
                    books,
                    kept.run(),
                    new RunInput.ApprovalClosed(id, ApprovalState.EXPIRED, "", Map.of(), null, Set.of(), ""));
        });
    }

    /**
     * Puts an open approval back before people's eyes.
     *
     * @param given how many reminders had been given when this one fell due, so that it is given once
     */
    public void remind(Books books, String id, int given) {
        books.approval(id)
                .filter(kept -> kept.state() == ApprovalState.OPEN && !kept.held() && kept.reminders() == given)
                .ifPresent(kept -> {
                    books.reminded(kept, kept.request().reminder(kept.opened().plus(kept.heldFor()), given + 1));
                    books.trail(
                            kept.caseId(),
                            kept.run(),
                            new Happening(
                                    Happening.SYSTEM,
                                    "approval-reminded",
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

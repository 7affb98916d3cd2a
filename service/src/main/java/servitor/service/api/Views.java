package servitor.service.api;

import java.math.BigDecimal;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.engine.Evidence;
import servitor.core.explain.Follows;
import servitor.core.trail.Lane;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/** The forms in which the API tells of things. */
final class Views {
    private Views() {}

    /** {@code sort} is {@code person}, {@code agent} or {@code system}. */
    record Actor(String id, String name, String sort) {}

    /** A case in a list; whoever only asked isn't told when it is {@code due}, who is to see to it, nor its working {@code title}. */
    record CaseSummary(
            String id,
            String subject,
            @Nullable String title,
            String kind,
            String kindTitle,
            String desk,
            Actor requester,
            String proof,
            String channel,
            String state,
            @Nullable String waitingFor,
            String priority,
            @Nullable Instant due,
            boolean late,
            @Nullable Actor owner,
            Instant created,
            Instant updated) {
        /** The same, waiting for this. */
        CaseSummary waitingFor(String what) {
            return new CaseSummary(
                    id, subject, title, kind, kindTitle, desk, requester, proof, channel, state, what, priority, due,
                    late, owner, created, updated);
        }
    }

    record CaseDetail(
            CaseSummary summary,
            String text,
            String language,
            Map<String, JsonNode> fields,
            Actor openedBy,
            boolean staff,
            boolean mayAdd,
            List<String> labels,
            List<DocumentView> documents,
            List<String> missing,
            List<RelationView> relations,
            List<RepeatView> repeats,
            List<Actor> people,
            List<NoteView> notes,
            List<RunView> runs,
            List<ApprovalSummary> approvals,
            @Nullable AskedOf askedOf,
            @Nullable ModelUse models) {}

    /** Whose answer a case waits for, since when, and until when at most: told to whoever sees the case, its requester too. */
    record AskedOf(
            List<String> whom, Instant since, @Nullable Instant until) {}

    /** What models used in all runs of a case, for staff; {@code cost} is null where nobody knows. */
    record ModelUse(int tokens, @Nullable BigDecimal cost, String currency) {}

    /** {@code times} more messages of the intake {@code from} came {@code since} then, the last one at {@code latest}. */
    record RepeatView(Actor from, long times, Instant since, Instant latest) {}

    /**
     * A note: {@code channel} is the way it came or went out, {@code told} whom of the house it was told (null for everybody who may
     * read it), {@code proof} how well it is known who wrote it (null where that is no question), {@code mail} the mail it came as.
     */
    record NoteView(
            String id,
            Instant at,
            Actor author,
            String audience,
            boolean written,
            String text,
            String channel,
            @Nullable String told,
            @Nullable String proof,
            @Nullable String mail) {}

    /** {@code outcome} is what came of reading it: empty for one that came before documents were read. */
    record DocumentView(
            String id, Instant at, Actor author, String name, String type, int size, String outcome, int pages) {}

    /**
     * What a case has to do with something else.
     *
     * @param other a case, or what is known elsewhere
     * @param subject of a case that the viewer sees
     * @param desk of a case that the viewer sees, or that one of both was opened for the other; {@code state} likewise
     */
    record RelationView(
            String what,
            String other,
            @Nullable String subject,
            @Nullable String desk,
            @Nullable String state) {}

    record RunView(
            String id,
            String caseId,
            String page,
            String pageTitle,
            String agent,
            int edition,
            String status,
            String step,
            String stepTitle,
            @Nullable String waitingFor,
            @Nullable JsonNode problem,
            int calls,
            int tokens,
            @Nullable BigDecimal cost,
            @Nullable String parent,
            @Nullable JsonNode handed,
            List<Evidence.Known> known,
            @Nullable JsonNode doubt,
            @Nullable JsonNode held,
            @Nullable String paused,
            List<TroubleView> troubles,
            Instant created,
            Instant updated) {}

    /** Trouble nobody has seen to: {@code what} is {@code failed}, {@code stuck}, {@code late}, {@code undelivered}, {@code nobody} or {@code handed-over}. */
    record TroubleView(String id, String what, String step, String problem, String detail, Instant at) {}

    /** What happened on a case, with the lanes it happened in, in their order. */
    record LanesView(List<Lane> lanes, List<Mark> marks) {}

    /** One mark in a lane. */
    record Mark(
            long seq,
            Instant at,
            Lane lane,
            TrailWord what,
            TrailWord.Weight weight,
            String title,
            Actor actor,
            String run,
            String step,
            JsonNode data) {}

    record ApprovalSummary(
            String id,
            String headline,
            String question,
            String about,
            @Nullable String tool,
            String caseId,
            String caseSubject,
            String desk,
            Actor requester,
            Set<String> of,
            Instant opened,
            @Nullable Instant due,
            String state,
            boolean asked,
            String quorum,
            int rounds,
            List<String> asks,
            @Nullable String paused,
            @Nullable Actor handedTo) {
        ApprovalSummary askingNobody() {
            return new ApprovalSummary(
                    id,
                    headline,
                    question,
                    about,
                    tool,
                    caseId,
                    caseSubject,
                    desk,
                    requester,
                    of,
                    opened,
                    due,
                    state,
                    false,
                    quorum,
                    rounds,
                    asks,
                    paused,
                    handedTo);
        }
    }

    record AnswerView(
            Actor person,
            String says,
            String reason,
            Map<String, String> texts,
            @Nullable JsonNode form,
            Instant at,
            String via,
            @Nullable Actor insteadOf) {}

    record Written(String model, String reason, double sure) {}

    record ApprovalSheet(
            ApprovalSummary summary,
            String digest,
            JsonNode sheet,
            String pageTitle,
            String stepTitle,
            String agent,
            String requestText,
            Map<String, JsonNode> requestFields,
            String proof,
            boolean caseVisible,
            List<DocumentView> documents,
            List<Evidence.Known> known,
            List<EarlierView> earlier,
            @Nullable Written written,
            List<AnswerView> answers,
            @Nullable Follows follows,
            @Nullable String confirm,
            List<Named> mayHandTo,
            boolean maySendLate) {
        /** The same without what concerns only whoever looks at it. */
        ApprovalSheet toAnybody() {
            return new ApprovalSheet(
                    summary.askingNobody(),
                    digest,
                    sheet,
                    pageTitle,
                    stepTitle,
                    agent,
                    requestText,
                    requestFields,
                    proof,
                    false,
                    documents,
                    known,
                    earlier,
                    written,
                    answers,
                    follows,
                    confirm,
                    List.of(),
                    false);
        }
    }

    /** A person by id and name. */
    record Named(String id, String name) {}

    /** A case that the requester had before, with what was changed outside in it, a line each. */
    record EarlierView(String caseId, String kind, Instant opened, String state, List<String> did) {}

    record TrailView(
            long seq,
            Instant at,
            Actor actor,
            String caseId,
            String run,
            String step,
            String what,
            String says,
            String hash,
            @Nullable JsonNode data) {}

    record EditionView(int number, String digest, String note, Actor publishedBy, Instant published, boolean current) {}
}

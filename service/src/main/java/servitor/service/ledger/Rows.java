package servitor.service.ledger;

import java.time.Instant;
import java.util.List;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** What the tables hold, a record per table. JSON columns stay text here. */
public final class Rows {
    private Rows() {}

    public record PersonRow(
            String id,
            String name,
            String email,
            String account,
            @Nullable String password,
            String roles,
            Instant created,
            String manager,
            @Nullable Instant disabled,
            @Nullable Instant signedOut) {}

    /** An engineer's word for what somebody else publishes of their desk. */
    public record ConsentRow(String digest, String desk, String person, Instant at) {}

    public record StopRow(String what, String name, String reason, String stoppedBy, Instant at) {}

    public record TokenRow(String hash, String person, String label, Instant created, Instant expires) {}

    /**
     * Where an outside system is.
     *
     * @param atOnce how many calls may be under way over it at the same time
     * @param signIn what may be shown of how it is signed in to; empty when it isn't
     * @param sealed the credentials, encrypted; empty for none
     * @param inside whether it may lead into a private network
     */
    public record ConnectionRow(String name, String url, int atOnce, String signIn, String sealed, boolean inside) {
        @Override
        public String toString() {
            return "connection " + name + " to " + url;
        }
    }

    public record EditionRow(int number, String digest, String note, String publishedBy, Instant published) {}

    public record FileRow(String path, String text) {}

    /** {@code base} is the digest of the text the change started from; a null text takes the file out. */
    public record DraftRow(
            String person, String path, @Nullable String text, String base, Instant updated) {}

    public record CaseRow(
            String id,
            long number,
            String desk,
            String kind,
            String requester,
            String proof,
            String openedBy,
            String subject,
            String text,
            String language,
            String priority,
            String labels,
            String fields,
            String state,
            @Nullable String waitingFor,
            Instant created,
            Instant updated,
            int version) {
        /** The next version, of {@code now}, standing elsewhere. */
        CaseRow standing(String nowState, @Nullable String nowWaitingFor, Instant now) {
            return next(priority, labels, fields, nowState, nowWaitingFor, now);
        }

        /** The next version, of {@code now}, with other content. */
        CaseRow holding(String nowPriority, String nowLabels, String nowFields, Instant now) {
            return next(nowPriority, nowLabels, nowFields, state, waitingFor, now);
        }

        private CaseRow next(
                String nowPriority,
                String nowLabels,
                String nowFields,
                String nowState,
                @Nullable String nowWaitingFor,
                Instant now) {
            return new CaseRow(
                    id,
                    number,
                    desk,
                    kind,
                    requester,
                    proof,
                    openedBy,
                    subject,
                    text,
                    language,
                    nowPriority,
                    nowLabels,
                    nowFields,
                    nowState,
                    nowWaitingFor,
                    created,
                    now,
                    version + 1);
        }
    }

    public record RequestKeyRow(String digest, String caseId) {}

    /** {@code audience} is {@code requester} or {@code staff}; {@code written} marks text a machine wrote. */
    public record NoteRow(
            String id, String caseId, Instant at, String author, String audience, boolean written, String text) {}

    /** A list of documents leaves {@code text} and {@code content} empty. */
    public record DocumentRow(
            String id,
            String caseId,
            Instant at,
            String author,
            String name,
            String type,
            int size,
            String digest,
            String text,
            byte[] content) {}

    public record RelationRow(String caseId, String what, String other) {}

    public record RunRow(
            String id,
            String caseId,
            int edition,
            String page,
            String status,
            String step,
            String state,
            Instant created,
            Instant updated,
            int version,
            String parent) {}

    public record CommandRow(
            String id,
            String runId,
            String kind,
            String payload,
            String state,
            @Nullable String owner,
            @Nullable Instant leaseUntil,
            int attempts,
            Instant due,
            boolean sent,
            String connection,
            String outsideKey) {}

    /** Trouble that nobody has seen to. */
    public record WrongRow(
            String id,
            String what,
            String caseId,
            String runId,
            String work,
            String step,
            String problem,
            String detail,
            Instant at,
            String seenBy,
            String how,
            @Nullable Instant seen) {}

    public record ApprovalRow(
            String id,
            String runId,
            String caseId,
            String request,
            String digest,
            String state,
            Instant opened,
            @Nullable Instant due,
            @Nullable Instant closed,
            int version,
            String authors,
            @Nullable Instant remindAt,
            int reminders,
            boolean held,
            long heldMillis) {}

    public record AnswerRow(
            String approvalId,
            String person,
            String says,
            String reason,
            String texts,
            @Nullable String form,
            String forGroups,
            Instant at) {}

    public record TrailRow(
            long seq,
            Instant at,
            String actor,
            String caseId,
            String runId,
            String step,
            String what,
            String digest,
            String previous,
            String hash,
            @Nullable String salt,
            @Nullable String data) {}

    /** Entries as columns, each an array, so that one statement writes them all. */
    record TrailColumns(
            Object seq,
            Object at,
            Object actor,
            Object caseId,
            Object runId,
            Object step,
            Object what,
            Object digest,
            Object previous,
            Object hash,
            Object salt,
            Object data) {
        static TrailColumns of(List<TrailRow> rows) {
            return new TrailColumns(
                    rows.stream().map(TrailRow::seq).toArray(Long[]::new),
                    rows.stream().map(TrailRow::at).toArray(Instant[]::new),
                    texts(rows, TrailRow::actor),
                    texts(rows, TrailRow::caseId),
                    texts(rows, TrailRow::runId),
                    texts(rows, TrailRow::step),
                    texts(rows, TrailRow::what),
                    texts(rows, TrailRow::digest),
                    texts(rows, TrailRow::previous),
                    texts(rows, TrailRow::hash),
                    texts(rows, TrailRow::salt),
                    texts(rows, TrailRow::data));
        }

        private static String[] texts(List<TrailRow> rows, Function<TrailRow, String> column) {
            return rows.stream().map(column).toArray(String[]::new);
        }
    }

    public record MaterialRow(String hash, String text) {}

    public record HeadRow(long seq, String hash) {}
}

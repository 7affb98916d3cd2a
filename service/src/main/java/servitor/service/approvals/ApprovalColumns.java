package servitor.service.approvals;

import java.util.List;
import java.util.stream.Stream;
import servitor.service.ledger.Columns;

/** New approvals as columns, each an array, so that one statement writes them all; {@code asked} are pairs of theirs. */
record ApprovalColumns(
        Object id,
        Object runId,
        Object caseId,
        Object request,
        Object digest,
        Object state,
        Object opened,
        Object due,
        Object version,
        Object authors,
        Object remindAt,
        Object held,
        Object watched,
        Object evidence,
        Object askedId,
        Object askedName) {
    private record Asked(String id, String name) {}

    static ApprovalColumns of(List<NewApproval> all) {
        List<ApprovalRow> rows = all.stream().map(NewApproval::row).toList();
        List<Asked> asked = all.stream().flatMap(ApprovalColumns::asked).toList();
        return new ApprovalColumns(
                Columns.texts(rows, ApprovalRow::id),
                Columns.texts(rows, ApprovalRow::runId),
                Columns.texts(rows, ApprovalRow::caseId),
                Columns.texts(rows, ApprovalRow::request),
                Columns.texts(rows, ApprovalRow::digest),
                Columns.texts(rows, ApprovalRow::state),
                Columns.times(rows, ApprovalRow::opened),
                Columns.times(rows, ApprovalRow::due),
                Columns.numbers(rows, ApprovalRow::version),
                Columns.texts(rows, ApprovalRow::authors),
                Columns.times(rows, ApprovalRow::remindAt),
                rows.stream().map(ApprovalRow::held).toArray(Boolean[]::new),
                all.stream().map(NewApproval::watched).toArray(Boolean[]::new),
                Columns.texts(all, NewApproval::evidence),
                Columns.texts(asked, Asked::id),
                Columns.texts(asked, Asked::name));
    }

    private static Stream<Asked> asked(NewApproval approval) {
        return approval.asked().stream().map(name -> new Asked(approval.row().id(), name));
    }
}

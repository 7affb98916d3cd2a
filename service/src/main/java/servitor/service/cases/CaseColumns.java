package servitor.service.cases;

import java.util.List;
import servitor.service.ledger.Columns;

/** Cases as columns, each an array, so that one statement writes them all. */
record CaseColumns(
        Object id,
        Object number,
        Object desk,
        Object kind,
        Object requester,
        Object proof,
        Object channel,
        Object openedBy,
        Object subject,
        Object title,
        Object text,
        Object language,
        Object priority,
        Object labels,
        Object fields,
        Object state,
        Object waitingFor,
        Object due,
        Object owner,
        Object openedFor,
        Object created,
        Object updated,
        Object version) {
    static CaseColumns of(List<CaseRow> rows) {
        return new CaseColumns(
                Columns.texts(rows, CaseRow::id),
                rows.stream().map(CaseRow::number).toArray(Long[]::new),
                Columns.texts(rows, CaseRow::desk),
                Columns.texts(rows, CaseRow::kind),
                Columns.texts(rows, CaseRow::requester),
                Columns.texts(rows, CaseRow::proof),
                Columns.texts(rows, CaseRow::channel),
                Columns.texts(rows, CaseRow::openedBy),
                Columns.texts(rows, CaseRow::subject),
                Columns.texts(rows, CaseRow::title),
                Columns.texts(rows, CaseRow::text),
                Columns.texts(rows, CaseRow::language),
                Columns.texts(rows, CaseRow::priority),
                Columns.texts(rows, CaseRow::labels),
                Columns.texts(rows, CaseRow::fields),
                Columns.texts(rows, CaseRow::state),
                Columns.texts(rows, CaseRow::waitingFor),
                Columns.times(rows, CaseRow::due),
                Columns.texts(rows, CaseRow::owner),
                Columns.texts(rows, CaseRow::openedFor),
                Columns.times(rows, CaseRow::created),
                Columns.times(rows, CaseRow::updated),
                Columns.numbers(rows, CaseRow::version));
    }
}

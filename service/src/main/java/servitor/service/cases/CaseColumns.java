package servitor.service.cases;

import java.util.List;
import servitor.service.ledger.Columns;

/** What changes of cases, as columns, each an array, so that one statement writes it all. */
record CaseColumns(
        Object id,
        Object priority,
        Object labels,
        Object fields,
        Object state,
        Object waitingFor,
        Object updated,
        Object version) {
    static CaseColumns of(List<CaseRow> rows) {
        return new CaseColumns(
                Columns.texts(rows, CaseRow::id),
                Columns.texts(rows, CaseRow::priority),
                Columns.texts(rows, CaseRow::labels),
                Columns.texts(rows, CaseRow::fields),
                Columns.texts(rows, CaseRow::state),
                Columns.texts(rows, CaseRow::waitingFor),
                Columns.times(rows, CaseRow::updated),
                Columns.numbers(rows, CaseRow::version));
    }
}

package servitor.service.cases;

import java.time.Instant;
import java.util.List;
import java.util.function.Function;

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
                texts(rows, CaseRow::id),
                texts(rows, CaseRow::priority),
                texts(rows, CaseRow::labels),
                texts(rows, CaseRow::fields),
                texts(rows, CaseRow::state),
                texts(rows, CaseRow::waitingFor),
                rows.stream().map(CaseRow::updated).toArray(Instant[]::new),
                rows.stream().map(CaseRow::version).toArray(Integer[]::new));
    }

    private static String[] texts(List<CaseRow> rows, Function<CaseRow, String> column) {
        return rows.stream().map(column).toArray(String[]::new);
    }
}

package servitor.service.ledger;

import java.time.Instant;
import java.util.List;
import java.util.function.Function;

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

package servitor.service.ledger;

import java.util.List;

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
                Columns.times(rows, TrailRow::at),
                Columns.texts(rows, TrailRow::actor),
                Columns.texts(rows, TrailRow::caseId),
                Columns.texts(rows, TrailRow::runId),
                Columns.texts(rows, TrailRow::step),
                Columns.texts(rows, TrailRow::what),
                Columns.texts(rows, TrailRow::digest),
                Columns.texts(rows, TrailRow::previous),
                Columns.texts(rows, TrailRow::hash),
                Columns.texts(rows, TrailRow::salt),
                Columns.texts(rows, TrailRow::data));
    }
}

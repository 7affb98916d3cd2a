package servitor.service.cases;

import java.util.Collection;
import java.util.List;
import servitor.service.ledger.Columns;

/** Notes as columns, each an array, so that one statement writes them all. */
record NoteColumns(
        Object id,
        Object caseId,
        Object at,
        Object author,
        Object audience,
        Object written,
        Object text,
        Object channel,
        Object told,
        Object proof,
        Object mail) {
    static NoteColumns of(Collection<NoteRow> notes) {
        List<NoteRow> rows = List.copyOf(notes);
        return new NoteColumns(
                Columns.texts(rows, NoteRow::id),
                Columns.texts(rows, NoteRow::caseId),
                Columns.times(rows, NoteRow::at),
                Columns.texts(rows, NoteRow::author),
                Columns.texts(rows, NoteRow::audience),
                rows.stream().map(NoteRow::written).toArray(Boolean[]::new),
                Columns.texts(rows, NoteRow::text),
                Columns.texts(rows, NoteRow::channel),
                Columns.texts(rows, NoteRow::told),
                Columns.texts(rows, NoteRow::proof),
                Columns.texts(rows, NoteRow::mail));
    }
}

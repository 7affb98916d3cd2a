package servitor.service.runs;

import java.util.List;
import servitor.core.engine.Work;
import servitor.service.ledger.Columns;

/** Work as columns, each an array, so that one statement writes it all; what never changes is there for new work only. */
record WorkColumns(
        Object id,
        Object runId,
        Object kind,
        Object payload,
        Object state,
        Object owner,
        Object leaseUntil,
        Object attempts,
        Object due,
        Object sent,
        Object connection,
        Object outsideKey) {
    private static final Object NONE = new String[0];

    static WorkColumns ofNew(List<Work> works) {
        List<CommandRow> rows = works.stream().map(RowConversion::row).toList();
        return new WorkColumns(
                Columns.texts(rows, CommandRow::id),
                Columns.texts(rows, CommandRow::runId),
                Columns.texts(rows, CommandRow::kind),
                Columns.texts(rows, CommandRow::payload),
                Columns.texts(rows, CommandRow::state),
                Columns.texts(rows, CommandRow::owner),
                Columns.times(rows, CommandRow::leaseUntil),
                Columns.numbers(rows, CommandRow::attempts),
                Columns.times(rows, CommandRow::due),
                rows.stream().map(CommandRow::sent).toArray(Boolean[]::new),
                Columns.texts(rows, CommandRow::connection),
                Columns.texts(rows, CommandRow::outsideKey));
    }

    static WorkColumns ofChanged(List<Work> works) {
        return new WorkColumns(
                Columns.texts(works, Work::id),
                NONE,
                NONE,
                NONE,
                Columns.texts(works, work -> work.stage().word()),
                Columns.texts(works, Work::owner),
                Columns.times(works, Work::leaseUntil),
                Columns.numbers(works, Work::attempts),
                Columns.times(works, Work::due),
                works.stream().map(Work::sent).toArray(Boolean[]::new),
                NONE,
                NONE);
    }
}

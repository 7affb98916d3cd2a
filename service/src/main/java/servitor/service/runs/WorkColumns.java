package servitor.service.runs;

import java.time.Instant;
import java.util.List;
import java.util.function.Function;
import servitor.core.engine.Work;

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
                texts(rows, CommandRow::id),
                texts(rows, CommandRow::runId),
                texts(rows, CommandRow::kind),
                texts(rows, CommandRow::payload),
                texts(rows, CommandRow::state),
                texts(rows, CommandRow::owner),
                rows.stream().map(CommandRow::leaseUntil).toArray(Instant[]::new),
                rows.stream().map(CommandRow::attempts).toArray(Integer[]::new),
                rows.stream().map(CommandRow::due).toArray(Instant[]::new),
                rows.stream().map(CommandRow::sent).toArray(Boolean[]::new),
                texts(rows, CommandRow::connection),
                texts(rows, CommandRow::outsideKey));
    }

    static WorkColumns ofChanged(List<Work> works) {
        return new WorkColumns(
                texts(works, Work::id),
                NONE,
                NONE,
                NONE,
                texts(works, work -> work.stage().word()),
                texts(works, Work::owner),
                works.stream().map(Work::leaseUntil).toArray(Instant[]::new),
                works.stream().map(Work::attempts).toArray(Integer[]::new),
                works.stream().map(Work::due).toArray(Instant[]::new),
                works.stream().map(Work::sent).toArray(Boolean[]::new),
                NONE,
                NONE);
    }

    private static <T> String[] texts(List<T> rows, Function<T, String> column) {
        return rows.stream().map(column).toArray(String[]::new);
    }
}

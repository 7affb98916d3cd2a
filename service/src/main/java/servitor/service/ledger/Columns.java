package servitor.service.ledger;

import java.time.Instant;
import java.util.List;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Rows as arrays, one for each column, so that one statement writes them all. */
public final class Columns {
    private Columns() {}

    public static <R> String[] texts(List<R> rows, Function<R, @Nullable String> column) {
        return rows.stream().map(column).toArray(String[]::new);
    }

    public static <R> Instant[] times(List<R> rows, Function<R, @Nullable Instant> column) {
        return rows.stream().map(column).toArray(Instant[]::new);
    }

    public static <R> Integer[] numbers(List<R> rows, Function<R, Integer> column) {
        return rows.stream().map(column).toArray(Integer[]::new);
    }
}

package servitor.service.api;

import java.util.List;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** A part of a long list; {@code next} asks for the part after it, and is null at the end. */
record Page<T>(List<T> items, @Nullable String next) {
    private static final int MOST = 200;

    /** Cuts a list that was fetched with one item more than wanted. */
    static <R, T> Page<T> of(List<R> fetched, int limit, Function<R, T> view, Function<R, Object> cursor) {
        boolean more = fetched.size() > limit;
        List<R> shown = more ? fetched.subList(0, limit) : fetched;
        return new Page<>(
                shown.stream().map(view).toList(), more ? String.valueOf(cursor.apply(shown.get(limit - 1))) : null);
    }

    static int limit(int wanted) {
        if (wanted < 1 || wanted > MOST) {
            throw new IllegalArgumentException("‘limit’ must be from 1 to " + MOST + ".");
        }
        return wanted;
    }

    /** Reads a cursor; {@code start} when there is none. */
    static long cursor(@Nullable String cursor, long start) {
        try {
            return cursor == null ? start : Long.parseLong(cursor);
        } catch (NumberFormatException e) {
            throw new IllegalArgumentException("‘cursor’ must be what an earlier answer gave as ‘next’.", e);
        }
    }
}

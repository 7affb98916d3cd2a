package servitor.service.api;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeParseException;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.BindParam;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Runbook;
import servitor.service.cases.CaseFilter;

/**
 * What the lists of cases, runs and approvals can all be asked for.
 *
 * @param agent whose pages are meant, as the newest edition has them
 * @param waitingFor words in what a case waits for, such as the title of a group
 * @param since a day (of UTC), or a time; {@code until} likewise, itself not included
 */
record ListQuery(
        @Nullable String kind,
        @Nullable String desk,
        @Nullable String requester,
        @Nullable String page,
        @Nullable String agent,
        @Nullable @BindParam("waiting-for") String waitingFor,
        @Nullable String since,
        @Nullable String until,
        @Nullable String cursor,
        @Nullable Integer limit) {
    private static final int USUAL = 50;

    /** How many are wanted. */
    int most() {
        return Page.limit(limit == null ? USUAL : limit);
    }

    /** What the cases are narrowed to; {@code state} is the word of a state of theirs. */
    CaseFilter about(@Nullable String state, @Nullable Handbook handbook) {
        return new CaseFilter(
                given(state),
                given(kind),
                given(desk),
                given(requester),
                pages(handbook),
                waits(handbook),
                null,
                null,
                time("since", since),
                time("until", until));
    }

    private @Nullable Set<String> pages(@Nullable Handbook handbook) {
        if (given(agent) == null) {
            return given(page) == null ? null : Set.of(page);
        }
        return handbook == null
                ? Set.of()
                : handbook.runbooks().values().stream()
                        .filter(one -> one.agent().equals(agent))
                        .map(Runbook::name)
                        .filter(name -> given(page) == null || name.equals(page))
                        .collect(Collectors.toSet());
    }

    /** Cases keep the names of those who are asked; people know their titles. */
    private @Nullable Set<String> waits(@Nullable Handbook handbook) {
        if (waitingFor == null || waitingFor.isBlank()) {
            return null;
        }
        Set<String> words = new TreeSet<>(Set.of(waitingFor));
        if (handbook != null) {
            String wanted = waitingFor.toLowerCase(Locale.ROOT);
            Stream.concat(handbook.groups().keySet().stream(), handbook.desks().keySet().stream())
                    .filter(name ->
                            handbook.called(name).toLowerCase(Locale.ROOT).contains(wanted))
                    .forEach(words::add);
        }
        return words;
    }

    private static @Nullable String given(@Nullable String text) {
        return text == null || text.isBlank() ? null : text;
    }

    private static @Nullable Instant time(String name, @Nullable String text) {
        if (text == null || text.isBlank()) {
            return null;
        }
        try {
            return text.contains("T")
                    ? Instant.parse(text)
                    : LocalDate.parse(text).atStartOfDay(ZoneOffset.UTC).toInstant();
        } catch (DateTimeParseException e) {
            throw new IllegalArgumentException(
                    "‘" + name + "’ must be a day, such as 2026-06-01, or a time, such as 2026-06-01T08:00:00Z.", e);
        }
    }
}

package servitor.core.rehearsal;

import com.fasterxml.jackson.annotation.JsonValue;
import java.math.BigDecimal;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/** How far people did what calls proposed that didn't leave by themselves: those held in shadow, and those that people were asked about. */
public final class Agreement {
    private final Handbook handbook;
    private final Map<String, List<Compared>> byTool = new TreeMap<>();

    /** Begins with nothing; {@code handbook} says what is money. */
    public Agreement(Handbook handbook) {
        this.handbook = handbook;
    }

    /** What people did beside what was proposed. */
    public enum Sort {
        /** Just that. */
        SAME,
        /** Something else, or nothing of the kind. */
        OTHER,
        /** Nobody said, and nobody will. */
        NOT_COMPARABLE,
        /** Nobody has said yet. */
        OPEN;

        /** Its word, for programs and people. */
        @JsonValue
        public String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    /**
     * One call that was proposed.
     *
     * @param shadow whether it was held; otherwise people were asked
     * @param says what it would have done
     * @param did what people did, in words; empty when nobody said
     * @param money that it was about
     * @param moneyDone that people made of it
     */
    public record Compared(
            String caseId,
            Instant at,
            boolean shadow,
            Sort sort,
            String says,
            String did,
            BigDecimal money,
            BigDecimal moneyDone) {}

    /**
     * All of one tool.
     *
     * @param calls the newest first
     */
    public record Sheet(String tool, List<Compared> calls) {
        public Sheet {
            calls = List.copyOf(calls);
        }

        /** How many there are of a sort. */
        public int count(Sort sort) {
            return (int) calls.stream().filter(call -> call.sort() == sort).count();
        }

        /** How much money those of a sort were about. */
        public BigDecimal money(Sort sort) {
            return calls.stream()
                    .filter(call -> call.sort() == sort)
                    .map(Compared::money)
                    .reduce(BigDecimal.ZERO, BigDecimal::add);
        }
    }

    /**
     * Adds what one case says.
     *
     * @param ended whether nothing of it goes on any more
     */
    public void add(List<RecordedEntry> trail, boolean ended) {
        Map<String, Open> open = new HashMap<>(); // by run: one call of it is under way at a time
        for (RecordedEntry recorded : trail) {
            JsonNode data = recorded.data();
            TrailWord what = TrailWord.of(recorded.entry().what()).orElse(null);
            if (data == null || what == null) {
                continue;
            }
            String run = recorded.entry().runId();
            Open one = open.get(run);
            switch (what) {
                case CALL_PROPOSED ->
                    open.put(run, new Open(text(data, "tool"), data.path("inputs"), "", false, false));
                case CALL_HELD -> {
                    if (one != null) {
                        open.put(run, one.asked(true, text(data, "says")));
                    }
                }
                case APPROVAL_OPENED -> {
                    if (one != null && data.path("sheet").has("call")) {
                        open.put(
                                run,
                                one.asked(false, data.at("/sheet/call/says").asString("")));
                    }
                }
                case DONE_BY_HAND -> byHand(open.remove(run), recorded, data);
                case APPROVAL_ANSWERED -> {
                    if (one != null && one.asked) {
                        answered(open.remove(run), recorded, data);
                    }
                }
                default -> {}
            }
        }
        if (trail.isEmpty()) {
            return;
        }
        RecordedEntry last = trail.get(trail.size() - 1);
        open.values().stream()
                .filter(one -> one.asked)
                .forEach(one -> put(one, last, ended ? Sort.NOT_COMPARABLE : Sort.OPEN, "", BigDecimal.ZERO));
    }

    private record Open(String tool, JsonNode inputs, String says, boolean asked, boolean shadow) {
        Open asked(boolean held, String words) {
            return new Open(tool, inputs, words, true, held);
        }
    }

    private void byHand(@Nullable Open one, RecordedEntry recorded, JsonNode data) {
        if (one == null) {
            return;
        }
        String did = text(data, "did");
        JsonNode inputs = data.path("inputs");
        put(
                one,
                recorded,
                did.equals("same") ? Sort.SAME : Sort.OTHER,
                TrailWord.DONE_BY_HAND.says(data)
                        + (did.equals("other") ? ": " + otherwise(one.inputs, inputs) : "")
                        + (text(data, "reason").isEmpty() ? "" : " – " + text(data, "reason")),
                did.equals("nothing") ? BigDecimal.ZERO : money(one.tool, inputs));
    }

    /** Each input that differs, with what was proposed. */
    private static String otherwise(JsonNode proposed, JsonNode done) {
        return done.properties().stream()
                .filter(e -> !e.getValue().equals(proposed.path(e.getKey())))
                .map(e -> e.getKey() + " " + plain(e.getValue())
                        + (proposed.has(e.getKey()) ? " instead of " + plain(proposed.get(e.getKey())) : ""))
                .collect(Collectors.joining(", "));
    }

    private static String plain(JsonNode value) {
        return value.isString() ? "‘" + value.stringValue() + "’" : Json.write(value);
    }

    private void answered(@Nullable Open one, RecordedEntry recorded, JsonNode data) {
        if (one == null) {
            return;
        }
        boolean approved = text(data, "answer").equals("approve");
        put(
                one,
                recorded,
                approved ? Sort.SAME : Sort.OTHER,
                TrailWord.APPROVAL_ANSWERED.says(data)
                        + (text(data, "reason").isEmpty() ? "" : " – " + text(data, "reason")),
                approved ? money(one.tool, one.inputs) : BigDecimal.ZERO);
    }

    private void put(Open one, RecordedEntry at, Sort sort, String did, BigDecimal done) {
        byTool.computeIfAbsent(one.tool, tool -> new ArrayList<>())
                .add(new Compared(
                        at.entry().caseId(),
                        at.entry().at(),
                        one.shadow,
                        sort,
                        one.says,
                        did,
                        money(one.tool, one.inputs),
                        done));
    }

    private BigDecimal money(String tool, JsonNode inputs) {
        return Optional.ofNullable(handbook.tools().get(tool)).map(Tool::amounts).stream()
                .flatMap(List::stream)
                .map(name -> inputs.path(name).asDecimal(BigDecimal.ZERO))
                .reduce(BigDecimal.ZERO, BigDecimal::add);
    }

    /** A sheet for each tool, by its name. */
    public List<Sheet> sheets() {
        return byTool.entrySet().stream()
                .map(e -> new Sheet(
                        e.getKey(),
                        e.getValue().stream()
                                .sorted(Comparator.comparing(Compared::at).reversed())
                                .toList()))
                .toList();
    }

    private static String text(JsonNode data, String field) {
        return data.path(field).asString("");
    }
}

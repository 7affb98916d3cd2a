package servitor.core.handbook;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.temporal.IsoFields;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.EvaluationFailed;
import servitor.core.expression.Expression;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/**
 * How often, or up to what total, a grant allows calls alone. Decimal throughout: sums are exact.
 *
 * @param sum what is added up over the calls; null when calls are counted
 * @param atMost the most that is allowed, itself included
 * @param per what is counted apart: a counter for each case, each day and so on
 */
public record Limit(@Nullable Expression sum, BigDecimal atMost, List<Per> per) {

    private static final int MOST_DECIMALS = 9;
    private static final int MOST_WHOLE_DIGITS = 18;

    /** What counters are kept for; times are calendar times in the house's zone. */
    public enum Per {
        RUN,
        CASE,
        REQUESTER,
        AGENT,
        HOUR,
        DAY,
        WEEK,
        MONTH;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    public Limit {
        per = List.copyOf(per);
        if (atMost.signum() < 0) {
            throw new IllegalArgumentException("a limit can't be below zero");
        }
    }

    /** What one call counts for; empty when that can't be said, or is less than nothing. */
    public Optional<BigDecimal> amount(Map<String, JsonNode> variables) {
        if (sum == null) {
            return Optional.of(BigDecimal.ONE);
        }
        try {
            JsonNode value = sum.evaluate(variables);
            return value.isNumber() && countable(value.decimalValue())
                    ? Optional.of(value.decimalValue())
                    : Optional.empty();
        } catch (EvaluationFailed e) {
            return Optional.empty();
        }
    }

    /** Whether a counter can hold it to the last digit. */
    private static boolean countable(BigDecimal amount) {
        BigDecimal plain = amount.stripTrailingZeros();
        return plain.signum() >= 0
                && plain.scale() <= MOST_DECIMALS
                && (long) plain.precision() - plain.scale() <= MOST_WHOLE_DIGITS;
    }

    /**
     * The name of the counter that a call counts in. It holds no number of an edition, so that counters go on when a
     * handbook is published anew.
     *
     * @param scope {@code case}, {@code requester}, {@code run}, {@code agent} and {@code now}
     */
    public String counter(String mandate, String grant, Map<String, JsonNode> scope, ZoneId zone) {
        List<String> parts = new ArrayList<>(List.of(
                mandate, grant, sum == null ? "calls" : "sum " + sum.text().strip()));
        ZonedDateTime now = Instant.parse(
                        Objects.requireNonNull(scope.get("now")).asString())
                .atZone(zone);
        for (Per one : per) {
            parts.add(one.word() + " "
                    + switch (one) {
                        case RUN -> id(scope, "run");
                        case CASE -> id(scope, "case");
                        case REQUESTER -> id(scope, "requester");
                        case AGENT ->
                            Objects.requireNonNull(scope.get("agent"))
                                    .path("name")
                                    .asString();
                        case HOUR -> now.toLocalDate() + "T" + now.getHour() + now.getOffset();
                        case DAY -> now.toLocalDate().toString();
                        case WEEK ->
                            now.get(IsoFields.WEEK_BASED_YEAR) + "-W" + now.get(IsoFields.WEEK_OF_WEEK_BASED_YEAR);
                        case MONTH -> now.getYear() + "-" + now.getMonthValue();
                    });
        }
        return String.join(" / ", parts);
    }

    /** The counter that is open now, when it is kept for the whole agent or house; empty when each case or run has its own. */
    public Optional<String> counter(String mandate, String grant, String agent, JsonNode now, ZoneId zone) {
        if (per.stream().anyMatch(one -> one == Per.RUN || one == Per.CASE || one == Per.REQUESTER)) {
            return Optional.empty();
        }
        return Optional.of(
                counter(mandate, grant, Map.of("agent", Json.object().put("name", agent), "now", now), zone));
    }

    private static String id(Map<String, JsonNode> scope, String name) {
        return Objects.requireNonNull(scope.get(name)).path("id").asString();
    }

    /** The limit in words, such as {@code a sum of args.amount of at most 2000.00 per day}. */
    public String words() {
        String most = atMost.toPlainString();
        String each = per.isEmpty()
                ? " for ever"
                : " per " + String.join(" and ", per.stream().map(Per::word).toList());
        return (sum == null
                        ? "at most " + most + (most.equals("1") ? " call" : " calls")
                        : "a sum of " + sum.text().strip() + " of at most " + most)
                + each;
    }
}

package servitor.core.rehearsal;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.BadExpression;
import servitor.core.expression.Expression;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Grant;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Mandate;
import servitor.core.rehearsal.LookBack.Past;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/**
 * What another amount in the condition of a grant would have made of past cases. It can't know how people would have behaved under
 * another limit, nor anything of calls that were never wanted under this one.
 */
public final class LimitTry {
    /** An amount that an input is held against, such as {@code args.amount <= 120.0}. */
    private static final Pattern AMOUNT = Pattern.compile("args\\.(\\w+)\\s*<=?\\s*([0-9]+(?:\\.[0-9]+)?)");

    private final Grant grant;
    private final Handbook handbook;
    private final String input;
    private final Map<BigDecimal, LookBack> looks = new LinkedHashMap<>();
    private final Map<BigDecimal, Point> points = new LinkedHashMap<>();

    /**
     * What came of one limit.
     *
     * @param judged cases in which such a call was judged
     * @param asked of those, in how many people would be asked
     * @param alone in how many it would be done with nobody asked
     * @param saved in how many people were asked then and wouldn't be
     * @param declined of those, in how many they declined: the price
     * @param money what would be let through with nobody asked, by the input that is limited
     * @param price the cases in which people declined what would be done alone
     */
    public record Point(
            BigDecimal limit,
            int judged,
            int asked,
            int alone,
            int saved,
            int declined,
            BigDecimal money,
            List<String> price) {
        public Point {
            price = List.copyOf(price);
        }
    }

    private LimitTry(Handbook handbook, Grant grant, String input) {
        this.handbook = handbook;
        this.grant = grant;
        this.input = input;
    }

    /**
     * Begins to try limits.
     *
     * @param agent whose mandate it is
     * @param named the grant
     * @throws IllegalArgumentException when there is no such grant, or no amount in its condition
     */
    public static LimitTry of(Handbook handbook, String agent, String named, List<BigDecimal> limits) {
        Mandate mandate = handbook.mandates().values().stream()
                .filter(one -> one.agents().contains(agent))
                .filter(one ->
                        one.grants().stream().anyMatch(grant -> grant.name().equals(named)))
                .findFirst()
                .orElseThrow(() -> new IllegalArgumentException("No mandate of ‘" + agent + "’ has a grant ‘" + named
                        + "’; ‘mandate table’ shows what there is."));
        Grant grant = mandate.grants().stream()
                .filter(one -> one.name().equals(named))
                .findFirst()
                .orElseThrow();
        Matcher amount = AMOUNT.matcher(grant.when() == null ? "" : grant.when().text());
        if (!amount.find()) {
            throw new IllegalArgumentException(
                    "The condition of ‘" + named + "’ holds no input against an amount, as in ‘args.amount <= 120.0’.");
        }
        LimitTry tries = new LimitTry(handbook, grant, amount.group(1));
        limits.stream().sorted().distinct().forEach(limit -> {
            tries.looks.put(limit, new LookBack(new Edition(1, tries.with(mandate, limit))));
            tries.points.put(limit, new Point(limit, 0, 0, 0, 0, 0, BigDecimal.ZERO, List.of()));
        });
        return tries;
    }

    private Handbook with(Mandate mandate, BigDecimal limit) {
        Matcher amount = AMOUNT.matcher(Objects.requireNonNull(grant.when()).text());
        String text = amount.replaceFirst(
                found -> found.group().replaceFirst("[0-9.]+$", new BigDecimal(limit.toPlainString()) + suffix(limit)));
        List<Grant> grants = new ArrayList<>(mandate.grants());
        grants.set(
                grants.indexOf(grant),
                new Grant(
                        grant.name(),
                        grant.tools(),
                        parsed(text),
                        grant.decision(),
                        grant.of(),
                        grant.limits(),
                        grant.overLimit()));
        Map<String, Mandate> mandates = new LinkedHashMap<>(handbook.mandates());
        mandates.put(
                mandate.name(),
                new Mandate(
                        mandate.name(),
                        mandate.title(),
                        mandate.agents(),
                        mandate.ask(),
                        grants,
                        mandate.never(),
                        mandate.places()));
        return new Handbook(
                handbook.house(),
                handbook.desks(),
                handbook.groups(),
                handbook.rooms(),
                handbook.kinds(),
                handbook.intake(),
                handbook.agents(),
                mandates,
                handbook.tools(),
                handbook.checks(),
                handbook.runbooks(),
                handbook.rehearsals());
    }

    /** Amounts are held against amounts with decimals. */
    private static String suffix(BigDecimal limit) {
        return limit.scale() > 0 ? "" : ".0";
    }

    private static Expression parsed(String text) {
        try {
            return Expression.parse(text);
        } catch (BadExpression e) {
            throw new IllegalArgumentException("‘" + text + "’ can't be read: " + e.getMessage());
        }
    }

    /** Whether a case has anything to do with it. */
    public boolean concerns(List<RecordedEntry> trail) {
        return verdict(trail) != null;
    }

    /** Decides one case again under each limit. */
    public void add(Past past) {
        Judged was = verdict(past.trail());
        if (was != null) {
            looks.forEach((limit, look) -> {
                Judged is = verdict(look.decide(past).played().trail());
                points.computeIfPresent(limit, (same, point) -> counted(point, past.caseId(), was, is));
            });
        }
    }

    private Point counted(Point point, String caseId, Judged was, @Nullable Judged is) {
        boolean alone = is != null && is.decision.equals(Decision.ALLOW.word());
        boolean asked = is != null && is.decision.equals(Decision.ASK.word());
        boolean saved = alone && was.decision.equals(Decision.ASK.word());
        List<String> price = new ArrayList<>(point.price);
        if (saved && was.declined) {
            price.add(caseId);
        }
        return new Point(
                point.limit,
                point.judged + 1,
                point.asked + (asked ? 1 : 0),
                point.alone + (alone ? 1 : 0),
                point.saved + (saved ? 1 : 0),
                point.declined + (saved && was.declined ? 1 : 0),
                alone ? point.money.add(Objects.requireNonNull(is).amount) : point.money,
                price);
    }

    /** What came of each limit, the lowest first. */
    public List<Point> points() {
        return List.copyOf(points.values());
    }

    private record Judged(String decision, BigDecimal amount, boolean declined) {}

    /** What was said of the first call that the grant speaks about; null when there was none. */
    private @Nullable Judged verdict(List<RecordedEntry> trail) {
        BigDecimal amount = BigDecimal.ZERO;
        String decision = null;
        String step = "";
        boolean declined = false;
        for (RecordedEntry recorded : trail) {
            TrailWord what = TrailWord.of(recorded.entry().what()).orElse(null);
            JsonNode data = recorded.data();
            if (what == null || data == null) {
                continue;
            }
            boolean covered = isCovered(data.path("tool").asString(""));
            if (decision == null && what == TrailWord.CALL_PROPOSED && covered) {
                amount = data.path("inputs").path(input).asDecimal(BigDecimal.ZERO);
            } else if (decision == null && what == TrailWord.VERDICT && covered) {
                decision = data.path("verdict").asString("");
                step = recorded.entry().step();
            } else if (decision != null
                    && what == TrailWord.APPROVAL_ANSWERED
                    && recorded.entry().step().equals(step)) {
                declined |= data.path("answer").asString("").equals("decline");
            }
        }
        return decision == null ? null : new Judged(decision, amount, declined);
    }

    private boolean isCovered(String tool) {
        return Optional.ofNullable(handbook.tools().get(tool))
                .filter(grant::covers)
                .isPresent();
    }
}

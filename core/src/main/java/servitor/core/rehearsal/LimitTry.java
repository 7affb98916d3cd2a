package servitor.core.rehearsal;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import servitor.core.engine.MemoryLedger;
import servitor.core.expression.BadExpression;
import servitor.core.expression.Expression;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Grant;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Limit;
import servitor.core.handbook.Mandate;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb;
import servitor.core.rehearsal.LookBack.Past;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/**
 * What another amount would have made of past cases: in the condition of a grant, in one of its limits, or as the sureness below which a step
 * goes its other way. It can't know how people would have behaved under it, nor anything of calls that were never wanted.
 */
public final class LimitTry {
    /** An amount that an input is held against, such as {@code args.amount <= 120.0}. */
    private static final Pattern AMOUNT = Pattern.compile("args\\.(\\w+)\\s*<=?\\s*([0-9]+(?:\\.[0-9]+)?)");

    private final Reading reading;
    private final Map<BigDecimal, LookBack> looks = new LinkedHashMap<>();
    private final Map<BigDecimal, Point> points = new LinkedHashMap<>();

    /**
     * What came of one limit.
     *
     * @param judged cases in which it was decided
     * @param asked of those, in how many people would be asked
     * @param alone in how many it would be done with nobody asked
     * @param saved in how many people were asked then and wouldn't be
     * @param declined of those, in how many they declined, or changed something: the price
     * @param money what would be let through with nobody asked
     * @param cases those in which people were asked then and wouldn't be, of more than {@value #MOST_CASES} the first
     * @param price of all those the ones in which people declined or changed what would be done alone
     */
    public record Point(
            BigDecimal limit,
            int judged,
            int asked,
            int alone,
            int saved,
            int declined,
            BigDecimal money,
            List<String> cases,
            List<String> price) {
        private static final int MOST_CASES = 200;

        public Point {
            cases = List.copyOf(cases);
            price = List.copyOf(price);
        }
    }

    /** What a trail says of the thing that is tried. */
    private interface Reading {
        /** Null when it was never decided. */
        @Nullable
        Judged of(List<RecordedEntry> trail);
    }

    private LimitTry(Reading reading, List<BigDecimal> limits, Function<BigDecimal, Handbook> with) {
        this.reading = reading;
        int each = Math.max(1, LookBack.MOST_UNDER_WAY / Math.max(1, limits.size()));
        limits.stream().sorted().distinct().forEach(limit -> {
            looks.put(limit, new LookBack(new Edition(1, with.apply(limit)), new MemoryLedger.Counters(), each));
            points.put(limit, new Point(limit, 0, 0, 0, 0, 0, BigDecimal.ZERO, List.of(), List.of()));
        });
    }

    /**
     * Begins to try other amounts in the condition of a grant; in its first limit, where the condition has none.
     *
     * @param agent whose mandate it is
     * @param named the grant
     * @throws IllegalArgumentException when there is no such grant, or no amount in it
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
        Reading reading = trail -> verdict(handbook, grant, trail);
        if (AMOUNT.matcher(condition(grant)).find()) {
            return new LimitTry(reading, limits, limit -> with(handbook, mandate, grant, limited(grant, limit)));
        } else if (grant.limits().isEmpty()) {
            throw new IllegalArgumentException(
                    "‘" + named
                            + "’ has no limit, and its condition holds no input against an amount, as in ‘args.amount <= 120.0’.");
        }
        return new LimitTry(reading, limits, limit -> with(handbook, mandate, grant, counted(grant, limit)));
    }

    /**
     * Begins to try other marks below which a model isn't sure enough at a step.
     *
     * @param step its heading
     * @param shares 0 to 1
     * @throws IllegalArgumentException when the page has no such step, or no mark stands there
     */
    public static LimitTry of(Handbook handbook, Runbook page, String step, List<BigDecimal> shares) {
        String address = Step.address(step);
        if (page.step(address)
                .map(Step::verb)
                .filter(Verb.Assess.class::isInstance)
                .map(Verb.Assess.class::cast)
                .map(Verb.Assess::unsureBelow)
                .isEmpty()) {
            throw new IllegalArgumentException(
                    "‘" + page.title() + "’ has no step ‘" + step + "’ with ‘unsure-below’.");
        }
        return new LimitTry(
                trail -> assessed(page.name(), address, trail),
                shares,
                share -> handbook.with(page.with(unsure(page.step(address).orElseThrow(), share))));
    }

    private static Step unsure(Step step, BigDecimal share) {
        Verb.Assess verb = (Verb.Assess) step.verb();
        return step.with(new Verb.Assess(
                verb.answer(), verb.about(), share.doubleValue(), verb.remember(), verb.save(), verb.ways()));
    }

    private static String condition(Grant grant) {
        return grant.when() == null ? "" : grant.when().text();
    }

    private static Grant limited(Grant grant, BigDecimal limit) {
        String text = AMOUNT.matcher(condition(grant))
                .replaceFirst(found ->
                        found.group().replaceFirst("[0-9.]+$", new BigDecimal(limit.toPlainString()) + suffix(limit)));
        return new Grant(
                grant.name(),
                grant.tools(),
                parsed(text),
                grant.decision(),
                grant.of(),
                grant.limits(),
                grant.overLimit());
    }

    private static Grant counted(Grant grant, BigDecimal limit) {
        List<Limit> limits = new ArrayList<>(grant.limits());
        Limit first = limits.get(0);
        limits.set(0, new Limit(first.sum(), limit, first.per()));
        return new Grant(
                grant.name(), grant.tools(), grant.when(), grant.decision(), grant.of(), limits, grant.overLimit());
    }

    private static Handbook with(Handbook handbook, Mandate mandate, Grant was, Grant is) {
        List<Grant> grants = new ArrayList<>(mandate.grants());
        grants.set(grants.indexOf(was), is);
        return handbook.with(new Mandate(
                mandate.name(),
                mandate.title(),
                mandate.agents(),
                mandate.ask(),
                grants,
                mandate.never(),
                mandate.places()));
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
        return reading.of(trail) != null;
    }

    /** Decides the next case again under each limit; they are given in the order in which they were opened. */
    public void add(Past past) {
        if (concerns(past.trail())) {
            looks.forEach((limit, look) -> look.take(past, null).forEach(one -> count(limit, one)));
        }
    }

    private void count(BigDecimal limit, LookBack.Decided one) {
        Judged was = Objects.requireNonNull(reading.of(one.past().trail()));
        Judged is = reading.of(one.made().played().trail());
        points.computeIfPresent(
                limit, (same, point) -> counted(point, one.past().caseId(), was, is));
    }

    private static Point counted(Point point, String caseId, Judged was, @Nullable Judged is) {
        BigDecimal amount = is != null && is.alone ? is.amount : null;
        boolean alone = amount != null;
        boolean saved = alone && was.asked;
        List<String> cases = new ArrayList<>(point.cases);
        if (saved && cases.size() < Point.MOST_CASES) {
            cases.add(caseId);
        }
        List<String> price = new ArrayList<>(point.price);
        if (saved && was.declined) {
            price.add(caseId);
        }
        return new Point(
                point.limit,
                point.judged + 1,
                point.asked + (is != null && is.asked ? 1 : 0),
                point.alone + (alone ? 1 : 0),
                point.saved + (saved ? 1 : 0),
                point.declined + (saved && was.declined ? 1 : 0),
                amount == null ? point.money : point.money.add(amount),
                cases,
                price);
    }

    /** What came of each limit, the lowest first. */
    public List<Point> points() {
        looks.forEach((limit, look) -> look.rest().forEach(one -> count(limit, one)));
        return List.copyOf(points.values());
    }

    /**
     * What was decided.
     *
     * @param declined whether people declined it then, or changed something
     */
    private record Judged(boolean asked, boolean alone, BigDecimal amount, boolean declined) {}

    private static boolean changes(JsonNode answer) {
        return !answer.path("answer").asString("").equals("approve") || answer.has("edited");
    }

    /** What was said of the first call that the grant speaks about; null when there was none. */
    private static @Nullable Judged verdict(Handbook handbook, Grant grant, List<RecordedEntry> trail) {
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
            Optional<Tool> covered = Optional.ofNullable(
                            handbook.tools().get(data.path("tool").asString("")))
                    .filter(grant::covers);
            if (decision == null && what == TrailWord.CALL_PROPOSED && covered.isPresent()) {
                amount = amount(grant, covered.get(), data.path("inputs"));
            } else if (decision == null && what == TrailWord.VERDICT && covered.isPresent()) {
                decision = data.path("verdict").asString("");
                step = recorded.entry().step();
            } else if (decision != null
                    && what == TrailWord.APPROVAL_ANSWERED
                    && recorded.entry().step().equals(step)) {
                declined |= changes(data);
            }
        }
        return decision == null
                ? null
                : new Judged(
                        decision.equals(Decision.ASK.word()), decision.equals(Decision.ALLOW.word()), amount, declined);
    }

    /** The input that the condition is about; else the one that is money. */
    private static BigDecimal amount(Grant grant, Tool tool, JsonNode inputs) {
        Matcher held = AMOUNT.matcher(condition(grant));
        String name = held.find()
                ? held.group(1)
                : tool.amounts().stream().findFirst().orElse("");
        return inputs.path(name).asDecimal(BigDecimal.ZERO);
    }

    /** Whether people had anything to do with a run in which a model judged at a step; null when none did. */
    private static @Nullable Judged assessed(String page, String step, List<RecordedEntry> trail) {
        Set<String> runs = new HashSet<>();
        boolean judged = false;
        boolean asked = false;
        boolean ended = false;
        boolean declined = false;
        for (RecordedEntry recorded : trail) {
            TrailWord what = TrailWord.of(recorded.entry().what()).orElse(null);
            JsonNode data = recorded.data();
            if (what == null || data == null) {
                continue;
            }
            boolean here = runs.contains(recorded.entry().runId());
            switch (what) {
                case RUN_STARTED -> {
                    if (data.path("page").asString("").equals(page)) {
                        runs.add(recorded.entry().runId());
                    }
                }
                case ASSESSED -> judged |= here && recorded.entry().step().equals(step);
                case APPROVAL_OPENED, HANDED_OVER -> asked |= judged;
                case APPROVAL_ANSWERED -> declined |= judged && changes(data);
                case RUN_FINISHED -> ended |= here;
                default -> {}
            }
        }
        return judged ? new Judged(asked, !asked && ended, BigDecimal.ZERO, declined) : null;
    }
}

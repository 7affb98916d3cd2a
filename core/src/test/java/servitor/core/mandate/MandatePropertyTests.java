package servitor.core.mandate;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Handbook;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import tools.jackson.databind.JsonNode;

/** Random mandates and calls against the same rules written down plainly. */
class MandatePropertyTests {
    private static final int CALLS = 40;

    /** What a condition comes to for one call. */
    private enum Holds {
        YES,
        NO,
        FAILS
    }

    private record Condition(String text, Holds holds) {}

    private record Rule(String verdict, Condition when, String tools) {
        boolean covers() {
            return !tools.contains("find");
        }

        String yaml(int number) {
            return "  - { name: g" + number + ", tools: [\"" + tools + "\"]"
                    + (when == null ? "" : ", when: '" + when.text() + "'")
                    + (verdict.equals("never") ? "" : ", verdict: " + verdict)
                    + " }\n";
        }
    }

    private final Map<String, BigDecimal> used = new HashMap<>();

    private static Condition condition(Random random, BigDecimal amount, boolean sourced) {
        int limit = 10 * (1 + random.nextInt(20));
        return switch (random.nextInt(6)) {
            case 0 -> null;
            case 1 ->
                new Condition(
                        "args.amount <= " + limit + ".0",
                        amount.compareTo(BigDecimal.valueOf(limit)) <= 0 ? Holds.YES : Holds.NO);
            case 2 -> new Condition("args.amount == source(args.reference).paid", sourced ? Holds.YES : Holds.FAILS);
            case 3 -> new Condition("requester.account == \"P-1\"", Holds.YES);
            case 4 -> new Condition("requester.account == \"P-2\"", Holds.NO);
            default -> new Condition("args.amount > 0.0 && source(args.amount).paid > 0.0", Holds.FAILS);
        };
    }

    private static List<Rule> rules(Random random, String only, BigDecimal amount, boolean sourced) {
        List<Rule> rules = new ArrayList<>();
        int count = random.nextInt(5);
        for (int i = 0; i < count; i++) {
            String verdict =
                    only != null ? only : List.of("allow", "ask", "deny").get(random.nextInt(3));
            String tools =
                    List.of("fares.pay-refund", "fares.*", "fares.find-*", "*").get(random.nextInt(4));
            rules.add(new Rule(verdict, condition(random, amount, sourced), tools));
        }
        return rules;
    }

    /** The rules as the design has them: never first, then the first grant that matches; what fails closes. */
    private static Decision plainly(List<Rule> never, List<Rule> grants) {
        for (Rule rule : never) {
            if (rule.covers() && (rule.when() == null || rule.when().holds() != Holds.NO)) {
                return Decision.DENY;
            }
        }
        for (Rule rule : grants) {
            Holds holds = rule.when() == null ? Holds.YES : rule.when().holds();
            boolean matches =
                    holds == Holds.YES || holds == Holds.FAILS && rule.verdict().equals("deny");
            if (rule.covers() && matches) {
                return Decision.of(rule.verdict());
            }
        }
        return Decision.DENY;
    }

    private static String mandate(String agent, List<Rule> never, List<Rule> grants) {
        StringBuilder yaml = new StringBuilder("title: By chance\nfor: [" + agent + "]\nask: duty-managers\n");
        yaml.append(grants.isEmpty() ? "" : "grants:\n");
        int number = 0;
        for (Rule rule : grants) {
            yaml.append(rule.yaml(number++));
        }
        yaml.append(never.isEmpty() ? "" : "never:\n");
        for (Rule rule : never) {
            yaml.append(rule.yaml(number++));
        }
        return yaml.toString();
    }

    private Verdict judge(Handbook handbook, BigDecimal amount, boolean sourced, List<String> chain) {
        JsonNode record = Json.object().put("owner", "P-1").put("paid", amount);
        ProposedCall call = new ProposedCall(
                "purser",
                "fares.pay-refund",
                Map.of(
                        "reference", TracedValue.of(Json.of("SK-4821"), Origin.LOOKUP),
                        "amount", TracedValue.of(Json.of(amount), Origin.LOOKUP),
                        "reason", TracedValue.of(Json.of("goodwill"), Origin.HANDBOOK)),
                sourced ? Map.of("reference", record) : Map.of(),
                Map.of(),
                chain);
        Map<String, JsonNode> scope = Map.of(
                "case", Json.object().put("id", "C-1"),
                "requester",
                        Json.object().put("id", "ines").put("account", "P-1").put("proof", "signed-in"),
                "run", Json.object().put("id", "R-1"),
                "now", Json.of("2026-11-25T10:00:00Z"));
        return Judge.judge(handbook, call, scope, counter -> used.getOrDefault(counter, BigDecimal.ZERO));
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4})
    void theJudgeSaysWhatTheRulesSayAndAChainTheStricterOfAll(long seed) {
        Random random = new Random(seed);
        for (int i = 0; i < CALLS; i++) {
            BigDecimal amount = BigDecimal.valueOf(1 + random.nextInt(20_000), 2);
            boolean sourced = random.nextBoolean();
            List<Rule> never = rules(random, "never", amount, sourced);
            List<Rule> grants = rules(random, null, amount, sourced);
            List<Rule> others = rules(random, null, amount, sourced);
            Map<String, String> files = DemoHandbook.files();
            files.put("mandates/purser.yaml", mandate("purser", never, grants));
            files.put("mandates/steward.yaml", mandate("steward", List.of(), others));
            Handbook handbook = DemoHandbook.unchecked(files).handbook();
            String as = "seed " + seed + ", call " + i + "\n" + files.get("mandates/purser.yaml");

            Decision alone = plainly(never, grants);
            assertThat(judge(handbook, amount, sourced, List.of()).decision())
                    .as(as)
                    .isEqualTo(alone);
            Decision chained =
                    judge(handbook, amount, sourced, List.of("steward")).decision();
            assertThat(chained)
                    .as(as + "with\n" + files.get("mandates/steward.yaml"))
                    .isEqualTo(alone.or(plainly(List.of(), others)));
        }
    }

    @ParameterizedTest
    @ValueSource(longs = {5, 6})
    void sumsNeverPassTheirLimitByACent(long seed) {
        Random random = new Random(seed);
        Map<String, String> files = DemoHandbook.files();
        files.put("mandates/purser.yaml", """
                title: By chance
                for: [purser]
                ask: duty-managers
                grants:
                  - name: small
                    tools: [fares.pay-refund]
                    verdict: allow
                    limits: [{ sum: args.amount, at-most: 1000.00, per: [day] }]
                    over-limit: ask
                """);
        Handbook handbook = DemoHandbook.unchecked(files).handbook();
        BigDecimal alone = BigDecimal.ZERO;
        for (int i = 0; i < 3_000; i++) {
            BigDecimal amount = BigDecimal.valueOf(1 + random.nextInt(2_000), 2);
            Verdict verdict = judge(handbook, amount, true, List.of());
            if (verdict.decision() == Decision.ALLOW) {
                verdict.charges().forEach(charge -> used.merge(charge.counter(), charge.amount(), BigDecimal::add));
                alone = alone.add(amount);
            }
            assertThat(alone).isLessThanOrEqualTo(new BigDecimal("1000.00"));
        }
        assertThat(alone).as("and come up to it").isGreaterThan(new BigDecimal("990.00"));
    }
}

package servitor.demo;

import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import servitor.cli.command.HandbookFolder;
import servitor.connectors.Connectors;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Outcome;
import servitor.core.engine.Reply;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Tool;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.json.Json;
import servitor.core.mandate.Judge;
import servitor.core.mandate.ProposedCall;
import servitor.core.mandate.Usage;
import servitor.core.origin.NormalForm;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.standins.Standins;
import tools.jackson.databind.JsonNode;

/**
 * What the gate costs: verdicts among 200 grants beside the same rules as Java ifs, a whole call beside the bare connector, and
 * matching origins in a long document.
 */
public final class GateBench {
    private static final int GRANTS = 200;

    private GateBench() {}

    private interface Work {
        void once() throws Exception;
    }

    public static void main(String[] args) throws Exception {
        verdicts();
        calls();
        origins();
        System.exit(0);
    }

    /** The best of five rounds after two to warm up: seconds for one. */
    private static double seconds(int times, Work work) throws Exception {
        double best = Double.MAX_VALUE;
        for (int round = 0; round < 7; round++) {
            long start = System.nanoTime();
            for (int i = 0; i < times; i++) {
                work.once();
            }
            double each = (System.nanoTime() - start) / 1e9 / times;
            best = round < 2 ? best : Math.min(best, each);
        }
        return best;
    }

    private static Handbook handbook(String mandate) throws Exception {
        Map<String, String> files = new java.util.TreeMap<>(HandbookFolder.read(Path.of("demo/handbook")));
        if (!mandate.isEmpty()) {
            files.put("mandates/purser.yaml", mandate);
        }
        return CheckedHandbook.of(files).handbook();
    }

    private static ProposedCall call(String amount) {
        JsonNode record = Json.object().put("owner", "P-1042").put("paid", new BigDecimal(amount));
        return new ProposedCall(
                "purser",
                "fares.pay-refund",
                Map.of(
                        "reference", TracedValue.of(Json.of("SK-48213"), Origin.LOOKUP),
                        "amount", TracedValue.of(Json.of(new BigDecimal(amount)), Origin.LOOKUP),
                        "reason", TracedValue.of(Json.of("goodwill"), Origin.HANDBOOK)),
                Map.of("reference", record));
    }

    private static final Map<String, JsonNode> SCOPE = Map.of(
            "case", Json.object().put("id", "C-1"),
            "requester",
                    Json.object().put("id", "ines").put("account", "P-1042").put("proof", "signed-in"),
            "run", Json.object().put("id", "R-1"),
            "now", Json.of("2026-11-25T10:00:00Z"));

    private static void verdicts() throws Exception {
        StringBuilder mandate = new StringBuilder("title: Many\nfor: [purser]\nask: duty-managers\ngrants:\n");
        for (int i = 0; i < GRANTS; i++) {
            mandate.append("  - { name: g%d, tools: [fares.pay-refund], when: 'args.amount > %d.0 && "
                    + "source(args.reference).owner == requester.account', verdict: allow }%n"
                            .formatted(i, 10 * (GRANTS - i)));
        }
        Handbook handbook = handbook(mandate.toString());
        ProposedCall call = call("5.00"); // no grant matches, so that all are looked at
        double judged = seconds(300, () -> {
            if (Judge.judge(handbook, call, SCOPE, Usage.NONE).decision() != Decision.DENY) {
                throw new IllegalStateException("no grant was meant to match");
            }
        });
        double[] bounds = new double[GRANTS];
        for (int i = 0; i < GRANTS; i++) {
            bounds[i] = 10.0 * (GRANTS - i);
        }
        int[] allowed = {0};
        double plain = seconds(300, () -> {
            JsonNode inputs = call.args();
            String account = Objects.requireNonNull(SCOPE.get("requester"))
                    .get("account")
                    .stringValue();
            for (double bound : bounds) {
                if (inputs.get("amount").decimalValue().doubleValue() > bound
                        && Objects.requireNonNull(call.sources().get("reference"))
                                .get("owner")
                                .stringValue()
                                .equals(account)) {
                    allowed[0]++;
                    return;
                }
            }
        });
        System.out.printf("verdicts among %d grants:   %8.0f/s%n", GRANTS, 1 / judged);
        System.out.printf("the same rules as Java ifs: %8.0f/s (ratio 1 to %.0f)%n", 1 / plain, judged / plain);
        ProposedCall small = call("38.00");
        Handbook demo = handbook("");
        System.out.printf(
                "a verdict in the demo:      %8.0f/s%n",
                1 / seconds(2_000, () -> Judge.judge(demo, small, SCOPE, Usage.NONE)));
    }

    private static void calls() throws Exception {
        Handbook handbook = handbook("");
        Tool tool = handbook.tool("fares.find-sailing");
        try (Standins standins = new Standins(Standins.Ports.ANY, Files.createTempDirectory("servitor-gate-"))) {
            Access access = new Access(standins.fares().url(), new Credentials.None(), true);
            Connectors connectors = new Connectors();
            ProposedCall call = new ProposedCall(
                    "purser", tool.name(), Map.of("number", TracedValue.of(Json.of("S-311"), Origin.LOOKUP)), Map.of());
            double bare = seconds(
                    300, () -> connectors.call(access, tool, call.args(), "k", Deadline.in(Duration.ofMinutes(1))));
            double gated = seconds(300, () -> {
                Judge.judge(handbook, call, SCOPE, Usage.NONE);
                Reply reply = connectors.call(access, tool, call.args(), "k", Deadline.in(Duration.ofMinutes(1)));
                Outcome.of(tool, "k", Json.object(), reply);
                if (reply instanceof Reply.Answered answered) {
                    TracedValue.answer(answered.body(), call.inputs(), tool.freeText(), tool.ownWords());
                }
            });
            System.out.printf(
                    "a call by the bare connector: %6.0f µs; judged, checked and traced: %6.0f µs (ratio %.2f)%n",
                    bare * 1e6, gated * 1e6, gated / bare);
        }
    }

    private static void origins() throws Exception {
        StringBuilder document = new StringBuilder();
        for (int i = 0; document.length() < 1_000_000; i++) {
            document.append("On 3 May 2026 booking SK-")
                    .append(100_000 + i)
                    .append(" cost 1.234,")
                    .append(10 + i % 90)
                    .append(" EUR, said ines")
                    .append(i)
                    .append("@skerryline.example.\n");
        }
        List<JsonNode> looked = new ArrayList<>();
        for (int i = 0; i < 5_000; i++) {
            looked.add(Json.of("SK-" + (100_000 + 3 * i)));
        }
        String text = document.toString();
        int[] found = {0};
        double matched = seconds(1, () -> {
            Set<String> mentioned = NormalForm.mentioned(text);
            found[0] = 0;
            looked.forEach(value -> found[0] += mentioned.contains(NormalForm.of(value)) ? 1 : 0);
        });
        double words = seconds(1, () -> text.split("\\s+"));
        System.out.printf(
                "origins of 5,000 values in a document of 1 MB: %d ms, %d found; splitting it at blanks: %.0f ms (ratio %.0f)%n",
                Math.round(matched * 1e3), found[0], words * 1e3, matched / words);
    }
}

package servitor.cli.command;

import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import picocli.CommandLine.UseDefaultConverter;
import servitor.cli.client.Answers.Agent;
import servitor.cli.client.Answers.AgentSummary;
import servitor.cli.client.Answers.Brief;
import servitor.cli.client.Answers.Sample;
import servitor.cli.client.Answers.StepTried;
import servitor.cli.client.Answers.StepTrouble;
import servitor.cli.client.Answers.Today;
import servitor.cli.client.Answers.Told;
import servitor.cli.client.Client;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;

/** {@code agent}: list, show, prompt, try. */
@Command(name = "agent", description = "See who works here, and try them out.", synopsisSubcommandLabel = "ACTION")
public final class AgentCommand {
    @ParentCommand
    private Servitor servitor;

    /** What a step is tried on. */
    static final class On {
        @Option(names = "--page", description = "A page of the agent's; the first that asks a model, unless told.")
        private @Nullable String page;

        @Option(
                names = "--step",
                description = "A step of the page, by its heading; the first that asks a model, unless told.")
        private @Nullable String step;

        @Option(names = "--case", description = "The case it is about; otherwise one that is told here.")
        private @Nullable String caseId;

        @Option(names = "--run", description = "An earlier run of the page, with what it knew.")
        private @Nullable String run;

        @Option(names = "--subject", description = "What the case is called.")
        private @Nullable String subject;

        @Option(names = "--text", description = "What the request says.")
        private @Nullable String text;

        @Option(names = "--language", description = "The language it is written in.")
        private @Nullable String language;

        @Option(
                names = "--field",
                converter = {UseDefaultConverter.class, Given.class},
                description = "A field of the case, as in --field booking=SK-48213.")
        private @Nullable Map<String, String> fields;

        @Option(
                names = "--fact",
                description =
                        "Known in addition, by the name a step saves it under, as in --fact 'found={\"paid\": 38}'.")
        private @Nullable Map<String, String> facts;

        @Option(names = "--draft", description = "By your own draft instead of the edition in force.")
        private boolean draft;

        Map<String, Object> body() {
            Map<String, Object> body = new LinkedHashMap<>();
            body.put("page", page);
            body.put("step", step);
            body.put("caseId", caseId);
            body.put("run", run);
            body.put("subject", subject);
            body.put("text", text);
            body.put("language", language);
            body.put("fields", Inputs.read(fields));
            body.put("facts", Inputs.read(facts));
            body.put("draft", draft);
            return body;
        }
    }

    @Command(name = "list", description = "Who works here, and what they did in the last seven days.")
    int list() {
        JsonNode agents = servitor.client().get("/api/agents");
        if (!servitor.printed(agents)) {
            Output.table(
                    servitor.out(),
                    List.of(
                            "AGENT", "DESK", "WORKS", "RUNS", "ALONE", "ASKED", "REFUSED", "TROUBLE", "TOKENS", "COST",
                            "FOR"),
                    Client.all(AgentSummary.class, agents).stream()
                            .map(one -> List.of(
                                    one.name(),
                                    one.desk(),
                                    one.works(),
                                    String.valueOf(one.lately().runs()),
                                    String.valueOf(one.lately().alone()),
                                    String.valueOf(one.lately().asked()),
                                    String.valueOf(one.lately().refused()),
                                    String.valueOf(one.lately().troubled()),
                                    String.valueOf(one.lately().tokens()),
                                    one.lately().cost() == null
                                            ? ""
                                            : one.lately().cost().toPlainString() + " "
                                                    + one.lately().currency(),
                                    one.job()))
                            .toList());
        }
        return 0;
    }

    @Command(name = "show", description = "One agent: brief, pages, mandate, last runs.")
    int show(@Parameters(paramLabel = "AGENT") String name) {
        JsonNode answer = servitor.client().get("/api/agents/" + name);
        if (!servitor.printed(answer)) {
            print(Client.as(Agent.class, answer));
        }
        return 0;
    }

    private static String today(Today today, String currency) {
        List<String> parts = new ArrayList<>();
        if (today.mostTokens() != null) {
            parts.add(today.tokens() + " of " + today.mostTokens() + " tokens");
        }
        if (today.mostCost() != null && today.cost() != null) {
            parts.add(today.cost().stripTrailingZeros().toPlainString() + " of "
                    + today.mostCost().toPlainString() + " " + currency);
        }
        return String.join(", ", parts);
    }

    private void print(Agent agent) {
        PrintWriter out = servitor.out();
        AgentSummary summary = agent.summary();
        out.println(summary.title() + ", desk " + summary.desk() + ", works "
                + summary.works() + " with " + summary.model()
                + (agent.modelName() == null ? "" : " (" + agent.modelName() + ")"));
        if (summary.today() != null) {
            out.println("Its models today: "
                    + today(summary.today(), summary.lately().currency()));
        }
        print(agent.brief());
        out.println();
        out.println("Pages:");
        agent.pages().forEach(page -> {
            out.println("  " + page.name() + "  " + page.title());
            page.steps().forEach(step -> out.println("    " + step.verb() + ": " + step.title()));
        });
        out.println();
        out.println("Could do:");
        agent.mandate().forEach(can -> out.println("  " + can.tool() + " (" + can.effect() + "): " + can.words()));
        out.println();
        if (agent.runs().isEmpty()) {
            out.println("It has worked in no run yet.");
            return;
        }
        out.println("Last runs:");
        Output.table(
                out,
                List.of("RUN", "CASE", "STATUS", "BEGAN", "PAGE"),
                agent.runs().stream()
                        .map(run -> List.of(
                                run.id(), run.caseId(), run.status(), Output.time(run.created()), run.pageTitle()))
                        .toList());
    }

    private void print(Brief brief) {
        PrintWriter out = servitor.out();
        out.println("  Job: " + brief.job());
        if (!brief.audience().isEmpty()) {
            out.println("  Writes to: " + brief.audience());
        }
        brief.always().forEach(rule -> out.println("  Always: " + rule));
        brief.never().forEach(rule -> out.println("  Never: " + rule));
        brief.writing().forEach(rule -> out.println("  Writing: " + rule));
        brief.examples()
                .forEach(one -> out.println("  " + (one.why().isEmpty() ? "Good" : "Bad") + ": "
                        + (one.asked().isEmpty() ? "" : one.asked() + " – ") + one.output()
                        + (one.why().isEmpty() ? "" : " – " + one.why())));
    }

    @Command(
            name = "prompt",
            description =
                    "What a model would be told at a step, part by part, and where each part is from; it isn't asked.")
    int prompt(@Parameters(paramLabel = "AGENT") String name, @ArgGroup(exclusive = false) @Nullable On on) {
        JsonNode answer = servitor.client().post("/api/agents/" + name + "/prompt", body(on));
        Told told = Client.as(Told.class, answer);
        if (!servitor.printed(answer)) {
            print(told);
        }
        return told.trouble() == null ? 0 : 1;
    }

    private static Map<String, Object> body(@Nullable On on) {
        return (on == null ? new On() : on).body();
    }

    private void print(Told told) {
        PrintWriter out = servitor.out();
        if (told.trouble() != null) {
            out.println("The model isn't asked: " + words(told.trouble()));
            return;
        }
        out.println(told.model() + ", about " + told.tokens() + " tokens");
        told.parts().forEach(part -> {
            out.println();
            out.println("── " + part.from() + ", " + share(part.tokens(), told) + " ──");
            out.println(part.text().strip());
        });
        told.tools().forEach(tool -> {
            out.println();
            out.println("── tool " + tool.name() + ", " + share(tool.tokens(), told) + " ──");
            out.println(tool.description());
        });
    }

    private static String share(int tokens, Told told) {
        return tokens + " tokens (" + Math.round(100.0 * tokens / Math.max(1, told.tokens())) + " %)";
    }

    private static String words(StepTrouble trouble) {
        return trouble.problem() + ": " + trouble.detail();
    }

    @Command(
            name = "try",
            description = {
                "Ask the model at a step and say what that would come to; no tool is called, nothing is kept on the case.",
                "With --samples: at each sample of the agent's file, by the edition in force and by your draft, and what differs."
            })
    int tryOut(
            @Parameters(paramLabel = "AGENT") String name,
            @Option(names = "--samples", description = "At each sample of the agent's file, by both.") boolean samples,
            @ArgGroup(exclusive = false) @Nullable On on) {
        if (samples) {
            return trySamples(name);
        }
        JsonNode answer = servitor.client().post("/api/agents/" + name + "/try", body(on));
        StepTried tried = Client.as(StepTried.class, answer);
        if (!servitor.printed(answer)) {
            print(tried);
        }
        return tried.trouble() == null ? 0 : 1;
    }

    private void print(StepTried tried) {
        PrintWriter out = servitor.out();
        if (tried.answer() != null && !tried.answer().isNull()) {
            tried.answer().properties().forEach(field -> out.println(field.getKey() + ": " + said(field.getValue())));
        }
        tried.calls().forEach(call -> {
            String of = String.join(", ", call.of());
            out.println("would call " + call.tool() + " " + call.inputs());
            out.println("  the gate says " + call.verdict() + (of.isEmpty() ? "" : " " + of) + ": " + call.reason());
        });
        if (tried.trouble() != null) {
            out.println("It would meet " + words(tried.trouble()));
        }
        out.println(tried.tokens() + " tokens used; told about " + tried.told().tokens() + ".");
    }

    /** Each sample of one's draft, by both; 1 when something differs. */
    private int trySamples(String name) {
        PrintWriter out = servitor.out();
        String path = "/api/agents/" + name;
        int different = 0;
        for (Sample sample : Client.as(Agent.class, servitor.client().get(path + "?draft=true"))
                .samples()) {
            JsonNode now =
                    servitor.client().post(path + "/try", sample.body(false)).path("answer");
            JsonNode draft =
                    servitor.client().post(path + "/try", sample.body(true)).path("answer");
            out.println(sample.step() + ": " + Output.shorten(sample.subject() + " " + sample.text(), 80));
            draft.propertyNames().forEach(field -> {
                boolean same = draft.path(field).equals(now.path(field));
                out.println((same ? "    " : "  ≠ ") + field + ": " + said(draft.path(field))
                        + (same ? "" : "\n      in force: " + said(now.path(field))));
            });
            different += draft.equals(now) ? 0 : 1;
        }
        out.println(different == 0 ? "Nothing differs." : different + " of them differ.");
        return different == 0 ? 0 : 1;
    }

    private static String said(JsonNode value) {
        return value.isString() ? value.stringValue() : value.toString();
    }
}

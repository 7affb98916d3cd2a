package servitor.cli.command;

import java.io.IOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import picocli.CommandLine.UseDefaultConverter;
import servitor.cli.client.Answers.CouldDo;
import servitor.cli.client.Answers.Said;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;

/** {@code mandate}: table, try, what-if. */
@Command(name = "mandate", description = "See what agents could do.", synopsisSubcommandLabel = "ACTION")
public final class MandateCommand {
    @ParentCommand
    private Servitor servitor;

    @Command(name = "table", description = "What each agent could do with each tool: alone, asking, or never.")
    int table(
            @Option(names = "--agent", description = "Only this agent.") @Nullable String agent,
            @Option(names = "--all", description = "Also what an agent can never do.") boolean all,
            @Option(names = "--csv", description = "As comma-separated values.") boolean csv) {
        if (csv) {
            try (var in = servitor.client().download("/api/mandates/table.csv")) {
                servitor.out().print(new String(in.readAllBytes(), StandardCharsets.UTF_8));
                servitor.out().flush();
                return 0;
            } catch (IOException e) {
                throw new Trouble(ExitCode.UNREACHABLE, "the answer broke off: " + e.getMessage());
            }
        }
        JsonNode table = servitor.client().get("/api/mandates/table");
        if (!servitor.printed(table)) {
            Output.table(
                    servitor.out(),
                    List.of("AGENT", "TOOL", "EFFECT", "CAN", "IN WORDS"),
                    Client.as(CouldDo.class, table).rows().stream()
                            .filter(row -> agent == null || row.agent().equals(agent))
                            .filter(row -> all || !row.reach().equals("never"))
                            .map(row -> List.of(row.agent(), row.tool(), row.effect(), row.reach(), row.words()))
                            .toList());
        }
        return 0;
    }

    @Command(
            name = "what-if",
            description = {
                "Say what other limits would have made of past cases: the cases of your desks, decided again.",
                "GRANT is one whose condition holds an input against an amount, or one with a limit."
            })
    int whatIf(
            @Parameters(paramLabel = "AGENT") String agent,
            @Parameters(paramLabel = "GRANT") String grant,
            @Option(
                            names = "--try",
                            split = ",",
                            required = true,
                            paramLabel = "AMOUNT",
                            description = "The limits to try, as in --try 50,100,200.")
                    List<BigDecimal> limits,
            @Option(
                            names = "--since",
                            paramLabel = "90d",
                            defaultValue = "90d",
                            converter = Since.class,
                            description = "How far back, as in 90d or 12w; 90 days unless told.")
                    int days) {
        JsonNode answer = servitor.client()
                .post("/api/mandates/limits", Map.of("agent", agent, "grant", grant, "limits", limits, "days", days));
        LimitPoints.print(servitor, answer);
        return 0;
    }

    @Command(name = "try", description = "Say what the gate would say of a call, and why; nothing is called.")
    int tryOut(
            @Parameters(paramLabel = "AGENT") String agent,
            @Parameters(paramLabel = "TOOL") String tool,
            @Option(names = "--case", required = true, description = "The case it would be for.") String caseId,
            @Option(
                            names = "--arg",
                            converter = {UseDefaultConverter.class, Given.class},
                            description = "An input, as in --arg amount=38.00.")
                    @Nullable
                    Map<String, String> args,
            @Option(
                            names = "--source",
                            description =
                                    "The record an input would have been looked up in, as in --source 'reference={\"paid\": 38}'.")
                    @Nullable
                    Map<String, String> sources,
            @Option(
                            names = "--origin",
                            description =
                                    "Where an input would come from, as in --origin reference=requester (otherwise: person).")
                    @Nullable
                    Map<String, String> origins) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("agent", agent);
        body.put("tool", tool);
        body.put("caseId", caseId);
        body.put("args", Inputs.of(servitor.client(), tool, args));
        body.put("sources", Inputs.read(sources));
        body.put("origins", origins == null ? Map.of() : origins);
        JsonNode answer = servitor.client().post("/api/mandates/try", body);
        if (!servitor.printed(answer)) {
            Said said = Client.as(Said.class, answer);
            String of = String.join(", ", said.of());
            servitor.out().println(said.verdict() + (of.isEmpty() ? "" : " " + of) + ": " + said.reason());
            said.limits().forEach(limit -> servitor.out().println("  would count: " + limit));
        }
        return 0;
    }
}

package servitor.cli.command;

import java.math.BigDecimal;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Client;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** {@code agreement}: what people did beside what was proposed, and who is trusted with more. */
@Command(
        name = "agreement",
        description =
                "See how far people did what was proposed, in shadow or by asking them; and trust somebody with more.",
        synopsisSubcommandLabel = "ACTION")
public final class AgreementCommand {
    @ParentCommand
    private Servitor servitor;

    record Counted(int calls, BigDecimal money) {
        String words() {
            return money.signum() == 0
                    ? String.valueOf(calls)
                    : calls + " (" + money.stripTrailingZeros().toPlainString() + ")";
        }
    }

    record Compared(String caseId, String at, boolean shadow, String sort, String says, String did) {}

    record Sheet(
            String tool, String works, Map<String, String> agents, Map<String, Counted> counted, List<Compared> calls) {
        /** How the tool works, and who else is watched when calling it. */
        String watched() {
            StringBuilder words = new StringBuilder(works);
            agents.forEach(
                    (name, how) -> words.append(", ").append(name).append(' ').append(how));
            return words.toString();
        }

        String counted(String sort) {
            return counted.getOrDefault(sort, new Counted(0, BigDecimal.ZERO)).words();
        }
    }

    record Sheets(String currency, List<Sheet> tools) {}

    @Command(
            name = "list",
            description = "Each tool whose calls were held in shadow or asked about, with what people did.")
    int list(
            @Option(
                            names = "--since",
                            paramLabel = "30d",
                            converter = Since.class,
                            description = "How far back, as in 30d or 12w; 30 days unless told.")
                    @Nullable
                    Integer days) {
        JsonNode answer = sheets(days);
        if (!servitor.printed(answer)) {
            Sheets sheets = Client.as(Sheets.class, answer);
            Output.table(
                    servitor.out(),
                    List.of("TOOL", "SAME", "OTHERWISE", "NOT COMPARABLE", "OPEN", "WORKS"),
                    sheets.tools().stream()
                            .map(sheet -> List.of(
                                    sheet.tool(),
                                    sheet.counted("same"),
                                    sheet.counted("other"),
                                    sheet.counted("not-comparable"),
                                    sheet.counted("open"),
                                    sheet.watched()))
                            .toList());
            servitor.out().println("In brackets: the money they were about, in " + sheets.currency() + ".");
        }
        return 0;
    }

    private static JsonNode only(JsonNode sheets, String tool) {
        ObjectNode one = (ObjectNode) sheets.deepCopy();
        ArrayNode tools = one.putArray("tools");
        sheets.path("tools").forEach(sheet -> {
            if (sheet.path("tool").asString("").equals(tool)) {
                tools.add(sheet);
            }
        });
        return one;
    }

    @Command(name = "show", description = "One tool: each call with what people did.")
    int show(
            @Parameters(paramLabel = "TOOL") String tool,
            @Option(
                            names = "--since",
                            paramLabel = "30d",
                            converter = Since.class,
                            description = "How far back, as in 30d or 12w; 30 days unless told.")
                    @Nullable
                    Integer days) {
        JsonNode answer = only(sheets(days), tool);
        if (servitor.printed(answer)) {
            return 0;
        }
        Sheets sheets = Client.as(Sheets.class, answer);
        Sheet sheet =
                sheets.tools().stream().findFirst().orElse(new Sheet(tool, "alone", Map.of(), Map.of(), List.of()));
        servitor.out().println(tool + ": " + sheet.watched());
        Output.table(
                servitor.out(),
                List.of("CASE", "AT", "AS", "PEOPLE DID", "IT WOULD HAVE", "WHAT THEY SAY"),
                sheet.calls().stream()
                        .map(call -> List.of(
                                call.caseId(),
                                Output.time(call.at()),
                                call.shadow() ? "held" : "asked",
                                call.sort(),
                                call.says(),
                                call.did()))
                        .toList());
        return 0;
    }

    /** Exactly one of the two. */
    static final class Who {
        @Option(names = "--agent", required = true, description = "An agent, by its name.")
        @Nullable
        String agent;

        @Option(names = "--tool", required = true, description = "A tool, by its full name.")
        @Nullable
        String tool;
    }

    @Command(
            name = "trust",
            description = "Have an agent or a tool work alone, supervised or in shadow, in your draft.")
    int trust(
            @Parameters(paramLabel = "alone|supervised|shadow") String works,
            @ArgGroup(exclusive = true, multiplicity = "1") Who who) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("works", works);
        body.put("agent", who.agent);
        body.put("tool", who.tool);
        JsonNode changed = servitor.client().post("/api/handbook/draft/works", body);
        if (!servitor.printed(changed)) {
            servitor.out()
                    .println("Changed in your draft: " + changed.path("path").asString("")
                            + ". It holds once the draft is published.");
        }
        return 0;
    }

    private JsonNode sheets(@Nullable Integer days) {
        return servitor.client().get("/api/agreement" + (days == null ? "" : "?days=" + days));
    }
}

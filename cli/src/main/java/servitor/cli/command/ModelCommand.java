package servitor.cli.command;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Answers.Model;
import servitor.cli.client.Answers.ModelSaid;
import servitor.cli.client.Client;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;

/** {@code model}: list, try. */
@Command(
        name = "model",
        description = "See the models agents work with, and try them.",
        synopsisSubcommandLabel = "ACTION")
public final class ModelCommand {
    @ParentCommand
    private Servitor servitor;

    @Command(name = "list", description = "The models of the house, and who works with them.")
    int list() {
        JsonNode models = servitor.client().get("/api/models");
        if (!servitor.printed(models)) {
            Output.table(
                    servitor.out(),
                    List.of("MODEL", "KNOWN AS", "CONNECTION", "WINDOW", "PRICE", "CAN", "OTHERWISE", "AGENTS"),
                    Client.all(Model.class, models).stream()
                            .map(model -> List.of(
                                    model.name(),
                                    model.known(),
                                    model.connection() + (model.ready() ? "" : ", not set up"),
                                    String.valueOf(model.window()),
                                    model.price() == null
                                            ? ""
                                            : model.price().asked().toPlainString() + " / "
                                                    + model.price().answered().toPlainString(),
                                    String.join(", ", model.can()),
                                    model.otherwise() == null ? "" : model.otherwise(),
                                    String.join(", ", model.agents())))
                            .toList());
        }
        return 0;
    }

    @Command(name = "try", description = "Ask a model a word, as agents would.")
    int tryOut(
            @Parameters(paramLabel = "MODEL") String name,
            @Option(names = "--text", description = "What to ask; otherwise it is to say good day.") @Nullable
                    String text) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("text", text);
        JsonNode answer = servitor.client().post("/api/models/" + name + "/try", body);
        ModelSaid said = Client.as(ModelSaid.class, answer);
        if (!servitor.printed(answer)) {
            servitor.out()
                    .println(
                            said.problem().isEmpty()
                                    ? said.text() + "\n" + said.answered() + ", " + said.tokens() + " tokens, "
                                            + said.millis() + " ms"
                                    : said.problem() + ": " + said.detail());
        }
        return said.problem().isEmpty() ? 0 : 1;
    }
}

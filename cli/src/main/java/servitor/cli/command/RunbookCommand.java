package servitor.cli.command;

import java.math.BigDecimal;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Answers.Explanation;
import servitor.cli.client.Answers.Line;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.core.explain.Drawing;
import servitor.core.explain.Explainer;
import servitor.core.explain.SvgDrawing;
import servitor.core.explain.TextDrawing;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.check.CheckedHandbook;
import tools.jackson.databind.JsonNode;

/** {@code runbook}: a page in plain words and as a drawing, from the service or from a folder. */
@Command(name = "runbook", description = "Explain and draw pages.", synopsisSubcommandLabel = "ACTION")
public final class RunbookCommand {
    @ParentCommand
    private Servitor servitor;

    /** Forms a drawing can take. */
    enum Format {
        svg,
        mermaid,
        dot
    }

    @Command(name = "explain", description = "Say in plain words what a page does.")
    int explain(
            @Parameters(paramLabel = "PAGE") String page,
            @Option(names = "--in", paramLabel = "DIR", description = "Read this handbook folder; needs no service.")
                    @Nullable
                    Path folder) {
        JsonNode answer = folder == null
                ? fetch(page).path("explanation")
                : Client.JSON.valueToTree(Explainer.explain(handbook(folder), find(folder, page)));
        if (servitor.printed(answer)) {
            return 0;
        }
        Explanation explanation = Client.as(Explanation.class, answer);
        servitor.out().println(explanation.title());
        servitor.out().println(explanation.paragraph());
        int number = 1;
        for (Line step : explanation.steps()) {
            servitor.out().println("\n" + number++ + ". " + step.title() + "\n   " + step.words());
        }
        return 0;
    }

    @Command(name = "draw", description = "Draw the flow of a page.")
    int draw(
            @Parameters(paramLabel = "PAGE") String page,
            @Option(names = "--format", defaultValue = "svg", description = "svg, mermaid or dot (default: svg).")
                    Format format,
            @Option(names = "--in", paramLabel = "DIR", description = "Read this handbook folder; needs no service.")
                    @Nullable
                    Path folder) {
        if (folder == null) {
            servitor.out().println(fetch(page).path(format.name()).asString());
            return 0;
        }
        Drawing drawing = Drawing.of(handbook(folder), find(folder, page));
        servitor.out()
                .println(
                        switch (format) {
                            case svg -> SvgDrawing.of(drawing);
                            case mermaid -> TextDrawing.mermaid(drawing);
                            case dot -> TextDrawing.dot(drawing);
                        });
        return 0;
    }

    @Command(
            name = "what-if",
            description = "Say what other marks below which a model isn't sure enough would have made of past cases.")
    int whatIf(
            @Parameters(paramLabel = "PAGE") String page,
            @Parameters(paramLabel = "STEP", description = "A step with ‘unsure-below’, by its heading.") String step,
            @Option(
                            names = "--try",
                            split = ",",
                            required = true,
                            paramLabel = "SHARE",
                            description = "The marks to try, as in --try 0.5,0.7,0.9.")
                    List<BigDecimal> shares,
            @Option(
                            names = "--since",
                            paramLabel = "90d",
                            defaultValue = "90d",
                            converter = Since.class,
                            description = "How far back, as in 90d or 12w; 90 days unless told.")
                    int days) {
        LimitPoints.print(
                servitor,
                servitor.client()
                        .post(
                                "/api/mandates/limits",
                                Map.of("page", page, "step", step, "limits", shares, "days", days)));
        return 0;
    }

    private JsonNode fetch(String page) {
        return servitor.client().get("/api/handbook/pages/" + Client.part(page));
    }

    private static Handbook handbook(Path folder) {
        return CheckedHandbook.of(HandbookFolder.read(folder)).handbook();
    }

    private static Runbook find(Path folder, String page) {
        Handbook handbook = handbook(folder);
        Runbook found = handbook.runbooks().get(page);
        if (found == null) {
            throw new Trouble(
                    ExitCode.NO,
                    "There is no page ‘" + page + "’ in " + folder + ". There are: "
                            + String.join(
                                    ", ",
                                    new java.util.TreeSet<>(handbook.runbooks().keySet())) + ".");
        }
        return found;
    }
}

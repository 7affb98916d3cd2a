package servitor.cli.command;

import java.io.PrintWriter;
import java.math.RoundingMode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Answers.CaseMade;
import servitor.cli.client.Answers.LookBack;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;

/** {@code handbook look-back}: decides past cases again by another edition. */
@Command(
        name = "look-back",
        description = "Decide past cases again by a folder, an edition or your draft, and say what goes another way.")
final class LookBackCommand implements Callable<Integer> {
    private static final String PATH = "/api/handbook/look-back";
    private static final Map<String, String> SORTS = Map.of(
            "alone", "done alone",
            "asked", "people asked",
            "refused", "refused",
            "told", "told otherwise",
            "people", "handed over",
            "way", "another step or call");

    @ParentCommand
    private HandbookCommand handbook;

    @Parameters(paramLabel = "BY", description = "A folder, the number of an edition, or ‘draft’.")
    private String by;

    @Option(
            names = "--since",
            paramLabel = "30d",
            defaultValue = "30d",
            converter = Since.class,
            description = "How far back, as in 30d or 12w; 30 days unless told.")
    private int days;

    @Option(
            names = "--ask-models",
            paramLabel = "AT-MOST",
            description =
                    "Ask models again, at most so often, where they would be told something else than then. Without --yes it says what that would cost.")
    @Nullable
    private Integer askModels;

    @Option(names = "--yes", description = "Do ask the models; you know what it costs.")
    private boolean yes;

    @Option(names = "--page", description = "Only cases on which this page worked.")
    @Nullable
    private String page;

    @Override
    public Integer call() throws InterruptedException {
        Client client = handbook.servitor().client();
        Map<String, Object> wanted = new LinkedHashMap<>();
        if (by.matches("[0-9]{1,9}")) {
            wanted.put("edition", Integer.valueOf(by));
        } else if (Files.isDirectory(Path.of(by))) {
            wanted.put("files", HandbookFolder.read(Path.of(by)));
        } else if (!by.equals("draft")) {
            throw new Trouble(
                    ExitCode.WRONG_USAGE, "‘" + by + "’ is no folder, no number of an edition, and not ‘draft’.");
        }
        wanted.put("days", days);
        wanted.put("page", page);
        wanted.put("askModels", yes ? askModels : null);
        JsonNode answer = client.post(PATH, wanted);
        while (answer.path("state").asString("").equals("working")) {
            TimeUnit.MILLISECONDS.sleep(200);
            answer = client.get(PATH);
        }
        if (!handbook.servitor().printed(answer)) {
            print(Client.as(LookBack.class, answer));
        }
        return ExitCode.DONE.number();
    }

    private void print(LookBack look) {
        PrintWriter out = handbook.servitor().out();
        List<CaseMade> other = new ArrayList<>();
        Map<String, Integer> why = new TreeMap<>();
        for (CaseMade one : look.made()) {
            if (one.made().equals("other")) {
                other.add(one);
            } else {
                why.merge(one.after(), 1, Integer::sum);
            }
        }
        out.println(look.cases() + " cases, decided again by " + look.by() + ": " + look.same() + " the same, "
                + other.size() + " another way, " + (look.made().size() - other.size()) + " not knowable.");
        if (!other.isEmpty()) {
            Map<String, Long> sorts =
                    other.stream().collect(Collectors.groupingBy(CaseMade::sort, TreeMap::new, Collectors.counting()));
            out.println(sorts.entrySet().stream()
                    .map(one -> one.getValue() + " " + SORTS.getOrDefault(one.getKey(), one.getKey()))
                    .collect(Collectors.joining(", ", "  ", "")));
            Output.table(
                    out,
                    List.of("CASE", "PAGE", "STEP", "THEN", "NOW"),
                    other.stream()
                            .map(one -> List.of(one.caseId(), one.page(), one.step(), one.before(), one.after()))
                            .toList());
        }
        why.forEach((reason, count) -> out.println("  " + count + " not knowable: " + reason));
        if (look.asked() > 0) {
            out.println("Models were asked again " + look.asked() + " times.");
        }
        if (look.toAsk().cases() > 0) {
            out.println("Asking models again for " + look.toAsk().cases() + " of them would be about "
                    + look.toAsk().tokens() + " tokens"
                    + (look.toAsk().cost() == null
                            ? ""
                            : " ("
                                    + look.toAsk()
                                            .cost()
                                            .setScale(4, RoundingMode.UP)
                                            .toPlainString() + " "
                                    + look.toAsk().currency() + ")")
                    + " at first, and their answers: --ask-models "
                    + look.toAsk().cases() + " --yes");
        }
    }
}

package servitor.cli.command;

import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import java.util.stream.StreamSupport;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.Client;
import servitor.cli.ExitCode;
import servitor.cli.Output;
import servitor.cli.Servitor;
import servitor.cli.Trouble;
import servitor.core.handbook.Finding;
import servitor.core.handbook.Handbook;
import tools.jackson.databind.JsonNode;

/** {@code handbook}: check, publish, list. */
@Command(name = "handbook", description = "Check and publish handbooks.", synopsisSubcommandLabel = "ACTION")
public final class HandbookCommand {
    private static final int MOST_FILES = 5_000;

    @ParentCommand
    private Servitor servitor;

    @Command(name = "check", description = "Check a handbook folder; needs no service.")
    int check(@Parameters(paramLabel = "DIR") Path folder) {
        Handbook.Checked checked = Handbook.check(files(folder));
        if (!servitor.printed(Client.JSON.valueToTree(checked.findings()))) {
            checked.findings().forEach(servitor.out()::println);
            long errors = checked.findings().stream()
                    .filter(f -> f.severity() == Finding.Severity.ERROR)
                    .count();
            servitor.out()
                    .println(
                            checked.findings().isEmpty()
                                    ? "Nothing found: this handbook can be published."
                                    : errors + " error(s), "
                                            + (checked.findings().size() - errors) + " other finding(s).");
        }
        return (checked.sound() ? ExitCode.DONE : ExitCode.NO).number();
    }

    @Command(name = "publish", description = "Check a handbook folder and publish it as the next edition.")
    int publish(
            @Parameters(paramLabel = "DIR") Path folder,
            @Option(names = "--note", defaultValue = "", description = "What changed and why.") String note) {
        JsonNode published =
                servitor.client().post("/api/handbook/editions", Map.of("files", files(folder), "note", note));
        if (!servitor.printed(published)) {
            published.path("findings").forEach(finding -> servitor.out().println(Output.finding(finding)));
            int number = published.path("edition").path("number").asInt();
            servitor.out()
                    .println(
                            published.path("isNew").asBoolean()
                                    ? "Published as edition " + number + "."
                                    : "Nothing changed: edition " + number + " already has this content.");
        }
        return 0;
    }

    @Command(name = "list", description = "List the editions, newest first.")
    int list() {
        JsonNode editions = servitor.client().get("/api/handbook/editions");
        if (!servitor.printed(editions)) {
            Output.table(
                    servitor.out(),
                    List.of("EDITION", "PUBLISHED", "BY", "NOTE"),
                    StreamSupport.stream(editions.spliterator(), false)
                            .map(item -> List.of(
                                    item.path("number").asString()
                                            + (item.path("current").asBoolean() ? " (current)" : ""),
                                    Output.time(item.path("published")),
                                    item.path("publishedBy").path("name").asString(),
                                    item.path("note").asString()))
                            .toList());
        }
        return 0;
    }

    /** The text files of a handbook folder by path; hidden files are left out, links aren't followed. */
    public static Map<String, String> files(Path folder) {
        if (!Files.isDirectory(folder)) {
            throw new Trouble(ExitCode.WRONG_USAGE, folder + " is not a folder.");
        }
        Map<String, String> files = new TreeMap<>();
        try (Stream<Path> all = Files.walk(folder)) {
            for (Path file : all.filter(Files::isRegularFile).limit(MOST_FILES).toList()) {
                String path = folder.relativize(file).toString().replace('\\', '/');
                if (Stream.of(path.split("/")).noneMatch(part -> part.startsWith("."))) {
                    files.put(path, read(file));
                }
            }
        } catch (IOException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, folder + " can't be read: " + e.getMessage());
        }
        return files;
    }

    private static String read(Path file) throws IOException {
        try {
            return Files.readString(file);
        } catch (MalformedInputException e) {
            throw new Trouble(ExitCode.NO, file + " is not a text file in UTF-8.");
        }
    }
}

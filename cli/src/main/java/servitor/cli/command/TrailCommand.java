package servitor.cli.command;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Answers.Material;
import servitor.cli.client.Answers.Trail;
import servitor.cli.client.Answers.TrailEntry;
import servitor.cli.client.Answers.Verification;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.OwnFile;
import servitor.cli.client.Trouble;
import servitor.cli.output.Output;
import servitor.core.json.MalformedJson;
import servitor.core.trail.ExportFrame;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.Verifier;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;

/** {@code trail}: show, material, verify, export. */
@Command(name = "trail", description = "Read, verify and export the action trail.", synopsisSubcommandLabel = "ACTION")
public final class TrailCommand {
    @ParentCommand
    private Servitor servitor;

    @Command(name = "show", description = "Show what was asked, decided, called and answered.")
    int show(
            @Option(
                            names = "--case",
                            paramLabel = "CASE",
                            description = "Of this case, oldest first; else the newest of all.")
                    @Nullable
                    String caseId,
            @Option(names = "--what", description = "Only entries of this sort, such as verdict.") @Nullable
                    String what,
            @Option(names = "--limit", defaultValue = "200") int limit,
            @Option(names = "--cursor") @Nullable String cursor) {
        Map<String, Object> parts = new LinkedHashMap<>();
        parts.put("case", caseId);
        parts.put("what", what);
        parts.put("limit", limit);
        parts.put("cursor", cursor);
        JsonNode answer = servitor.client().get("/api/trail" + Client.query(parts));
        if (!servitor.printed(answer)) {
            Trail page = Client.as(Trail.class, answer);
            page.items().forEach(entry -> servitor.out().println(line(entry)));
            Paging.more(servitor.out(), page);
        }
        return 0;
    }

    static String line(TrailEntry entry) {
        String data = entry.data() != null && entry.data().isObject()
                ? Client.JSON.writeValueAsString(entry.data())
                : "(withheld)";
        return String.format(
                "%6d  %s  %-14s %-18s %-36s %-20s %s",
                entry.seq(),
                Output.time(entry.at()),
                Output.shorten(entry.actor().name(), 14),
                entry.what(),
                Output.shorten(entry.says(), 36),
                Output.shorten(entry.step(), 20),
                Output.shorten(data, 120));
    }

    @Command(
            name = "material",
            description =
                    "Show the long text that an entry refers to, such as a prompt or the transcript of a dialogue.")
    int material(@Parameters(paramLabel = "ENTRY", description = "The entry's number.") long seq) {
        JsonNode material = servitor.client().get("/api/trail/" + seq + "/material");
        if (!servitor.printed(material)) {
            servitor.out().print(readable(Client.as(Material.class, material).text()));
        }
        return 0;
    }

    /** Prompts are kept as JSON: their parts are read one below the other. Anything else is read as it is. */
    private static String readable(String text) {
        JsonNode parts;
        try {
            parts = text.startsWith("{") ? Client.JSON.readTree(text) : null;
        } catch (JacksonException e) {
            parts = null;
        }
        if (parts == null) {
            return text;
        }
        StringBuilder lines = new StringBuilder();
        parts.properties()
                .forEach(part -> lines.append(part.getKey())
                        .append('\n')
                        .append(Output.indent(
                                part.getValue().isValueNode()
                                        ? part.getValue().asString()
                                        : part.getValue().toPrettyString()))
                        .append('\n'));
        return lines.toString();
    }

    @Command(name = "verify", description = "Check that no entry was altered, removed or put in between.")
    int verify(
            @Option(
                            names = "--file",
                            description = "An export to check offline, without the service; - for standard input.")
                    @Nullable
                    Path file) {
        if (file != null) {
            return verifyFile(file);
        }
        JsonNode answer = servitor.client().get("/api/trail/verification");
        Verification result = Client.as(Verification.class, answer);
        boolean holds = result.holds();
        if (!servitor.printed(answer)) {
            servitor.out()
                    .println(
                            holds
                                    ? "The trail holds: " + result.verified() + " entries, head " + result.head() + "."
                                    : "The trail does not hold. " + result.message());
        }
        return (holds ? ExitCode.DONE : ExitCode.NO).number();
    }

    private int verifyFile(Path file) {
        Verifier verifier = new Verifier();
        boolean framed = false;
        boolean closed = false;
        try (BufferedReader reader =
                new BufferedReader(new InputStreamReader(Given.open(file), StandardCharsets.UTF_8))) {
            for (String line = reader.readLine(); line != null; line = reader.readLine()) {
                if (verifier.verified() == 0 && !framed && ExportFrame.opens(line)) {
                    framed = true;
                    continue;
                }
                Optional<ExportFrame.Closing> closing = ExportFrame.closes(line);
                if (closed) {
                    servitor.out().println("The export does not hold: something stands behind its last line.");
                    return ExitCode.NO.number();
                }
                closed = closing.isPresent();
                Optional<Verifier.Break> fault =
                        closed ? closing.get().fault(verifier) : verifier.next(RecordedEntry.fromLine(line));
                if (fault.isPresent()) {
                    servitor.out().println("The trail does not hold. " + fault.get());
                    return ExitCode.NO.number();
                }
            }
        } catch (MalformedJson e) {
            servitor.out()
                    .println("The trail does not hold. After entry " + verifier.verified() + ": " + e.getMessage());
            return ExitCode.NO.number();
        } catch (IOException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, file + " can't be read: " + e.getMessage());
        }
        if (framed && !closed) {
            servitor.out()
                    .println("The export is not whole: its last line is missing. It ended early, after entry "
                            + verifier.verified() + "; export the trail again.");
            return ExitCode.NO.number();
        }
        if (verifier.verified() == 0) {
            servitor.out().println("There is nothing to check: no entry was read.");
            return ExitCode.NO.number();
        }
        servitor.out()
                .println("The trail holds: " + verifier.verified() + " entries, head " + verifier.head()
                        + (verifier.withheld() > 0
                                ? "; of " + verifier.withheld()
                                        + " the data was withheld, so only the chain was checked."
                                : "."));
        if (!framed) {
            servitor.out()
                    .println(
                            "It was exported by an earlier version, which wrote no last line: whether it ended early can’t be told from it.");
        }
        return ExitCode.DONE.number();
    }

    @Command(name = "export", description = "Write the whole trail as JSON Lines.")
    int export(
            @Option(names = "--out", description = "The file to write (default: standard output).") @Nullable
                    Path target) {
        try (InputStream body = servitor.client().download("/api/trail/export")) {
            if (target == null || Given.isStandardInput(target)) {
                servitor.out().print(new String(body.readAllBytes(), StandardCharsets.UTF_8));
            } else {
                Files.deleteIfExists(target);
                OwnFile.write(target, body);
                servitor.out().println("Written to " + target + ".");
            }
        } catch (IOException e) {
            throw new Trouble(ExitCode.NO, "The export could not be written: " + e.getMessage());
        }
        return 0;
    }
}

package servitor.cli.command;

import java.nio.file.Path;
import java.util.List;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Answers.CaseDetail;
import servitor.cli.client.Answers.Document;
import servitor.cli.client.Answers.DocumentTable;
import servitor.cli.client.Answers.Reading;
import servitor.cli.client.Client;
import servitor.cli.output.Output;
import tools.jackson.databind.JsonNode;

/** What is in the documents of cases. */
@Command(
        name = "document",
        description = "Show what is in the documents of a case.",
        synopsisSubcommandLabel = "ACTION")
public final class DocumentCommand {
    private static final int MOST_ROWS = 200;

    @ParentCommand
    private Servitor servitor;

    @Command(name = "list", description = "List the documents of a case.")
    int list(@Parameters(paramLabel = "CASE") String id) {
        return list(servitor, id);
    }

    /** Lists the documents of a case. */
    static int list(Servitor servitor, String id) {
        JsonNode shown = servitor.client().get("/api/cases/" + Client.part(id));
        if (servitor.printed(shown.path("documents"))) {
            return 0;
        }
        CaseDetail detail = Client.as(CaseDetail.class, shown);
        detail.missing().forEach(title -> servitor.out().println("Missing: " + title + "."));
        List<Document> documents = detail.documents();
        if (documents.isEmpty()) {
            servitor.out().println("No documents.");
            return 0;
        }
        Output.table(
                servitor.out(),
                List.of("DOCUMENT", "NAME", "TYPE", "BYTES", "READ", "PAGES"),
                documents.stream()
                        .map(one -> List.of(
                                one.id(),
                                Output.shorten(one.name(), 40),
                                one.type(),
                                String.valueOf(one.size()),
                                one.outcome(),
                                String.valueOf(one.pages())))
                        .toList());
        return 0;
    }

    @Command(
            name = "show",
            description = "Show what a document is and what came of reading it, with the beginning of what is in it.")
    int show(
            @Parameters(paramLabel = "CASE") String id,
            @Parameters(paramLabel = "DOCUMENT", description = "As ‘document list’ names it.") String document) {
        JsonNode answer = reading(id, document);
        if (!servitor.printed(answer)) {
            Reading read = Client.as(Reading.class, answer);
            servitor.out().println(read.name());
            outcome(read);
            read.tables()
                    .forEach(table -> servitor.out()
                            .println("Table " + table.name() + ": "
                                    + table.rows().size() + " rows"
                                    + (table.doubts().isEmpty()
                                            ? ""
                                            : "; doubtful: " + String.join(", ", table.doubts()))));
            read.pages().stream()
                    .limit(read.tables().isEmpty() ? 3 : 0)
                    .forEach(page -> servitor.out()
                            .println("Page " + page.number() + ": "
                                    + Output.shorten(page.text().replaceAll("\\s+", " "), 300)));
        }
        return 0;
    }

    @Command(name = "text", description = "Show the text that was read of a document, page by page.")
    int text(
            @Parameters(paramLabel = "CASE") String id,
            @Parameters(paramLabel = "DOCUMENT", description = "As ‘document list’ names it.") String document) {
        JsonNode answer = reading(id, document);
        if (!servitor.printed(answer)) {
            Reading read = Client.as(Reading.class, answer);
            outcome(read);
            read.pages().forEach(page -> {
                servitor.out().println("--- page " + page.number());
                servitor.out().println(page.text());
            });
        }
        return 0;
    }

    @Command(
            name = "tables",
            description = "Show the tables that were read of a document, and what is doubtful about them.")
    int tables(
            @Parameters(paramLabel = "CASE") String id,
            @Parameters(paramLabel = "DOCUMENT", description = "As ‘document list’ names it.") String document) {
        JsonNode answer = reading(id, document);
        if (!servitor.printed(answer)) {
            Reading read = Client.as(Reading.class, answer);
            outcome(read);
            if (read.tables().isEmpty()) {
                servitor.out().println("No tables.");
            }
            read.tables().forEach(this::table);
        }
        return 0;
    }

    private void table(DocumentTable table) {
        servitor.out()
                .println("--- " + table.name()
                        + (table.header() == 0 ? ", no header found" : ", the header is row " + table.header()));
        table.doubts().forEach(doubt -> servitor.out().println("Doubtful: " + doubt + "."));
        table.rows().stream()
                .limit(MOST_ROWS)
                .forEach(row -> servitor.out()
                        .println(row.number() + "  "
                                + row.cells().stream().map(Output::plain).collect(Collectors.joining(" | "))));
        if (table.rows().size() > MOST_ROWS) {
            servitor.out().println("… " + (table.rows().size() - MOST_ROWS) + " more rows: see --json.");
        }
    }

    private void outcome(Reading read) {
        servitor.out()
                .println(
                        read.type() + ": " + read.says() + (read.detail().isEmpty() ? "" : " (" + read.detail() + ")"));
    }

    private JsonNode reading(String id, String document) {
        return servitor.client()
                .get("/api/cases/" + Client.part(id) + "/documents/" + Client.part(document) + "/reading");
    }

    @Command(name = "save", description = "Save a document as it was attached.")
    int save(
            @Parameters(paramLabel = "CASE") String id,
            @Parameters(paramLabel = "DOCUMENT") String document,
            @Parameters(paramLabel = "FILE", description = "It mustn't be there yet.") Path file) {
        servitor.save("/api/cases/" + Client.part(id) + "/documents/" + Client.part(document), file);
        return 0;
    }
}

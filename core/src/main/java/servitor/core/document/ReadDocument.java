package servitor.core.document;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import servitor.core.json.Json;
import servitor.core.json.Outside;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * What was read of a document.
 *
 * @param type its media type by its content
 * @param detail what more is known of the outcome; may be empty
 * @param pages of a document without pages there is one
 */
public record ReadDocument(ReadOutcome outcome, String type, String detail, List<Page> pages, List<Table> tables) {
    public ReadDocument {
        pages = List.copyOf(pages);
        tables = List.copyOf(tables);
    }

    private static final int MOST_TABLES = 20;
    private static final int MOST_ROWS = 300;
    private static final int MOST_CHARACTERS = 60_000;

    /** A page; {@code number} counts from 1. */
    public record Page(int number, String text) {}

    /**
     * A sheet of a workbook, or a table of a page.
     *
     * @param name of the sheet
     * @param header the number of the row with the headings; 0 when none was found
     * @param doubts why nobody should decide on it without looking, in words; empty when there is nothing
     */
    public record Table(String name, int header, List<Row> rows, List<String> doubts) {
        /** The doubt about a sheet that nobody sees. */
        public static final String HIDDEN = "the sheet is hidden";

        public Table {
            rows = List.copyOf(rows);
            doubts = List.copyOf(doubts);
        }
    }

    /** A row as it stands in the file: {@code number} counts from 1; cells are texts, numbers, booleans, dates as text (ISO 8601), or null. */
    public record Row(int number, List<JsonNode> cells) {
        /** A longer cell is cut here, in characters. */
        public static final int LONGEST_CELL = 2_000;

        public Row {
            cells = List.copyOf(cells);
        }

        int length() {
            return cells.stream().mapToInt(Outside::length).sum();
        }
    }

    /** A document of which nothing was read. */
    public static ReadDocument nothing(ReadOutcome outcome, String type, String detail) {
        return new ReadDocument(outcome, type, detail, List.of(), List.of());
    }

    /** The tables as a page sees them in its case: as they stand in the file, and without rows where anything is doubtful. */
    public ArrayNode tablesOfCase() {
        ArrayNode seen = Json.mapper().createArrayNode();
        tables.stream().limit(MOST_TABLES).forEach(table -> {
            List<String> doubts = new ArrayList<>(table.doubts());
            if (table.rows().size() > MOST_ROWS) {
                doubts.add("it has more than " + MOST_ROWS + " rows");
            } else if (table.rows().stream().mapToInt(Row::length).sum() > MOST_CHARACTERS) {
                doubts.add("it has more than " + MOST_CHARACTERS + " characters");
            }
            ObjectNode one = seen.addObject().put("name", table.name());
            one.set("doubts", Json.of(doubts));
            if (doubts.isEmpty()) {
                one.set("rows", Json.of(table.rows().stream().map(Row::cells).toList()));
            }
        });
        return seen;
    }

    /** All pages as one text, each of several under its number: {@code [page 2]}. */
    public String markedText() {
        return pages.size() < 2 ? text() : marked(pages);
    }

    /** Pages as one text, each under its number: {@code [page 2]}. */
    public static String marked(List<Page> pages) {
        return pages.stream()
                .filter(page -> !page.text().isBlank())
                .map(page -> "[page " + page.number() + "]\n" + page.text())
                .collect(Collectors.joining("\n\n"));
    }

    /** All pages as one text. */
    public String text() {
        return pages.stream().map(Page::text).filter(text -> !text.isBlank()).collect(Collectors.joining("\n\n"));
    }
}

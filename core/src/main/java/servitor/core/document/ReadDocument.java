package servitor.core.document;

import java.util.List;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;

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
        public Table {
            rows = List.copyOf(rows);
            doubts = List.copyOf(doubts);
        }
    }

    /** A row as it stands in the file: {@code number} counts from 1; cells are texts, numbers, booleans, dates as text (ISO 8601), or null. */
    public record Row(int number, List<JsonNode> cells) {
        public Row {
            cells = List.copyOf(cells);
        }
    }

    /** A document of which nothing was read. */
    public static ReadDocument nothing(ReadOutcome outcome, String type, String detail) {
        return new ReadDocument(outcome, type, detail, List.of(), List.of());
    }

    /** All pages as one text. */
    public String text() {
        return pages.stream().map(Page::text).filter(text -> !text.isBlank()).collect(Collectors.joining("\n\n"));
    }
}

package servitor.core.document;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.JsonNode;

/**
 * Where in a document a value was found.
 *
 * @param document its id
 * @param name its name
 * @param sheet the sheet; empty in what has none
 * @param at the page, row or cell in words, such as {@code page 2} or {@code C7}; empty for a whole table
 * @param words what stands there, as far as it is one piece of text; empty for cells
 * @param columns of a table or row: the letter of each column by its name
 */
@JsonInclude(JsonInclude.Include.NON_EMPTY)
public record FoundAt(
        String document, String name, String sheet, String at, String words, Map<String, String> columns) {
    public FoundAt {
        sheet = sheet == null ? "" : sheet;
        at = at == null ? "" : at;
        words = words == null ? "" : words;
        columns = columns == null ? Map.of() : Map.copyOf(columns);
    }

    static FoundAt page(String document, String name, int page, String words) {
        return new FoundAt(document, name, "", "page " + page, words, Map.of());
    }

    static FoundAt cell(String document, String name, String sheet, String cell) {
        return new FoundAt(document, name, sheet, cell, "", Map.of());
    }

    static FoundAt table(String document, String name, String sheet, Map<String, String> columns) {
        return new FoundAt(document, name, sheet, "", "", columns);
    }

    /** Where the part {@code path} of the table or row {@code value} stands; this itself for what isn't one. */
    public FoundAt inside(List<String> path, JsonNode value) {
        if (columns.isEmpty() || path.isEmpty()) {
            return this;
        } else if (value.isArray()) {
            JsonNode row = path.get(0).matches("\\d{1,6}") ? value.path(Integer.parseInt(path.get(0))) : value.path("");
            return inRow(row.path(WantedTable.ROW).asString("")).inside(path.subList(1, path.size()), row);
        }
        String column = columns.get(path.get(0));
        return column == null
                ? this
                : cell(
                        document,
                        name,
                        sheet,
                        column + value.path(WantedTable.ROW).asString(""));
    }

    private FoundAt inRow(String row) {
        return new FoundAt(document, name, sheet, "row " + row, "", columns);
    }

    /** The place in words, such as {@code declaration.xlsx, Goods, C7}. */
    public String told() {
        return String.join(
                ", ",
                java.util.stream.Stream.of(name, sheet, at)
                        .filter(word -> !word.isEmpty())
                        .toList());
    }
}

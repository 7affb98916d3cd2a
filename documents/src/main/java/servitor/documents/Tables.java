package servitor.documents;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import servitor.core.document.ReadDocument.Page;
import servitor.core.document.ReadDocument.Row;
import servitor.core.document.ReadDocument.Table;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/** What all tables have in common, whatever file they stand in. */
final class Tables {
    /** A header stands among the first rows. */
    private static final int LOOKED_AT = 20;

    private Tables() {}

    /** A table of these rows, with its header found. */
    static Table table(String name, List<Row> rows, List<String> doubts) {
        long widest = rows.stream().limit(50).mapToLong(Tables::width).max().orElse(0);
        List<Row> headers = rows.stream()
                .limit(LOOKED_AT)
                .filter(row -> width(row) * 5 >= widest * 3) // a label with its value above the table isn't its header
                .filter(row -> isHeader(row, rows, widest))
                .toList();
        List<String> all = new ArrayList<>(doubts);
        if (headers.size() > 1) {
            all.add("row " + headers.get(1).number() + " could be the header as well as row "
                    + headers.get(0).number());
        }
        return new Table(
                name,
                headers.isEmpty() ? 0 : headers.get(0).number(),
                rows,
                all.stream().distinct().toList());
    }

    /** Two or more different texts and nothing else, in a row that others follow which hold something else than texts, or as wide. */
    private static boolean isHeader(Row row, List<Row> rows, long widest) {
        List<JsonNode> filled =
                row.cells().stream().filter(cell -> !cell.isNull()).toList();
        boolean texts = filled.size() >= 2 && filled.stream().allMatch(JsonNode::isString);
        boolean different = filled.stream().distinct().count() == filled.size();
        int at = rows.indexOf(row);
        boolean first = rows.subList(0, at).stream().noneMatch(before -> width(before) * 5 >= widest * 3);
        boolean changes = at > 0 && at + 1 < rows.size() && hasOther(rows.get(at + 1)) && !hasOther(rows.get(at - 1));
        return texts && different && at + 1 < rows.size() && (first || changes && width(rows.get(at - 1)) < 2);
    }

    private static long width(Row row) {
        return row.cells().stream().filter(cell -> !cell.isNull()).count();
    }

    private static boolean hasOther(Row row) {
        return row.cells().stream().anyMatch(cell -> !cell.isNull() && !cell.isString());
    }

    /** Tables as text, one page each, as models and people read them. */
    static List<Page> pages(List<Table> tables) {
        List<Page> pages = new ArrayList<>();
        for (Table table : tables) {
            String text = table.rows().stream()
                    .limit(2_000)
                    .map(row -> row.cells().stream().map(Tables::words).collect(Collectors.joining(" | ")))
                    .collect(Collectors.joining("\n"));
            pages.add(new Page(pages.size() + 1, table.name() + "\n" + text));
        }
        return pages;
    }

    private static String words(JsonNode cell) {
        return cell.isNull() ? "" : cell.isString() ? cell.stringValue() : Json.write(cell);
    }
}

package servitor.documents;

import java.io.IOException;
import java.io.StringReader;
import java.util.ArrayList;
import java.util.List;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.apache.tika.parser.txt.CharsetDetector;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadDocument.Row;
import servitor.core.document.ReadDocument.Table;
import servitor.core.document.ReadOutcome;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.NullNode;

/** Tables of text (RFC 4180), with whatever sign stands between their cells. Every cell is a text: what it means, who asks says. */
final class CsvFormat implements DocumentReader.Format {
    private static final char[] BETWEEN = {';', '\t', ',', '|'};

    @Override
    public ReadDocument read(String type, byte[] content) throws IOException, Unreadable {
        String text = new CharsetDetector().getString(content, null);
        if (text == null || text.isBlank()) {
            return ReadDocument.nothing(ReadOutcome.EMPTY, type, "");
        }
        Budget budget = new Budget();
        List<Row> rows = new ArrayList<>();
        List<String> doubts = new ArrayList<>();
        CSVFormat format = CSVFormat.RFC4180
                .builder()
                .setDelimiter(between(text))
                .setIgnoreEmptyLines(true)
                .get();
        try (CSVParser parser =
                CSVParser.parse(new StringReader(text.startsWith("\uFEFF") ? text.substring(1) : text), format)) {
            for (CSVRecord line : parser) {
                if (rows.size() >= Budget.MOST_ROWS) {
                    doubts.add("it was cut off behind row " + (line.getRecordNumber() - 1));
                    break;
                }
                rows.add(row(line, budget));
            }
        }
        Table table = Tables.table("table", rows, doubts);
        return new ReadDocument(ReadOutcome.TEXT, type, "", Tables.pages(List.of(table)), List.of(table));
    }

    private static Row row(CSVRecord line, Budget budget) throws Unreadable {
        List<JsonNode> cells = new ArrayList<>();
        for (int i = 0; i < Math.min(line.size(), Budget.MOST_COLUMNS); i++) {
            String cell = line.get(i).strip();
            cells.add(cell.isEmpty() ? NullNode.getInstance() : Json.of(budget.cell(cell)));
        }
        return new Row((int) line.getRecordNumber(), cells);
    }

    /** The sign that the first lines have most often. */
    private static char between(String text) {
        String first = text.lines().limit(5).reduce("", (all, line) -> all + line + '\n');
        char best = ',';
        long most = 0;
        for (char one : BETWEEN) {
            long times = first.chars().filter(c -> c == one).count();
            if (times > most) {
                most = times;
                best = one;
            }
        }
        return best;
    }
}

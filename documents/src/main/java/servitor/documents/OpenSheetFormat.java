package servitor.documents;

import com.github.miachm.sods.OfficeCurrency;
import com.github.miachm.sods.OfficePercentage;
import com.github.miachm.sods.Range;
import com.github.miachm.sods.Sheet;
import com.github.miachm.sods.SpreadSheet;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadDocument.Row;
import servitor.core.document.ReadDocument.Table;
import servitor.core.document.ReadOutcome;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.NullNode;

/** ODS (OpenDocument 1.3, part 3): typed cells of every sheet, and of formulas what they gave when the file was saved. */
final class OpenSheetFormat implements DocumentReader.Format {
    @Override
    public ReadDocument read(String type, byte[] content) throws IOException, Unreadable {
        SpreadSheet book = new SpreadSheet(new ByteArrayInputStream(content));
        if (book.getSheets().size() > Budget.MOST_SHEETS) {
            throw new Unreadable(
                    ReadOutcome.TOO_LARGE, "it has " + book.getSheets().size() + " sheets");
        }
        Budget budget = new Budget();
        List<Table> tables = new ArrayList<>();
        for (Sheet sheet : book.getSheets()) {
            Table table = table(sheet, budget);
            if (!table.rows().isEmpty()) {
                tables.add(table);
            }
        }
        return tables.isEmpty()
                ? ReadDocument.nothing(ReadOutcome.EMPTY, type, "")
                : new ReadDocument(ReadOutcome.TEXT, type, "", Tables.pages(tables), tables);
    }

    private static Table table(Sheet sheet, Budget budget) throws Unreadable {
        List<Row> rows = new ArrayList<>();
        List<String> doubts = new ArrayList<>();
        if (sheet.isHidden()) {
            doubts.add(Table.HIDDEN);
        }
        Range data = sheet.getDataRange();
        Object[][] values = data.getValues();
        String[][] formulas = data.getFormulas();
        for (int at = 0; at < values.length; at++) {
            if (rows.size() >= Budget.MOST_ROWS) {
                doubts.add("it was cut off behind row " + at);
                break;
            }
            Row row = row(at + 1, values[at], formulas[at], budget, doubts);
            if (row.cells().stream().anyMatch(cell -> !cell.isNull())) {
                rows.add(row);
                if (sheet.rowIsHidden(at)) {
                    doubts.add("row " + (at + 1) + " is hidden");
                }
            }
        }
        return Tables.table(sheet.getName(), rows, doubts);
    }

    private static Row row(int number, Object[] values, String[] formulas, Budget budget, List<String> doubts)
            throws Unreadable {
        List<JsonNode> cells = new ArrayList<>();
        for (int column = 0; column < Math.min(values.length, Budget.MOST_COLUMNS); column++) {
            Object value = values[column];
            if (value == null && formulas[column] != null && !formulas[column].isEmpty()) {
                doubts.add("a formula in row " + number + " has no value that was saved");
            }
            cells.add(value(value, budget));
        }
        while (!cells.isEmpty() && cells.get(cells.size() - 1).isNull()) {
            cells.remove(cells.size() - 1);
        }
        return new Row(number, cells);
    }

    private static JsonNode value(Object value, Budget budget) throws Unreadable {
        if (value == null) {
            return NullNode.getInstance();
        } else if (value instanceof Number || value instanceof Boolean) {
            return Json.of(value);
        } else if (value instanceof OfficeCurrency money) {
            return Json.of(money.getValue());
        } else if (value instanceof OfficePercentage share) {
            return Json.of(share.getValue());
        }
        String text = value.toString().strip(); // dates and times are written as ISO 8601
        return text.isEmpty() ? NullNode.getInstance() : Json.of(budget.cell(text));
    }
}

package servitor.documents;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.apache.poi.EncryptedDocumentException;
import org.apache.poi.openxml4j.util.ZipSecureFile;
import org.apache.poi.ss.usermodel.Cell;
import org.apache.poi.ss.usermodel.CellType;
import org.apache.poi.ss.usermodel.DateUtil;
import org.apache.poi.ss.usermodel.Row;
import org.apache.poi.ss.usermodel.Sheet;
import org.apache.poi.ss.usermodel.SheetVisibility;
import org.apache.poi.ss.usermodel.Workbook;
import org.apache.poi.ss.usermodel.WorkbookFactory;
import org.apache.poi.ss.util.CellRangeAddress;
import org.apache.poi.ss.util.CellReference;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadDocument.Table;
import servitor.core.document.ReadOutcome;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.NullNode;

/** XLSX and XLS: typed cells of every sheet. Formulas are never worked out: what they gave when the file was saved counts. */
final class WorkbookFormat implements DocumentReader.Format {
    static {
        ZipSecureFile.setMinInflateRatio(0.005);
        ZipSecureFile.setMaxEntrySize(200_000_000);
    }

    @Override
    public ReadDocument read(String type, byte[] content) throws IOException, Unreadable {
        Budget budget = new Budget();
        try (Workbook book = WorkbookFactory.create(new ByteArrayInputStream(content))) {
            if (book.getNumberOfSheets() > Budget.MOST_SHEETS) {
                throw new Unreadable(ReadOutcome.TOO_LARGE, "it has " + book.getNumberOfSheets() + " sheets");
            }
            List<Table> tables = new ArrayList<>();
            for (int i = 0; i < book.getNumberOfSheets(); i++) {
                Table table = table(book, i, budget);
                if (!table.rows().isEmpty()) {
                    tables.add(table);
                }
            }
            return tables.isEmpty()
                    ? ReadDocument.nothing(ReadOutcome.EMPTY, type, "")
                    : new ReadDocument(ReadOutcome.TEXT, type, "", Tables.pages(tables), tables);
        } catch (EncryptedDocumentException e) {
            throw new Unreadable(ReadOutcome.ENCRYPTED, "");
        }
    }

    private static Table table(Workbook book, int index, Budget budget) throws Unreadable {
        Sheet sheet = book.getSheetAt(index);
        List<ReadDocument.Row> rows = new ArrayList<>();
        List<String> doubts = new ArrayList<>();
        if (book.getSheetVisibility(index) != SheetVisibility.VISIBLE) {
            doubts.add(Table.HIDDEN);
        }
        Set<Integer> used = new TreeSet<>();
        for (Row row : sheet) {
            if (rows.size() >= Budget.MOST_ROWS) {
                doubts.add("it was cut off behind row " + row.getRowNum());
                break;
            }
            List<JsonNode> cells = cells(row, budget, doubts);
            for (int column = 0; column < cells.size(); column++) {
                if (!cells.get(column).isNull()) {
                    used.add(column);
                }
            }
            if (cells.stream().anyMatch(cell -> !cell.isNull())) {
                rows.add(new ReadDocument.Row(row.getRowNum() + 1, cells));
                if (row.getZeroHeight()) {
                    doubts.add("row " + (row.getRowNum() + 1) + " is hidden");
                }
            }
        }
        used.stream()
                .filter(sheet::isColumnHidden)
                .forEach(column -> doubts.add("column " + CellReference.convertNumToColString(column) + " is hidden"));
        return Tables.table(sheet.getSheetName(), rows, doubts);
    }

    private static List<JsonNode> cells(Row row, Budget budget, List<String> doubts) throws Unreadable {
        List<JsonNode> cells = new ArrayList<>();
        int last = Math.min(row.getLastCellNum(), Budget.MOST_COLUMNS);
        for (int column = 0; column < last; column++) {
            Cell cell = row.getCell(column, Row.MissingCellPolicy.RETURN_BLANK_AS_NULL);
            cells.add(cell == null ? merged(row, column, budget) : value(cell, budget, doubts));
        }
        return cells;
    }

    /** A cell that others are merged into counts in each of them that stands below it. */
    private static JsonNode merged(Row row, int column, Budget budget) throws Unreadable {
        for (CellRangeAddress range : row.getSheet().getMergedRegions()) {
            if (range.isInRange(row.getRowNum(), column) && range.getFirstColumn() == column) {
                Row first = row.getSheet().getRow(range.getFirstRow());
                Cell cell = first == null ? null : first.getCell(column);
                return cell == null ? NullNode.getInstance() : value(cell, budget, new ArrayList<>());
            }
        }
        return NullNode.getInstance();
    }

    private static JsonNode value(Cell cell, Budget budget, List<String> doubts) throws Unreadable {
        CellType type = cell.getCellType();
        if (type == CellType.FORMULA) {
            type = cell.getCachedFormulaResultType();
            if (type == CellType.NUMERIC && cell.getNumericCellValue() == 0.0 && isNeverWorkedOut(cell)) {
                doubts.add("the formula in " + at(cell) + " has no value that was saved");
                return NullNode.getInstance();
            }
        }
        return switch (type) {
            case STRING -> text(cell.getStringCellValue(), budget);
            case NUMERIC -> DateUtil.isCellDateFormatted(cell) ? date(cell) : Json.of(cell.getNumericCellValue());
            case BOOLEAN -> Json.of(cell.getBooleanCellValue());
            case ERROR -> {
                doubts.add(at(cell) + " holds an error");
                yield NullNode.getInstance();
            }
            default -> NullNode.getInstance();
        };
    }

    /** A program that only writes formulas leaves their values out, and POI takes that for a zero. */
    private static boolean isNeverWorkedOut(Cell cell) {
        return cell instanceof org.apache.poi.xssf.usermodel.XSSFCell written
                && !written.getCTCell().isSetV();
    }

    private static JsonNode text(String text, Budget budget) throws Unreadable {
        return text.isBlank() ? NullNode.getInstance() : Json.of(budget.cell(text.strip()));
    }

    private static JsonNode date(Cell cell) {
        java.time.LocalDateTime at = cell.getLocalDateTimeCellValue();
        if (at == null) {
            return NullNode.getInstance();
        }
        return Json.of(
                at.toLocalTime().equals(LocalTime.MIDNIGHT) ? at.toLocalDate().toString() : at.toString());
    }

    private static String at(Cell cell) {
        return new CellReference(cell).formatAsString(false);
    }
}

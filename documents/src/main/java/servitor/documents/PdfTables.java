package servitor.documents;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.apache.pdfbox.text.PDFTextStripper;
import org.apache.pdfbox.text.TextPosition;
import servitor.core.document.ReadDocument.Row;
import servitor.core.document.ReadDocument.Table;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.NullNode;

/**
 * Simple tables of PDF pages, which are nothing but words that stand below each other: a line of headings, and lines each of whose words
 * stand below one of them. Where such a table may go on in a way that isn't seen, that is a doubt.
 */
final class PdfTables extends PDFTextStripper {
    private static final int FEWEST_ROWS = 2;
    /** Words further apart than this, in widths of a blank, are in two columns. */
    private static final double GAP = 2.5;
    /** How far a cell may stand out of its column, in points of 1/72 inch. */
    private static final double OFF = 6;

    private final List<Line> lines = new ArrayList<>();

    PdfTables() {
        setSortByPosition(true);
    }

    private record Cell(double from, double to, String text) {
        boolean isBelow(Cell heading) {
            return Math.abs(from - heading.from) <= OFF
                    || Math.abs(to - heading.to) <= OFF
                    || from < heading.to
                            && to > heading.from
                            && Math.abs(from + to - heading.from - heading.to) <= 4 * OFF;
        }
    }

    private static final class Line {
        private final double y;
        private final List<Cell> cells = new ArrayList<>();

        Line(double y) {
            this.y = y;
        }

        /** Adds a word; one that stands close to the last belongs to its cell. */
        void add(Cell word, double blank) {
            Cell last = cells.isEmpty() ? null : cells.get(cells.size() - 1);
            if (last != null && word.from - last.to < GAP * blank) {
                cells.set(cells.size() - 1, new Cell(last.from, word.to, last.text + " " + word.text));
            } else {
                cells.add(word);
            }
        }
    }

    @Override
    protected void writeString(String text, List<TextPosition> positions) {
        if (positions.isEmpty() || text.isBlank()) {
            return;
        }
        TextPosition first = positions.get(0);
        TextPosition last = positions.get(positions.size() - 1);
        double y = first.getYDirAdj();
        if (lines.isEmpty() || Math.abs(lines.get(lines.size() - 1).y - y) > first.getHeightDir() / 2 + 1) {
            lines.add(new Line(y));
        }
        lines.get(lines.size() - 1)
                .add(
                        new Cell(first.getXDirAdj(), last.getXDirAdj() + last.getWidthDirAdj(), text.strip()),
                        Math.max(1, first.getWidthOfSpace()));
    }

    /** The tables of what was written, a page's after the other; {@code last} is whether no page follows. */
    List<Table> ofPage(int page, boolean last, Budget budget) throws IOException, Unreadable {
        List<Table> tables = new ArrayList<>();
        for (int at = 0; at < lines.size(); at++) {
            List<List<Cell>> rows = below(at);
            if (rows.size() > FEWEST_ROWS) {
                String name = "page " + page + (tables.isEmpty() ? "" : ", table " + (tables.size() + 1));
                tables.add(table(name, rows, doubts(at, rows.size(), last), budget));
                at += rows.size() - 1;
            }
        }
        lines.clear();
        return tables;
    }

    /** The headings of a table and its rows, each with a cell or null for every heading; nothing when none begins with this line. */
    private List<List<Cell>> below(int at) {
        List<Cell> headings = lines.get(at).cells;
        List<List<Cell>> rows = new ArrayList<>();
        if (headings.size() < 2) {
            return rows;
        }
        rows.add(headings);
        for (Line line : lines.subList(at + 1, lines.size())) {
            Cell[] row = new Cell[headings.size()];
            if (line.cells.size() < 2 || !line.cells.stream().allMatch(cell -> takes(cell, headings, row))) {
                break;
            }
            rows.add(Arrays.asList(row));
        }
        return rows;
    }

    private static boolean takes(Cell cell, List<Cell> headings, Cell[] row) {
        for (int i = 0; i < headings.size(); i++) {
            if (row[i] == null && cell.isBelow(headings.get(i))) {
                row[i] = cell;
                return true;
            }
        }
        return false;
    }

    /** A line that follows as closely as rows do may belong to the table, and so may what stands on the next page. */
    private List<String> doubts(int at, int rows, boolean last) {
        int next = at + rows;
        if (next < lines.size()) {
            double pitch = lines.get(next - 1).y - lines.get(next - 2).y;
            return lines.get(next).y - lines.get(next - 1).y < pitch * 1.4
                    ? List.of("it may go on behind row " + rows)
                    : List.of();
        }
        return last ? List.of() : List.of("it may go on on the next page");
    }

    private static Table table(String name, List<List<Cell>> rows, List<String> doubts, Budget budget)
            throws Unreadable {
        List<Row> all = new ArrayList<>();
        for (List<Cell> row : rows) {
            List<JsonNode> cells = new ArrayList<>();
            for (Cell cell : row) {
                cells.add(cell == null ? NullNode.getInstance() : Json.of(budget.cell(cell.text)));
            }
            all.add(new Row(all.size() + 1, cells));
        }
        return new Table(name, 1, all, doubts);
    }
}

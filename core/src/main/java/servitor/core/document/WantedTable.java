package servitor.core.document;

import java.util.List;
import servitor.core.shape.Shape;

/**
 * A table that somebody wants out of a document, by the columns it must have.
 *
 * @param sheet the sheet it stands on; empty for whichever has these columns
 */
public record WantedTable(String name, String sheet, List<Column> columns) {
    /** What every row has beside its columns: the number it has in the file. */
    public static final String ROW = "row";

    public WantedTable {
        columns = List.copyOf(columns);
    }

    /**
     * A column.
     *
     * @param headings what may stand above it
     * @param mayBeEmpty whether a row may have nothing in it
     */
    public record Column(String name, Shape shape, List<String> headings, boolean mayBeEmpty) {
        public Column {
            headings = List.copyOf(headings);
        }
    }

    /** What is read: rows with their numbers. */
    public Shape shape() {
        java.util.Map<String, Shape.Field> fields = new java.util.LinkedHashMap<>();
        fields.put(ROW, new Shape.Field(Shape.WHOLE, true));
        columns.forEach(column -> fields.put(column.name(), new Shape.Field(column.shape(), !column.mayBeEmpty())));
        return new Shape.ListOf(new Shape.Fields(fields));
    }
}

package servitor.core.handbook.read;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import servitor.core.document.FileType;
import servitor.core.document.WantedTable;
import servitor.core.document.WantedTable.Column;
import servitor.core.document.WantedValue;
import servitor.core.handbook.Verb;
import servitor.core.handbook.Verb.Read;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.finding.Suggest;
import servitor.core.shape.Shape;

/** Reads the steps that read documents. */
final class ReadSteps {
    private static final String NAME = "[a-z_][a-zA-Z0-9_]*";

    private ReadSteps() {}

    static Verb read(Keys keys, Findings findings) {
        Set<String> taken = new HashSet<>(Verb.Awaited.DOCUMENT_SHAPE.fields().keySet());
        taken.add(Read.PLACES);
        List<WantedTable> tables = new ArrayList<>();
        keys.entries("tables").forEach((name, value) -> {
            named(name, taken, value, findings);
            tables.add(table(name, value, findings));
        });
        List<WantedValue> values = new ArrayList<>();
        keys.entries("values").forEach((name, value) -> {
            named(name, taken, value, findings);
            values.add(value(name, value, findings));
        });
        List<String> types = keys.texts("type");
        types(types, keys.value("type"), findings);
        return new Read(keys.required("read"), keys.template("named"), types, tables, values, keys.required("save"));
    }

    /** Finds fault with words that no file is of. */
    static void types(List<String> types, Yaml at, Findings findings) {
        types.stream()
                .filter(type -> FileType.of(type).isEmpty() && !type.matches("[a-z]+/[A-Za-z0-9.+-]{1,80}"))
                .forEach(type -> findings.error(
                        at.place(),
                        Code.FILES,
                        "No file is of the type ‘" + type + "’.",
                        Suggest.remedy(type, FileType.words()) + " A media type such as image/png will do, too."));
    }

    private static void named(String name, Set<String> taken, Yaml at, Findings findings) {
        if (!name.matches(NAME) || !taken.add(name)) {
            findings.error(
                    at.place(),
                    Code.SHAPE,
                    "‘" + name + "’ can't be the name of something that is read.",
                    "Use a word of letters, digits and ‘_’ of its own; what is read has already "
                            + String.join(
                                    ", ", Verb.Awaited.DOCUMENT_SHAPE.fields().keySet()) + ".");
        }
    }

    private static WantedTable table(String name, Yaml value, Findings findings) {
        Keys keys = Keys.of(value, findings, List.of("sheet", "columns"));
        Set<String> taken = new HashSet<>(Set.of(WantedTable.ROW));
        List<Column> columns = new ArrayList<>();
        keys.entries("columns").forEach((column, said) -> {
            named(column, taken, said, findings);
            columns.add(column(column, said, findings));
        });
        if (columns.isEmpty()) {
            findings.error(
                    value.place(),
                    Code.MISSING_KEY,
                    "The table ‘" + name + "’ has no columns.",
                    "Write ‘columns: { class: text, litres: number }’: it is found by their headings.");
        }
        return new WantedTable(name, keys.text("sheet", ""), columns);
    }

    private static Column column(String name, Yaml said, Findings findings) {
        if (!said.isMap()) {
            return new Column(name, single(said, findings), List.of(heading(name)), false);
        }
        Keys keys = Keys.of(said, findings, List.of("is", "headed", "may-be-empty"));
        List<String> headings = keys.texts("headed");
        return new Column(
                name,
                single(keys.needed("is"), findings),
                headings.isEmpty() ? List.of(heading(name)) : headings,
                keys.yes("may-be-empty"));
    }

    private static String heading(String name) {
        return name.replace('_', ' ');
    }

    private static WantedValue value(String name, Yaml said, Findings findings) {
        if (!said.isMap()) {
            return new WantedValue(name, single(said, findings), List.of(), false);
        }
        Keys keys = Keys.of(said, findings, List.of("is", "labelled", "may-be-missing"));
        return new WantedValue(
                name, single(keys.needed("is"), findings), keys.texts("labelled"), keys.yes("may-be-missing"));
    }

    /** A shape that stands in one cell. */
    private static Shape single(Yaml value, Findings findings) {
        Shape shape = value.isEmptyValue() ? Shape.TEXT : new ShapeReader(findings).read(value);
        if (shape instanceof Shape.ListOf || shape instanceof Shape.Fields) {
            findings.error(
                    value.place(),
                    Code.SHAPE,
                    "What stands in one place can't be " + shape.words() + ".",
                    "Write text, number, whole number, yes/no, date or \"one of [a, b]\".");
            return Shape.TEXT;
        }
        return shape;
    }
}

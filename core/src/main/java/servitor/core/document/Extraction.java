package servitor.core.document;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import servitor.core.document.ReadDocument.Page;
import servitor.core.document.ReadDocument.Row;
import servitor.core.document.ReadDocument.Table;
import servitor.core.document.WantedTable.Column;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** Finds tables and values in what was read of a document. Whatever might be read otherwise by a person isn't found but doubted. */
public final class Extraction {
    /** More rows than this aren't decided on. */
    public static final int MOST_ROWS = 1_000;

    /** A heading stands among the first rows. */
    private static final int HEADINGS_WITHIN = 60;

    private static final int LONGEST_VALUE = 500;

    private final String id;
    private final String name;
    private final ReadDocument read;

    /** Looks into the document of this id and name. */
    public Extraction(String id, String name, ReadDocument read) {
        this.id = id;
        this.name = name;
        this.read = read;
    }

    /** What came of looking for something. */
    public sealed interface Found {}

    /** It is there. */
    public record Value(JsonNode value, FoundAt at) implements Found {}

    /** It isn't; {@code why} is a sentence for people. */
    public record Missing(String why) implements Found {}

    /** Nobody should decide on it without looking. */
    public record Doubtful(String why) implements Found {}

    /** The rows of a table. */
    public Found table(WantedTable wanted) {
        List<Headed> headed = new ArrayList<>();
        for (Table table : read.tables()) {
            if (wanted.sheet().isEmpty() || table.name().equalsIgnoreCase(wanted.sheet())) {
                table.rows().stream()
                        .limit(HEADINGS_WITHIN)
                        .map(row -> Headed.by(table, row, wanted))
                        .flatMap(Optional::stream)
                        .forEach(headed::add);
            }
        }
        if (headed.isEmpty()) {
            return new Missing("no table has the columns " + headings(wanted)
                    + (wanted.sheet().isEmpty() ? "" : " on the sheet ‘" + wanted.sheet() + "’"));
        } else if (headed.size() > 1) {
            return new Doubtful("several rows could be the headings of ‘" + wanted.name() + "’: "
                    + headed.stream()
                            .map(one -> "row " + one.header.number() + " of " + one.table.name())
                            .collect(Collectors.joining(", ")));
        }
        List<String> doubts = doubts(headed.get(0).table);
        return doubts.isEmpty() ? rows(headed.get(0), wanted) : new Doubtful(String.join("; ", doubts));
    }

    private static String headings(WantedTable wanted) {
        return wanted.columns().stream()
                .map(column -> "‘" + column.headings().get(0) + "’")
                .collect(Collectors.joining(", "));
    }

    /** What is doubtful about the table, and sheets that nobody sees. */
    private List<String> doubts(Table table) {
        List<String> doubts = new ArrayList<>(table.doubts());
        read.tables().stream()
                .filter(other -> other != table && other.doubts().contains(Table.HIDDEN))
                .forEach(other -> doubts.add("the sheet ‘" + other.name() + "’ is hidden"));
        return doubts;
    }

    /** A table with the row that has the headings, and where each column is. */
    private record Headed(Table table, Row header, Map<String, Integer> at) {
        static Optional<Headed> by(Table table, Row header, WantedTable wanted) {
            Map<String, Integer> at = new LinkedHashMap<>();
            for (Column column : wanted.columns()) {
                List<Integer> found = new ArrayList<>();
                for (int i = 0; i < header.cells().size(); i++) {
                    String cell = plain(Cells.text(header.cells().get(i)));
                    if (!cell.isEmpty()
                            && column.headings().stream()
                                    .anyMatch(heading -> plain(heading).equals(cell))) {
                        found.add(i);
                    }
                }
                if (found.size() != 1) {
                    return Optional.empty();
                }
                at.put(column.name(), found.get(0));
            }
            return Optional.of(new Headed(table, header, at));
        }

        List<Row> below() {
            return table.rows().stream()
                    .filter(row -> row.number() > header.number())
                    .toList();
        }

        Map<String, String> letters() {
            Map<String, String> letters = new LinkedHashMap<>();
            at.forEach((name, index) -> letters.put(name, letter(index)));
            return letters;
        }
    }

    private Found rows(Headed headed, WantedTable wanted) {
        List<Row> below = headed.below();
        if (below.size() > MOST_ROWS) {
            return new Doubtful("it has " + below.size() + " rows, and no more than " + MOST_ROWS + " are decided on");
        }
        ArrayNode rows = Json.mapper().createArrayNode();
        for (Row row : below) {
            ObjectNode filled = Json.object().put(WantedTable.ROW, row.number());
            for (Column column : wanted.columns()) {
                int index = Objects.requireNonNull(headed.at.get(column.name()));
                JsonNode cell = index < row.cells().size() ? row.cells().get(index) : Json.of(null);
                String place = letter(index) + row.number();
                if (cell.isNull() && !column.mayBeEmpty()) {
                    return new Doubtful(place + " is empty, where ‘" + column.name() + "’ should stand");
                } else if (!cell.isNull()) {
                    Optional<JsonNode> value = Cells.as(column.shape(), cell);
                    if (Cells.text(cell).length() >= Row.LONGEST_CELL) {
                        return new Doubtful(place + " has " + Row.LONGEST_CELL + " characters or more");
                    } else if (value.isEmpty()) {
                        return new Doubtful(place + " holds ‘" + shortened(Cells.text(cell)) + "’, which isn't clearly "
                                + column.shape().words());
                    }
                    filled.set(column.name(), value.get());
                }
            }
            rows.add(filled);
        }
        return rows.isEmpty()
                ? new Missing("there are no rows below the headings of ‘" + wanted.name() + "’")
                : new Value(rows, FoundAt.table(id, name, headed.table.name(), headed.letters()));
    }

    /** A value by what stands before it. */
    public Found labelled(WantedValue wanted) {
        List<Value> found = new ArrayList<>();
        if (FileType.fits(FileType.SPREADSHEET.word(), read.type())) {
            read.tables().forEach(table -> table.rows().forEach(row -> inRow(wanted, table, row, found)));
        } else {
            read.pages().forEach(page -> onPage(wanted, page, found));
        }
        long different = found.stream().map(one -> one.value).distinct().count();
        if (different > 1) {
            return new Doubtful("‘" + wanted.name() + "’ stands there more than once, and differently: "
                    + found.stream()
                            .map(one -> Cells.text(one.value) + " (" + one.at.told() + ")")
                            .limit(4)
                            .collect(Collectors.joining(", ")));
        }
        return found.isEmpty()
                ? new Missing("‘" + wanted.labels().get(0) + "’ isn't in it, with "
                        + wanted.shape().words() + " after it")
                : found.get(0);
    }

    private void inRow(WantedValue wanted, Table table, Row row, List<Value> found) {
        for (int i = 0; i + 1 < row.cells().size(); i++) {
            if (isLabel(wanted, Cells.text(row.cells().get(i)))) {
                int at = i + 1;
                Cells.as(wanted.shape(), row.cells().get(at))
                        .filter(value -> !Cells.text(value).isEmpty())
                        .ifPresent(value -> found.add(
                                new Value(value, FoundAt.cell(id, name, table.name(), letter(at) + row.number()))));
            }
        }
    }

    private static boolean isLabel(WantedValue wanted, String cell) {
        return wanted.labels().stream().anyMatch(label -> plain(label).equals(plain(cell)));
    }

    /** The label begins a line or follows a wide gap; its value stands behind it, or on the next line when nothing does. */
    private void onPage(WantedValue wanted, Page page, List<Value> found) {
        List<String> lines = page.text().lines().toList();
        for (int i = 0; i < lines.size(); i++) {
            for (String part : lines.get(i).strip().split("\\s{3,}|\\t")) {
                String next = i + 1 < lines.size() ? lines.get(i + 1) : "";
                behind(wanted, part)
                        .map(rest -> rest.isEmpty() ? next : rest)
                        .flatMap(rest -> Cells.beginning(wanted.shape(), shortened(rest)))
                        .ifPresent(value ->
                                found.add(new Value(value, FoundAt.page(id, name, page.number(), part.strip()))));
            }
        }
    }

    private static Optional<String> behind(WantedValue wanted, String line) {
        for (String label : wanted.labels()) {
            if (line.regionMatches(true, 0, label, 0, label.length())) {
                String rest = line.substring(label.length());
                if (rest.isEmpty() || !Character.isLetterOrDigit(rest.charAt(0))) {
                    return Optional.of(
                            rest.replaceFirst("^[\\s:.…–-]+(?=\\S|$)", "").strip());
                }
            }
        }
        return Optional.empty();
    }

    /**
     * A value that a model says it has read: it counts when the words it quotes stand on the page it names, and the value among them.
     *
     * @param said what the model says: {@code value}, {@code page}, {@code words}
     */
    public Found quoted(WantedValue wanted, JsonNode said) {
        if (said.path("value").isNull() || said.path("value").isMissingNode()) {
            return new Missing("the model finds no ‘" + wanted.name() + "’ in it");
        }
        int number = said.path("page").asInt(0);
        String words = plain(said.path("words").asString(""));
        Optional<Page> page = read.pages().stream()
                .filter(one -> one.number() == number)
                .filter(one -> !words.isEmpty() && (" " + plain(one.text()) + " ").contains(" " + words + " "))
                .findFirst();
        if (page.isEmpty()) {
            return new Doubtful(
                    "the words that the model gives for ‘" + wanted.name() + "’ don't stand on page " + number);
        }
        return isAmong(wanted, said.path("value"), said.path("words").asString(""))
                ? new Value(
                        wanted.shape().fit(said.path("value")),
                        FoundAt.page(id, name, number, said.path("words").asString("")))
                : new Doubtful("the ‘" + wanted.name() + "’ that the model gives isn't what the words it quotes say");
    }

    /**
     * A value that a model says it sees on a page without text: nothing there holds it to its word.
     *
     * @param said as for {@link #quoted}
     * @param looked the pages that it was shown
     */
    public Found seen(WantedValue wanted, JsonNode said, List<Integer> looked) {
        if (said.path("value").isNull() || said.path("value").isMissingNode()) {
            return new Missing("the model sees no ‘" + wanted.name() + "’ in it");
        }
        int page = said.path("page").asInt(0);
        if (!looked.contains(page)) {
            page = looked.get(0);
        }
        return new Value(wanted.shape().fit(said.path("value")), FoundAt.page(id, name, page, ""));
    }

    /** Whether some run of the quoted words is the value: the same words, or what they mean as a value of its shape. */
    private static boolean isAmong(WantedValue wanted, JsonNode value, String quoted) {
        if (value.isString() && (" " + plain(quoted) + " ").contains(" " + plain(value.stringValue()) + " ")) {
            return true;
        }
        String[] words = quoted.strip().split("\\s+");
        for (int from = 0; from < Math.min(words.length, 60); from++) {
            String rest = String.join(" ", List.of(words).subList(from, words.length));
            if (Cells.beginning(wanted.shape(), rest)
                    .filter(read -> same(read, value))
                    .isPresent()) {
                return true;
            }
        }
        return false;
    }

    private static boolean same(JsonNode read, JsonNode value) {
        return read.isNumber() && value.isNumber()
                ? read.decimalValue().compareTo(value.decimalValue()) == 0
                : read.equals(value);
    }

    private static String plain(String text) {
        return text.toLowerCase(Locale.ROOT).replaceAll("[^\\p{L}\\p{N}]+", " ").strip();
    }

    private static String shortened(String text) {
        String stripped = text.strip();
        return stripped.length() <= LONGEST_VALUE ? stripped : stripped.substring(0, LONGEST_VALUE);
    }

    /** A column's letters: A, B, … Z, AA. */
    private static String letter(int index) {
        return index < 26 ? String.valueOf((char) ('A' + index)) : letter(index / 26 - 1) + (char) ('A' + index % 26);
    }
}

package servitor.standins.model;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** What the model stand-in does with a document: finds values by their names and types, and sums up by repeating sentences with their page. */
final class DocumentModel {
    private static final Pattern PAGE = Pattern.compile("^\\[page (\\d+)]$");
    private static final Pattern DATE = Pattern.compile(
            "\\b(\\d{4}-\\d{2}-\\d{2}|\\d{1,2}[. ]+(?:January|February|March|April|May|June|July|August|September|October|November|December"
                    + "|Januar|Februar|März|Mai|Juni|Juli|Oktober|Dezember|janvier|février|mars|avril|mai|juin|juillet|août|septembre|octobre|novembre|décembre) \\d{4})\\b");
    private static final Pattern NUMBER = Pattern.compile("\\b\\d+(?:[.,]\\d+)?\\b");
    private static final Map<String, List<String>> NAMES =
            Map.of("holder", List.of("holder", "name"), "expiry", List.of("valid until", "expires", "expiry"));
    private static final List<List<String>> MONTHS = List.of(
            List.of("january", "januar", "janvier"),
            List.of("february", "februar", "février"),
            List.of("march", "märz", "mars"),
            List.of("april", "avril"),
            List.of("may", "mai"),
            List.of("june", "juni", "juin"),
            List.of("july", "juli", "juillet"),
            List.of("august", "août"),
            List.of("september", "septembre"),
            List.of("october", "oktober", "octobre"),
            List.of("november", "novembre"),
            List.of("december", "dezember", "décembre"));

    private final List<Line> lines = new ArrayList<>();

    private record Line(int page, String text) {}

    DocumentModel(String text) {
        int page = 1;
        for (String line : text.lines().toList()) {
            Matcher mark = PAGE.matcher(line.strip());
            if (mark.matches()) {
                page = Integer.parseInt(mark.group(1));
            } else if (!line.isBlank()) {
                lines.add(new Line(page, line.strip()));
            }
        }
    }

    /** The values that a schema asks for, each with its page and words. */
    ObjectNode find(JsonNode schema) {
        ObjectNode answer = Asked.JSON.createObjectNode();
        schema.path("properties").properties().forEach(e -> {
            if (e.getValue().path("properties").has("words")) {
                answer.set(
                        e.getKey(),
                        found(e.getKey(), e.getValue().path("properties").path("value")));
            }
        });
        return answer.put("reason", "A stand-in's guess by the names of the values; it understands nothing.")
                .put("sure", 0.8);
    }

    private ObjectNode found(String name, JsonNode value) {
        JsonNode type = value.path("anyOf").path(0);
        List<String> labels = NAMES.getOrDefault(name, List.of(name.replace('_', ' ')));
        for (Line line : lines) {
            for (String label : labels) {
                int at = line.text.toLowerCase(Locale.ROOT).indexOf(label);
                if (at >= 0) {
                    Object read = typed(line.text.substring(at + label.length()).replaceFirst("^[\\s:.-]+", ""), type);
                    if (read != null) {
                        return Asked.JSON
                                .createObjectNode()
                                .put("page", line.page)
                                .put("words", line.text)
                                .set("value", Asked.JSON.valueToTree(read));
                    }
                }
            }
        }
        return Asked.JSON.createObjectNode().put("page", 0).put("words", "").putNull("value");
    }

    private static @Nullable Object typed(String rest, JsonNode type) {
        if (type.path("format").asString("").equals("date")) {
            Matcher date = DATE.matcher(rest);
            return date.find() ? iso(date.group()) : null;
        } else if (type.has("enum")) {
            for (JsonNode option : type.path("enum")) {
                if (rest.toLowerCase(Locale.ROOT).contains(option.asString("").toLowerCase(Locale.ROOT))) {
                    return option.asString("");
                }
            }
            return null;
        }
        return switch (type.path("type").asString("string")) {
            case "number", "integer" -> {
                Matcher number = NUMBER.matcher(rest);
                yield number.find() ? new java.math.BigDecimal(number.group().replace(',', '.')) : null;
            }
            case "boolean" -> rest.toLowerCase(Locale.ROOT).startsWith("yes");
            default -> rest.isBlank() ? null : rest.split("\\s{3,}|[;,]")[0].strip();
        };
    }

    private static int month(String name) {
        for (int i = 0; i < MONTHS.size(); i++) {
            if (MONTHS.get(i).contains(name.toLowerCase(Locale.ROOT))) {
                return i + 1;
            }
        }
        return 0;
    }

    private static String iso(String date) {
        String[] words = date.split("[. ]+");
        return words.length < 3
                ? date
                : "%s-%02d-%02d".formatted(words[2], month(words[1]), Integer.parseInt(words[0]));
    }

    /** The sentences that share most words with what is asked, without their pages. */
    String sentences(String asked, int most) {
        return best(asked, most).stream().map(line -> line.text).collect(Collectors.joining(" "));
    }

    /** The first date of a text, as ISO 8601. */
    static Optional<String> date(String text) {
        Matcher date = DATE.matcher(text);
        return date.find() ? Optional.of(iso(date.group())) : Optional.empty();
    }

    /** What a part says, as statements with their page. */
    ObjectNode statements(String asked, int most) {
        ObjectNode answer = Asked.JSON.createObjectNode();
        var statements = answer.putArray("statements");
        best(asked, most)
                .forEach(line -> statements.addObject().put("says", line.text).put("page", line.page));
        return answer;
    }

    /** The sentences that share most words with what is asked, in their order, each with its page. */
    String summary(String asked, int most) {
        return best(asked, most).stream()
                .map(line -> line.text.replaceFirst("[.;]?$", "") + " (page " + line.page + ").")
                .collect(Collectors.joining(" "));
    }

    private List<Line> best(String asked, int most) {
        List<String> words = List.of(asked.toLowerCase(Locale.ROOT).split("\\W+")).stream()
                .filter(word -> word.length() > 3)
                .map(word -> word.substring(0, 4))
                .toList();
        List<Line> best = lines.stream()
                .filter(line -> line.text.contains(" ") && line.text.length() > 20)
                .sorted(Comparator.comparingLong((Line line) -> -words.stream()
                        .filter(line.text.toLowerCase(Locale.ROOT)::contains)
                        .count()))
                .limit(most)
                .toList();
        return lines.stream().filter(best::contains).toList();
    }
}

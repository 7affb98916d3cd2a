package servitor.core.intake;

import com.google.re2j.Matcher;
import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import servitor.core.json.Json;
import servitor.core.shape.Shape;
import tools.jackson.databind.node.ObjectNode;

/**
 * What is read of a line of text: the named groups of a pattern (RE2, {@code (?P<name>…)}), and the whole line as {@code line}. It takes
 * time in proportion to the line, whatever the pattern.
 */
public final class LinePattern {
    private static final String LINE = "line";
    private static final int LONGEST = 1_000;

    private final Pattern pattern;

    private LinePattern(Pattern pattern) {
        this.pattern = pattern;
    }

    /** Throws {@link IllegalArgumentException} saying what is wrong with it. */
    public static LinePattern of(String text) {
        if (text.length() > LONGEST) {
            throw new IllegalArgumentException("it has more than " + LONGEST + " characters");
        }
        try {
            Pattern pattern = Pattern.compile(text);
            if (pattern.namedGroups().containsKey(LINE)) {
                throw new IllegalArgumentException("‘line’ is the name of the whole line");
            }
            return new LinePattern(pattern);
        } catch (PatternSyntaxException e) {
            throw new IllegalArgumentException(e.getDescription(), e);
        }
    }

    /** What a message out of a line holds: texts. */
    public Shape.Fields shape() {
        Map<String, Shape> fields = new TreeMap<>();
        pattern.namedGroups().keySet().forEach(name -> fields.put(name, Shape.TEXT));
        fields.put(LINE, Shape.TEXT);
        return Shape.Fields.of(fields);
    }

    /** What is read of a line in which the pattern is found; a group that took no part is empty. Empty for any other line. */
    public Optional<ObjectNode> read(String line) {
        Matcher matcher = pattern.matcher(line);
        if (!matcher.find()) {
            return Optional.empty();
        }
        ObjectNode read = Json.object().put(LINE, line);
        pattern.namedGroups().keySet().forEach(name -> {
            String value = matcher.group(name);
            read.put(name, value == null ? "" : value);
        });
        return Optional.of(read);
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof LinePattern that && that.toString().equals(toString());
    }

    @Override
    public int hashCode() {
        return toString().hashCode();
    }

    @Override
    public String toString() {
        return pattern.pattern();
    }
}

package servitor.core.handbook.read;

import java.util.List;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import servitor.core.handbook.Place;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;

/** Finds what looks like a password or key written into a file of the handbook. */
final class SecretRule {
    private static final List<Pattern> LOOKS_SECRET = List.of(
            Pattern.compile(
                    "(?i)[\"']?(?:password|passwd|secret|api[-_]?key|access[-_]?key|auth[-_]?token|token)[\"']?\\s{0,9}[:=]\\s{0,9}[\"']?([A-Za-z0-9+/_!@#%^&*.-]{6,200})"),
            Pattern.compile("-----BEGIN [A-Z ]{0,30}PRIVATE KEY-----"),
            Pattern.compile("\\beyJ[A-Za-z0-9_-]{10,2000}\\.[A-Za-z0-9_-]{10,2000}\\."),
            Pattern.compile("(?i)\\bbearer\\s{1,3}[A-Za-z0-9._~+/-]{16,200}"),
            Pattern.compile("[a-z]{2,12}://[^\\s/:@\"']{1,100}:[^\\s/@\"']{3,100}@"));
    private static final int MOST_IN_LINE = 2_000;
    /** Where descriptions show what values look like. */
    private static final Set<String> SHOWN = Set.of("example", "examples", "default", "description", "summary");

    private SecretRule() {}

    static void check(String file, String text, Findings findings) {
        int number = 0;
        for (String line : text.split("\n", -1)) {
            number++;
            String start = line.substring(0, Math.min(line.length(), MOST_IN_LINE));
            for (Pattern pattern : LOOKS_SECRET) {
                Matcher matcher = pattern.matcher(start);
                if (matcher.find() && !isType(matcher)) {
                    say(new Place(file, number, matcher.start() + 1), findings);
                    break;
                }
            }
        }
    }

    /**
     * The same in a description of an outside system. What it shows as an example is nobody's secret, and what it calls a
     * password is a field's name.
     */
    static void checkDescription(Yaml at, Findings findings) {
        at.entries().forEach((key, value) -> {
            if (!SHOWN.contains(key)) {
                checkDescription(value, findings);
            }
        });
        at.items().forEach(item -> checkDescription(item, findings));
        String text = at.isMap() || at.isList() ? "" : at.text();
        String start = text.substring(0, Math.min(text.length(), MOST_IN_LINE));
        if (LOOKS_SECRET.stream()
                .skip(1)
                .anyMatch(pattern -> pattern.matcher(start).find())) {
            say(at.place(), findings);
        }
    }

    private static void say(Place place, Findings findings) {
        findings.error(
                place,
                Code.SECRET,
                "This looks like a password or key in the clear.",
                "Put it into a connection, where it is stored once and never shown; name the connection here.");
    }

    /** A description may well declare that an input called ‘token’ is a string, or show it as ‘token’. */
    private static boolean isType(Matcher matcher) {
        return matcher.groupCount() > 0
                && matcher.group(1) != null
                && matcher.group(1)
                        .matches(
                                "(?i)string|number|integer|boolean|object|text|date|api[-_]?key|http|required|header|password|secret|token");
    }
}

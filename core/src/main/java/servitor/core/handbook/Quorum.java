package servitor.core.handbook;

/**
 * How many people have to approve.
 *
 * @param rule who counts
 * @param number for {@link Rule#NUMBER}, how many different people
 * @param tolerateDeclines whether a decline ends it only when the rest can't reach the number any more
 */
public record Quorum(Rule rule, int number, boolean tolerateDeclines) {
    /** The first answer settles it. */
    public static final Quorum ANY = new Quorum(Rule.ANY, 1, false);
    /** One answer for each group or person asked. */
    public static final Quorum ALL = new Quorum(Rule.ALL, 1, false);

    public enum Rule {
        ANY,
        ALL,
        NUMBER
    }

    public Quorum {
        if (number < 1) {
            throw new IllegalArgumentException("a quorum is at least one person, not " + number);
        }
    }

    /** The quorum in words that follow "asks". */
    public String words() {
        return switch (rule) {
            case ANY -> "any one of";
            case ALL -> "each of";
            case NUMBER -> number + " people of";
        };
    }
}

package servitor.service.cases;

import java.util.List;

/** What somebody sent can't become a case or a note; says everything that is wrong with it. */
public final class InvalidCase extends RuntimeException {
    private final transient List<String> wrong;

    public InvalidCase(List<String> wrong) {
        super(String.join("; ", wrong));
        this.wrong = List.copyOf(wrong);
    }

    /** What a schema says is wrong with {@code what}, in one line each. */
    public static List<String> wrongWith(String what, List<String> violations) {
        return violations.stream()
                .map(violation -> what + (violation.startsWith("/") ? violation : ": " + violation))
                .toList();
    }

    public List<String> wrong() {
        return wrong;
    }
}

package servitor.service.cases;

import java.util.List;

/** What somebody sent can't become a case or a note; says everything that is wrong with it. */
public final class InvalidCase extends RuntimeException {
    private final transient List<String> wrong;

    InvalidCase(List<String> wrong) {
        super(String.join("; ", wrong));
        this.wrong = List.copyOf(wrong);
    }

    public List<String> wrong() {
        return wrong;
    }
}

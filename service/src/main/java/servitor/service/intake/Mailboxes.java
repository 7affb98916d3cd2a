package servitor.service.intake;

import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import servitor.core.handbook.Intake;
import servitor.service.editions.Editions;
import servitor.service.people.Person;

/** How the mailboxes of the edition in force are. */
@Component
public class Mailboxes {
    private final Intakes intakes;
    private final Editions editions;
    private final MailStore mails;

    Mailboxes(Intakes intakes, Editions editions, MailStore mails) {
        this.intakes = intakes;
        this.editions = editions;
        this.mails = mails;
    }

    /**
     * A mailbox of an intake.
     *
     * @param looked when it was last looked at, to within a minute or so; null as long as nobody has
     * @param trouble why it couldn't be read, or what was taken in can't be marked; empty when nothing is wrong
     */
    public record State(
            String intake,
            String connection,
            String folder,
            @Nullable Instant looked,
            String trouble) {}

    /** That of an intake; null when it has none. */
    public @Nullable State of(Intake intake) {
        Intake.Mailbox at = intake.mailbox();
        return at == null
                ? null
                : mails.mailbox(intake.name())
                        .map(row -> new State(intake.name(), at.connection(), at.folder(), row.looked(), row.trouble()))
                        .orElse(new State(intake.name(), at.connection(), at.folder(), null, ""));
    }

    /** All of them. */
    public List<State> all() {
        return states(editions.current().stream().flatMap(edition -> edition.handbook().intake().values().stream()));
    }

    /** Those that something is wrong with, and whose cases belong to a desk of this person. */
    public List<State> failing(Person person) {
        return states(intakes.seenBy(person).stream().map(Intakes.Known::intake)).stream()
                .filter(state -> !state.trouble().isEmpty())
                .toList();
    }

    private List<State> states(Stream<Intake> intake) {
        return intake.map(this::of)
                .filter(Objects::nonNull)
                .sorted(java.util.Comparator.comparing(State::intake))
                .toList();
    }
}

package servitor.service.forms;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import org.springframework.stereotype.Service;
import servitor.core.handbook.Channel;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Proof;
import servitor.core.json.Json;
import servitor.service.cases.CaseRow;
import servitor.service.cases.Cases;
import servitor.service.cases.Cases.Arrival;
import servitor.service.cases.Cases.NewCase;
import servitor.service.cases.InvalidCase;
import servitor.service.cases.TooMany;
import servitor.service.editions.Editions;
import servitor.service.intake.EventIntake;
import servitor.service.intake.RefusalRow;
import servitor.service.ledger.Writer;
import servitor.service.people.Access;
import servitor.service.people.Guests;
import servitor.service.people.Person;

/**
 * Takes what people ask who can't sign in. A mail asks them whether it is theirs; only what they confirm becomes a case. How much is
 * taken is limited for each address it comes from, for each mail address, and in all.
 */
@Service
public class PublicForms {
    private static final Duration HOUR = Duration.ofHours(1);
    private static final int MOST_FROM_ONE = 10;
    private static final int MOST_TO_ONE = 3;
    private static final int MOST_IN_ALL = 300;
    private static final int MOST_LISTED = 100;
    private static final String ADDRESS =
            "[^\\s@<>\"(),:;\\[\\]\\\\\\p{Cntrl}]{1,64}@[A-Za-z0-9]([A-Za-z0-9.-]{0,250}[A-Za-z0-9])?";

    private final FormStore forms;
    private final FormLinks links;
    private final Cases cases;
    private final Guests guests;
    private final Editions editions;
    private final EventIntake refusals;
    private final Writer writer;
    private final Clock clock;

    PublicForms(
            FormStore forms,
            FormLinks links,
            Cases cases,
            Guests guests,
            Editions editions,
            EventIntake refusals,
            Writer writer,
            Clock clock) {
        this.forms = forms;
        this.links = links;
        this.cases = cases;
        this.guests = guests;
        this.editions = editions;
        this.refusals = refusals;
        this.writer = writer;
        this.clock = clock;
    }

    /** What somebody asks, and who they say they are. */
    public record Filled(String name, String address, NewCase wanted) {}

    /** The kind that everybody may ask for; empty when there is none of that name, or not for everybody. */
    public Optional<Kind> kind(String name) {
        return editions.current()
                .map(edition -> edition.handbook().kinds().get(name))
                .filter(Kind::isPublic);
    }

    /**
     * Takes what somebody asks, to ask them by mail whether it is theirs.
     *
     * @param origin the network address it comes from
     * @throws InvalidCase when it can't become a case, {@link TooMany} when too much has come; nothing is kept then
     */
    public void take(Filled filled, String origin) {
        check(filled);
        String cameFrom = links.origin(origin);
        String address = filled.address().strip().toLowerCase(Locale.ROOT);
        notTooMany(filled.wanted().kind(), cameFrom, clock.instant());
        writer.write(tx -> {
            Instant hour = tx.now().minus(HOUR);
            notTooMany(filled.wanted().kind(), cameFrom, tx.now());
            boolean enough = forms.to(address, hour) >= MOST_TO_ONE;
            FormRow row = new FormRow(
                    "F-" + UUID.randomUUID(),
                    filled.wanted().kind(),
                    filled.name().strip(),
                    address,
                    cameFrom,
                    tx.now(),
                    enough ? "" : Json.write(filled.wanted()),
                    (enough ? FormRow.State.LEFT : FormRow.State.TO_ASK).word(),
                    tx.now(),
                    enough ? "more than " + MOST_TO_ONE + " forms named this mail address within an hour" : "",
                    null);
            forms.insert(row);
            return row;
        });
    }

    private void check(Filled filled) {
        List<String> wrong = new ArrayList<>();
        if (filled.name() == null || !filled.name().strip().matches("[^\\p{Cntrl}<>@]{1,120}")) {
            wrong.add("name: say who you are, in at most 120 characters and without < > @");
        }
        if (filled.address() == null || !filled.address().strip().matches(ADDRESS)) {
            wrong.add("address: give your mail address, such as name@example.org; that is where you are answered");
        }
        try {
            cases.check(filled.wanted());
        } catch (InvalidCase e) {
            wrong.addAll(e.wrong());
        }
        if (!wrong.isEmpty()) {
            throw new InvalidCase(wrong);
        }
    }

    private void notTooMany(String kind, String cameFrom, Instant now) {
        Instant hour = now.minus(HOUR);
        if (forms.from(cameFrom, hour) >= MOST_FROM_ONE) {
            refuse(kind, "more than " + MOST_FROM_ONE + " forms came from the same place within an hour");
        } else if (forms.since(hour) >= MOST_IN_ALL) {
            refuse(kind, "more than " + MOST_IN_ALL + " forms came within an hour");
        }
    }

    private void refuse(String kind, String why) {
        refusals.refused("form " + kind, why);
        throw new TooMany("Too much was asked by forms: " + why
                + ". Nothing was kept; try again in an hour, or write a mail to the desk.");
    }

    /**
     * What a link confirms.
     *
     * @param asked what would be asked; empty once it is a case, or forgotten: a link is seen by others than its receiver
     */
    public record Shown(FormRow row, Optional<NewCase> asked) {}

    /** What the secret part of a link would confirm; empty when it is no such link any more. Nothing happens by this. */
    public Optional<Shown> shown(String link) {
        return links.form(link).flatMap(forms::find).map(PublicForms::shown);
    }

    private static Shown shown(FormRow row) {
        return new Shown(
                row,
                row.isOpen() && !row.asked().isEmpty()
                        ? Optional.of(Json.read(row.asked(), NewCase.class))
                        : Optional.empty());
    }

    /**
     * Opens the case that a link confirms, once; it is told to the mail address how to follow it, and to nobody else. Empty when it is no
     * such link any more.
     *
     * @throws InvalidCase when it can't become a case any more, {@link TooMany} when it is one too many
     */
    public Optional<Shown> confirm(String link) {
        Optional<String> id = links.form(link);
        if (id.isEmpty()) {
            return Optional.empty();
        }
        writer.write(tx -> {
            Optional<Shown> found = forms.find(id.get()).map(PublicForms::shown);
            Optional<NewCase> asked = found.flatMap(Shown::asked);
            if (asked.isPresent()) {
                FormRow form = found.get().row();
                Person meant = guests.with(tx, form.name(), form.address());
                CaseRow row = cases.open(
                        tx, meant, asked.get(), new Arrival("", Channel.FORM, Proof.VERIFIED, meant, Map.of()));
                forms.confirmed(form, row.id(), tx.now());
            }
            return id;
        });
        return forms.find(id.get()).map(PublicForms::shown);
    }

    /** What was sent in last, of kinds of desks that a person works for, and what was refused. */
    public List<FormRow> latest(Person person) {
        return forms.latest(kinds(person), MOST_LISTED);
    }

    /** What was refused within a day of forms for these kinds. */
    public List<RefusalRow> refused(Person person) {
        return kinds(person).stream()
                .sorted()
                .flatMap(kind -> refusals.refusals("form " + kind).stream())
                .toList();
    }

    private Set<String> kinds(Person person) {
        return editions.current().stream()
                .flatMap(edition -> edition.handbook().kinds().values().stream())
                .filter(kind -> Access.SEND_MESSAGES.allows(person, kind.desk()))
                .map(Kind::name)
                .collect(Collectors.toSet());
    }

    /** Those in a state, the oldest first. */
    public List<FormRow> in(FormRow.State state) {
        return forms.in(state);
    }

    /** Moves one to another state; false when it isn't in its own any more. */
    public boolean move(FormRow row, FormRow.State to, String detail) {
        return writer.write(
                tx -> forms.move(row, to, tx.now(), detail.length() <= 1_000 ? detail : detail.substring(0, 1_000)));
    }

    /** Where somebody confirms a form. */
    public String confirming(FormRow row) {
        return links.confirming(row);
    }

    /** The desk of a form's kind, as the handbook in force has it; empty when it has none. */
    public static Optional<Kind> kindOf(Handbook handbook, FormRow row) {
        return Optional.ofNullable(handbook.kinds().get(row.kind())).filter(Kind::isPublic);
    }

    /** Forgets what nobody confirmed in time. */
    public void forgetOld() {
        writer.write(tx -> {
            forms.forget(tx.now().minus(FormLinks.CONFIRM_WITHIN), tx.now());
            return tx;
        });
    }
}

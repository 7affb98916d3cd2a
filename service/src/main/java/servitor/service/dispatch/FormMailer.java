package servitor.service.dispatch;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import org.springframework.stereotype.Component;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Reply;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Telling;
import servitor.core.mail.Letter;
import servitor.core.mail.Mail;
import servitor.service.Recurring;
import servitor.service.Rounds;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.connections.KeyRing;
import servitor.service.editions.Editions;
import servitor.service.forms.FormRow;
import servitor.service.forms.FormRow.State;
import servitor.service.forms.PublicForms;
import servitor.service.messages.CannotTell;
import servitor.service.messages.Letters;
import servitor.service.runs.Stops;

/**
 * Asks people by mail whether what was asked by a form is theirs, and tells them how to follow their case. A mail of which it isn't known
 * whether it went out goes out once more, as the same one.
 */
@Component
class FormMailer implements Recurring {
    private static final Duration EACH = Duration.ofSeconds(1);
    private static final Duration AGAIN = Duration.ofSeconds(30);
    private static final Duration LONGEST = Duration.ofSeconds(30);
    /** Who has sent nothing for so long is gone. */
    private static final Duration GONE = Duration.ofMinutes(3);

    private static final Duration TOO_LATE = Duration.ofDays(1);

    private final PublicForms forms;
    private final Teller teller;
    private final Letters letters;
    private final CaseStore cases;
    private final Editions editions;
    private final Stops stops;
    private final Clock clock;
    private final Rounds rounds = new Rounds("form-mailer", EACH, this::pass);

    FormMailer(
            PublicForms forms,
            Teller teller,
            Letters letters,
            CaseStore cases,
            Editions editions,
            Stops stops,
            Clock clock) {
        this.forms = forms;
        this.teller = teller;
        this.letters = letters;
        this.cases = cases;
        this.editions = editions;
        this.stops = stops;
        this.clock = clock;
    }

    private void pass() {
        Instant now = clock.instant();
        send(State.TO_ASK, State.ASKING, State.ASKED, now);
        send(State.TO_TELL, State.TELLING, State.TOLD, now);
    }

    private void send(State due, State sending, State sent, Instant now) {
        for (FormRow row : forms.in(sending)) {
            if (row.moved().isBefore(now.minus(GONE))) {
                forms.move(row, due, "");
            }
        }
        for (FormRow row : forms.in(due)) {
            boolean rests = !row.detail().isEmpty() && row.moved().isAfter(now.minus(AGAIN));
            if (rounds.goOn() && !rests) {
                send(row, due, sending, sent, now);
            }
        }
    }

    private void send(FormRow row, State due, State sending, State sent, Instant now) {
        Handbook handbook = editions.current().orElseThrow().handbook();
        Kind kind = PublicForms.kindOf(handbook, row).orElse(null);
        if (kind == null) {
            forms.move(row, State.LEFT, "nobody is offered ‘" + row.kind() + "’ by a form any more");
            return;
        }
        String connection = Teller.connection(handbook, kind.desk());
        if (stops.holdsConnection(connection) || !forms.move(row, sending, "")) {
            return;
        }
        FormRow taken = in(row, sending);
        try {
            Letter letter = sending == State.ASKING ? asking(handbook, kind, row) : telling(handbook, row);
            Reply reply = teller.send(handbook, kind.desk(), letter, Deadline.in(LONGEST));
            came(taken, due, sent, reply, now);
        } catch (CannotTell | KeyRing.CannotOpen e) {
            forms.move(taken, State.LEFT, String.valueOf(e.getMessage()));
        }
    }

    private static FormRow in(FormRow row, State state) {
        return new FormRow(
                row.id(),
                row.kind(),
                row.name(),
                row.address(),
                row.cameFrom(),
                row.received(),
                row.asked(),
                state.word(),
                row.moved(),
                row.detail(),
                row.caseId());
    }

    private void came(FormRow taken, State due, State sent, Reply reply, Instant now) {
        if (reply instanceof Reply.Answered) {
            forms.move(taken, sent, "");
        } else if (reply instanceof Reply.Refused
                || taken.received().plus(TOO_LATE).isBefore(now)) {
            forms.move(taken, State.LEFT, reply.detail());
        } else {
            forms.move(taken, due, reply.detail().isEmpty() ? "it isn't known whether it went out" : reply.detail());
        }
    }

    /** Nothing of what was asked stands in it: whoever knows an address must not be able to write to it by a form. */
    private Letter asking(Handbook handbook, Kind kind, FormRow row) throws CannotTell {
        String text = "Somebody, most likely you, has filled in the form ‘" + kind.title() + "’ of "
                + handbook.house().title()
                + " and given this address.\n\nNothing happens until you look at it and send it off here:\n"
                + forms.confirming(row) + "\n\nIf it wasn't you, do nothing: after two days it is forgotten.";
        return letters.to(
                new Mail.Address("", row.address()),
                handbook,
                kind.desk(),
                "Is this yours? " + kind.title(),
                text,
                row.id() + ".asked");
    }

    private Letter telling(Handbook handbook, FormRow row) throws CannotTell {
        CaseRow about = cases.find(String.valueOf(row.caseId())).orElseThrow();
        boolean guest = letters.isGuest(about);
        String text = "Your question has arrived; it is our case " + about.id()
                + ".\n\nSee here how far it is, answer us, add a file, or take it back:\n"
                + letters.linkForWhoAsked(about)
                + (guest
                        ? "\n\nWhoever has this link sees your case, so keep it to yourself. It is good for sixty days."
                        : "");
        return letters.about(handbook, about, Telling.REQUESTER, text, false, row.id() + "-told");
    }

    @Override
    public Rounds rounds() {
        return rounds;
    }
}

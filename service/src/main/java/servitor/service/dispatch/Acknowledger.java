package servitor.service.dispatch;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import org.springframework.stereotype.Component;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Reply;
import servitor.core.expression.EvaluationFailed;
import servitor.core.handbook.Audience;
import servitor.core.handbook.Channel;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Telling;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.Recurring;
import servitor.service.Rounds;
import servitor.service.ServitorSettings;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.cases.NoteRow;
import servitor.service.connections.KeyRing;
import servitor.service.editions.Editions;
import servitor.service.intake.AcknowledgementRow;
import servitor.service.intake.AcknowledgementRow.State;
import servitor.service.intake.Acknowledgements;
import servitor.service.ledger.Writer;
import servitor.service.messages.CannotTell;
import servitor.service.messages.Letters;
import servitor.service.runs.Stops;
import tools.jackson.databind.node.ObjectNode;

/**
 * Acknowledges mails that opened cases. That one is being sent is durable before it leaves; one that may have left is looked for among
 * what was sent, and never sent again unless that proves that it didn't leave.
 */
@Component
class Acknowledger implements Recurring {
    private static final Duration EACH = Duration.ofSeconds(1);
    private static final Duration AGAIN = Duration.ofSeconds(30);
    private static final Duration LONGEST = Duration.ofSeconds(30);
    /** Who has sent nothing for so long is gone. */
    private static final Duration GONE = Duration.ofMinutes(3);

    private static final Duration TOO_LATE = Duration.ofDays(1);

    private final Acknowledgements all;
    private final Teller teller;
    private final Letters letters;
    private final CaseStore cases;
    private final Editions editions;
    private final Stops stops;
    private final Writer writer;
    private final ServitorSettings settings;
    private final Clock clock;
    private final Rounds rounds = new Rounds("acknowledger", EACH, this::pass);
    private boolean first = true;

    Acknowledger(
            Acknowledgements all,
            Teller teller,
            Letters letters,
            CaseStore cases,
            Editions editions,
            Stops stops,
            Writer writer,
            ServitorSettings settings,
            Clock clock) {
        this.all = all;
        this.teller = teller;
        this.letters = letters;
        this.cases = cases;
        this.editions = editions;
        this.stops = stops;
        this.writer = writer;
        this.settings = settings;
        this.clock = clock;
    }

    private void pass() {
        // a database file is open to one process only, so that whoever was sending when this one began is gone
        Instant gone = first && !settings.isShared()
                ? clock.instant()
                : clock.instant().minus(GONE);
        first = false;
        for (AcknowledgementRow row : all.in(State.SENDING)) {
            if (rounds.goOn() && row.at().isBefore(gone)) {
                settle(row);
            }
        }
        Instant now = clock.instant();
        for (AcknowledgementRow row : all.in(State.WAITING)) {
            if (rounds.goOn() && (row.detail().isEmpty() || row.at().plus(AGAIN).isBefore(now))) {
                send(row);
            }
        }
    }

    /** What an acknowledgement is made of, as things are now; it may have become impossible meanwhile. */
    private record Due(Handbook handbook, CaseRow row, String text) {}

    private Due due(AcknowledgementRow row) throws CannotTell, EvaluationFailed {
        Handbook handbook = editions.current().orElseThrow().handbook();
        CaseRow about = cases.find(row.caseId()).orElseThrow();
        Intake intake = handbook.intake().get(row.intake());
        if (intake == null || intake.acknowledge() == null) {
            throw new CannotTell("its intake acknowledges nothing any more");
        }
        ObjectNode aCase = Json.object()
                .put("id", about.id())
                .put("subject", about.subject())
                .put("kind", about.kind());
        return new Due(handbook, about, intake.acknowledge().words(aCase, about.language()));
    }

    private static String key(AcknowledgementRow row) {
        return "acknowledged-" + row.caseId();
    }

    private void send(AcknowledgementRow row) {
        try {
            Due due = due(row);
            if (isStopped(due) || !move(row, State.SENDING, "")) {
                return;
            }
            AcknowledgementRow sending = all.find(row.caseId()).orElseThrow();
            Reply reply = teller.send(
                    due.handbook(),
                    due.row().desk(),
                    letters.about(due.handbook(), due.row(), Telling.REQUESTER, due.text(), false, key(row)),
                    Deadline.in(LONGEST));
            came(sending, due, reply);
        } catch (CannotTell | EvaluationFailed | KeyRing.CannotOpen e) {
            leave(all.find(row.caseId()).orElse(row), String.valueOf(e.getMessage()));
        }
    }

    private void came(AcknowledgementRow sending, Due due, Reply reply) {
        if (reply instanceof Reply.Answered answered) {
            sent(sending, due, answered.body().path("message").asString(""));
        } else if (reply instanceof Reply.NotSent notSent) {
            boolean tooLate = due.row().created().plus(TOO_LATE).isBefore(clock.instant());
            if (tooLate) {
                leave(sending, notSent.detail());
            } else {
                move(sending, State.WAITING, notSent.detail());
            }
        } else if (reply instanceof Reply.Refused refused) {
            leave(sending, refused.detail());
        }
        // what isn't known is looked up, as though whoever was sending had gone
    }

    /** One that may have left: it did if it is found, it didn't if the server files copies of all that leaves. */
    private void settle(AcknowledgementRow row) {
        try {
            Due due = due(row);
            Reply reply = teller.find(due.handbook(), due.row(), key(row));
            if (reply instanceof Reply.Answered answered
                    && answered.body().path("found").asBoolean(false)) {
                sent(row, due, letters.messageId(due.handbook(), due.row(), key(row)));
            } else if (reply instanceof Reply.Answered) {
                move(row, State.WAITING, "");
            } else if (reply instanceof Reply.Refused refused) {
                move(row, State.UNKNOWN, refused.detail());
            }
        } catch (CannotTell | EvaluationFailed | KeyRing.CannotOpen e) {
            move(row, State.UNKNOWN, String.valueOf(e.getMessage()));
        }
    }

    private boolean isStopped(Due due) {
        return stops.holdsConnection(Teller.connection(due.handbook(), due.row().desk()));
    }

    private boolean move(AcknowledgementRow row, State to, String detail) {
        return writer.write(tx -> all.move(row, to, tx.now(), bounded(detail)));
    }

    private void leave(AcknowledgementRow row, String why) {
        writer.write(tx -> {
            boolean moved = all.move(row, State.LEFT, tx.now(), bounded(why));
            if (moved) {
                tx.trail(
                        row.caseId(),
                        "",
                        new TrailEvent(
                                TrailEvent.SYSTEM,
                                TrailWord.ACKNOWLEDGED,
                                "",
                                Json.object().put("intake", row.intake()).put("detail", why)));
            }
            return moved;
        });
    }

    private void sent(AcknowledgementRow row, Due due, String message) {
        writer.write(tx -> {
            boolean moved = all.move(row, State.SENT, tx.now(), "");
            if (moved) {
                cases.insertNote(
                        tx,
                        new NoteRow(
                                key(row),
                                row.caseId(),
                                tx.now(),
                                TrailEvent.SYSTEM,
                                Audience.REQUESTER.word(),
                                false,
                                due.text(),
                                Channel.MAIL.word(),
                                "",
                                "",
                                ""),
                        due.row());
                tx.trail(
                        row.caseId(),
                        "",
                        new TrailEvent(
                                TrailEvent.SYSTEM,
                                TrailWord.ACKNOWLEDGED,
                                "",
                                Json.object()
                                        .put("intake", row.intake())
                                        .put("to", row.requester())
                                        .put("message", message)));
            }
            return moved;
        });
    }

    private static String bounded(String text) {
        return text.length() <= 1_000 ? text : text.substring(0, 1_000);
    }

    @Override
    public Rounds rounds() {
        return rounds;
    }
}

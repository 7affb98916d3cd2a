package servitor.service.dispatch;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.time.format.FormatStyle;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import servitor.connectors.access.Deadline;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalState;
import servitor.core.engine.Evidence;
import servitor.core.engine.Reply;
import servitor.core.handbook.Asking;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Tool;
import servitor.core.mail.Letter;
import servitor.service.Recurring;
import servitor.service.Rounds;
import servitor.service.approvals.ApprovalMail;
import servitor.service.approvals.ApprovalMail.State;
import servitor.service.approvals.ApprovalRow;
import servitor.service.approvals.ApprovalStore;
import servitor.service.approvals.Approvals;
import servitor.service.approvals.AskedByMail;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.connections.KeyRing;
import servitor.service.editions.Editions;
import servitor.service.messages.CannotTell;
import servitor.service.messages.Letters;
import servitor.service.runs.Stops;

/**
 * Tells people by mail, and rooms by chat, that an approval waits for them, where their desk wants that. A mail of which it isn't known
 * whether it went out goes out once more, as the same one.
 */
@Component
class ApprovalMailer implements Recurring {
    private static final Logger LOG = LoggerFactory.getLogger(ApprovalMailer.class);
    private static final Duration EACH = Duration.ofSeconds(1);
    private static final Duration AGAIN = Duration.ofSeconds(30);
    private static final Duration LONGEST = Duration.ofSeconds(30);
    /** Who has sent nothing for so long is gone. */
    private static final Duration GONE = Duration.ofMinutes(3);

    private static final int AT_ONCE = 100;
    private static final int LONGEST_TEXT = 4_000;
    private static final DateTimeFormatter TIME = DateTimeFormatter.ofLocalizedDateTime(
                    FormatStyle.MEDIUM, FormatStyle.SHORT)
            .withLocale(Locale.UK);

    private final ApprovalStore approvals;
    private final AskedByMail asked;
    private final Teller teller;
    private final Letters letters;
    private final CaseStore cases;
    private final Editions editions;
    private final Stops stops;
    private final Clock clock;
    /** Until when nothing is tried over a connection; only this thread's. */
    private final Map<String, Instant> resting = new HashMap<>();

    private final Rounds rounds = new Rounds("approval-mailer", EACH, this::pass);

    ApprovalMailer(
            ApprovalStore approvals,
            AskedByMail asked,
            Teller teller,
            Letters letters,
            CaseStore cases,
            Editions editions,
            Stops stops,
            Clock clock) {
        this.approvals = approvals;
        this.asked = asked;
        this.teller = teller;
        this.letters = letters;
        this.cases = cases;
        this.editions = editions;
        this.stops = stops;
        this.clock = clock;
    }

    private void pass() {
        for (ApprovalRow row : approvals.toTell(AT_ONCE)) {
            if (rounds.goOn()) {
                tell(row);
            }
        }
        Instant now = clock.instant();
        for (ApprovalMail mail : asked.in(State.SENDING)) {
            if (mail.moved().isBefore(now.minus(GONE))) {
                asked.move(mail, State.TO_SEND, "");
            }
        }
        for (ApprovalMail mail : asked.in(State.TO_SEND)) {
            boolean rests = !mail.detail().isEmpty() && mail.moved().isAfter(now.minus(AGAIN));
            if (rounds.goOn() && !rests) {
                send(mail);
            }
        }
    }

    /** A room that can't be told is told nothing later: whoever is asked finds it in the console all the same. */
    private void tell(ApprovalRow row) {
        CaseRow about = cases.find(row.caseId()).orElseThrow();
        Asking asking = asked.asking(about);
        if (asked.plan(row) && asking.room() != null) {
            Handbook handbook = handbook();
            String headline = headline(handbook, about, Approvals.request(row));
            Reply reply = teller.inRoom(
                    handbook,
                    asking.room(),
                    letters.asking(handbook, about, headline, asked.sheet(row.id())),
                    row.id() + "-" + row.reminders(),
                    Deadline.in(LONGEST));
            if (reply instanceof Reply.Answered) {
                asked.toldRoom(row, asking.room(), headline + "\n" + asked.sheet(row.id()));
            } else {
                LOG.warn("The room ‘{}’ wasn't told of the approval {}: {}", asking.room(), row.id(), reply.detail());
            }
        }
    }

    private Handbook handbook() {
        return editions.current().orElseThrow().handbook();
    }

    private void send(ApprovalMail mail) {
        Optional<ApprovalRow> row = approvals.find(mail.approvalId()).filter(one -> !mail.asks() || isAsked(one, mail));
        Optional<CaseRow> about = row.flatMap(one -> cases.find(one.caseId()));
        if (row.isEmpty() || about.isEmpty()) {
            asked.move(mail, State.LEFT, "it isn't asked any more");
            return;
        }
        Handbook handbook = handbook();
        String connection = Teller.connection(handbook, about.get().desk());
        boolean held = stops.holdsConnection(connection) || rests(connection);
        if (held || !asked.move(mail, State.SENDING, "")) {
            return;
        }
        ApprovalMail taken = asked.find(mail.id()).orElseThrow();
        try {
            Letter letter = mail.asks()
                    ? asking(handbook, about.get(), row.get(), mail)
                    : saying(handbook, about.get(), row.get(), mail);
            Reply reply = teller.send(handbook, about.get().desk(), letter, Deadline.in(LONGEST));
            if (reply instanceof Reply.NotSent) {
                resting.put(connection, clock.instant().plus(AGAIN)); // what doesn't take one takes no other
            }
            came(taken, row.get(), letter, reply);
        } catch (CannotTell | KeyRing.CannotOpen e) {
            asked.move(taken, State.LEFT, String.valueOf(e.getMessage()));
        }
    }

    private boolean rests(String connection) {
        return resting.getOrDefault(connection, Instant.MIN).isAfter(clock.instant());
    }

    private static boolean isAsked(ApprovalRow row, ApprovalMail mail) {
        return ApprovalState.OPEN.word().equals(row.state()) && row.digest().equals(mail.digest());
    }

    private Letter saying(Handbook handbook, CaseRow about, ApprovalRow row, ApprovalMail mail) throws CannotTell {
        String text = mail.says() + "\n\n" + asked.sheet(row.id());
        return letters.toColleague(
                handbook, about, mail.person(), "What came of your answer", text, "said-" + mail.id());
    }

    private void came(ApprovalMail taken, ApprovalRow row, Letter letter, Reply reply) {
        if (reply instanceof Reply.Answered) {
            asked.sent(taken, row, letter.subject() + "\n\n" + letter.plain());
        } else if (reply instanceof Reply.Refused || taken.expires().isBefore(clock.instant())) {
            asked.move(taken, State.LEFT, reply.detail());
        } else {
            asked.move(
                    taken,
                    State.TO_SEND,
                    reply.detail().isEmpty() ? "it isn't known whether it went out" : reply.detail());
        }
    }

    private Letter asking(Handbook handbook, CaseRow about, ApprovalRow row, ApprovalMail mail) throws CannotTell {
        ApprovalRequest request = Approvals.request(row);
        boolean personal = Letters.isPersonal(handbook, about);
        boolean wording = asked.mayApprove(about, request);
        String headline = headline(handbook, about, request);
        StringBuilder text = new StringBuilder(headline).append("\n\n");
        if (!personal) {
            told(text, about, row, request);
        }
        text.append("To answer after signing in, with all that it rests on:\n")
                .append(asked.sheet(row.id()))
                .append("\n\nWithout signing in you can ")
                .append(wording ? "approve the wording, decline it" : "decline it")
                .append(request.rounds() > 0 ? ", or say what should be different" : "")
                .append(" here, once:\n")
                .append(asked.link(mail))
                .append("\n\nOr answer this mail: ")
                .append(wording ? "‘yes’, or ‘no’ and why" : "‘no’ and why")
                .append(", in its first line. Whoever has this mail can answer for you, so keep it to yourself.");
        if (row.due() != null) {
            text.append("\n\nWithout an answer it lapses on ")
                    .append(TIME.format(
                            ZonedDateTime.ofInstant(row.due(), handbook.house().timeZone())))
                    .append('.');
        }
        return letters.toColleague(handbook, about, mail.person(), headline, text.toString(), mail.key());
    }

    private void told(StringBuilder text, CaseRow about, ApprovalRow row, ApprovalRequest request) {
        if (!request.headline().startsWith(request.question())) {
            text.append(request.question()).append("\n\n");
        }
        request.texts()
                .values()
                .forEach(draft -> text.append("What would be sent, written by a machine:\n")
                        .append(quoted(draft))
                        .append("\n\n"));
        String why = request.sheet().path("why").asString("");
        if (!why.isEmpty()) {
            text.append("Asked because ").append(why).append(".\n\n");
        }
        Optional<Evidence> evidence = approvals.evidence(row.id());
        String proof = evidence.map(Evidence::proof).orElse(about.proof());
        text.append(evidence.map(Evidence::name).orElse("The requester"))
                .append(" asks (")
                .append(proof.equals("claimed") ? "only claimed: nobody has proved who this is" : proof)
                .append("), ")
                .append(about.id())
                .append(", ‘")
                .append(evidence.map(Evidence::subject).orElse(about.subject()))
                .append("’:\n")
                .append(quoted(evidence.map(Evidence::text).orElse(about.text())))
                .append("\n\n");
    }

    /** Words of others, each line marked as theirs. */
    private static String quoted(String text) {
        String some = text.length() <= LONGEST_TEXT ? text : text.substring(0, LONGEST_TEXT) + "…";
        return some.strip().lines().map(line -> "  | " + line).collect(Collectors.joining("\n"));
    }

    /** Of a personal case, only what sort of thing is asked: nothing of it stands in mails or rooms. */
    private static String headline(Handbook handbook, CaseRow about, ApprovalRequest request) {
        if (!Letters.isPersonal(handbook, about)) {
            return request.headline();
        }
        Tool tool =
                handbook.tools().get(request.sheet().path("call").path("tool").asString(""));
        String desk = handbook.called(about.desk());
        return tool == null
                ? "Your answer is needed, " + desk
                : tool.title() + ": your answer is needed, " + desk.toLowerCase(Locale.ROOT);
    }

    @Override
    public Rounds rounds() {
        return rounds;
    }
}

package servitor.service.approvals;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.core.approval.Answer;
import servitor.core.approval.Answer.Says;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalRules;
import servitor.core.approval.ApprovalRules.Counts;
import servitor.core.approval.ApprovalRules.Refused;
import servitor.core.approval.ApprovalRules.Ruling;
import servitor.core.approval.ApprovalRules.SentBack;
import servitor.core.approval.ApprovalRules.Why;
import servitor.core.approval.ApprovalState;
import servitor.core.approval.Via;
import servitor.core.engine.ApprovalAnswers;
import servitor.core.handbook.Asking;
import servitor.core.handbook.Desk;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Kind;
import servitor.core.json.Json;
import servitor.core.mail.PlainAnswer;
import servitor.core.mail.SignedLink;
import servitor.core.mail.ThreadMark;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.ServitorSettings;
import servitor.service.approvals.ApprovalMail.State;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.editions.Editions;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;
import servitor.service.people.PeopleReader;
import servitor.service.people.Person;

/**
 * Asks people by mail what an approval asks, and takes their answers: by a link that says who they are, or by an answering mail. Each
 * mail is answered once, about what it showed. Looking at a link does nothing.
 */
@Service
public class AskedByMail {
    private static final Duration LONGEST = Duration.ofDays(14);
    private static final int MOST_ASKED = 50;
    /** How much of what somebody wrote is told back to them, in characters. */
    private static final int MOST_TOLD = 300;

    private static final int LONGEST_KEPT = 200_000;
    private static final Duration TOLD_AGAIN = Duration.ofHours(1);

    private final ApprovalStore approvals;
    private final ApprovalMailStore mails;
    private final Approvals answered;
    private final CaseStore cases;
    private final PeopleReader people;
    private final Editions editions;
    private final ApprovalAnswers answering;
    private final Writer writer;
    private final SignedLink links;
    private final ServitorSettings settings;
    private final Clock clock;

    AskedByMail(
            ApprovalStore approvals,
            ApprovalMailStore mails,
            Approvals answered,
            CaseStore cases,
            PeopleReader people,
            Editions editions,
            ApprovalAnswers answering,
            Writer writer,
            ThreadMark marks,
            ServitorSettings settings,
            Clock clock) {
        this.approvals = approvals;
        this.mails = mails;
        this.answered = answered;
        this.cases = cases;
        this.people = people;
        this.editions = editions;
        this.answering = answering;
        this.writer = writer;
        this.links = new SignedLink(marks.signer(), "approval");
        this.settings = settings;
        this.clock = clock;
    }

    /** How people are told of approvals about a case. */
    public Asking asking(CaseRow about) {
        return handbook()
                .map(book -> book.desks().get(about.desk()))
                .map(Desk::asking)
                .orElse(Asking.QUIETLY);
    }

    private Optional<Handbook> handbook() {
        return editions.current().map(edition -> edition.handbook());
    }

    /** Has a mail go to everybody who may answer an approval, and notes that they are told; false when another process did. */
    public boolean plan(ApprovalRow row) {
        CaseRow about = cases.find(row.caseId()).orElseThrow();
        List<Person> asked = asking(about).mail() ? answered.whoMayAnswer(row) : List.of();
        return writer.write(tx -> {
            if (!approvals.told(row.id())) {
                return false;
            }
            ApprovalRow now = approvals.find(row.id()).orElse(row); // as it may be shown anew by now
            for (Person person : asked.subList(0, Math.min(asked.size(), MOST_ASKED))) {
                mails.insert(mail(tx, now, person.id(), ""));
            }
            return true;
        });
    }

    private static ApprovalMail mail(LedgerTransaction tx, ApprovalRow row, String person, String says) {
        Instant most = tx.now().plus(LONGEST);
        Instant expires = row.due() != null && row.due().isBefore(most) ? row.due() : most;
        return new ApprovalMail(
                UUID.randomUUID().toString(),
                row.id(),
                person,
                row.digest(),
                says,
                expires,
                State.TO_SEND.word(),
                tx.now(),
                "",
                null);
    }

    /** Whether everybody is told of what there is to tell them. */
    public boolean isDone() {
        return approvals.toTell(1).isEmpty()
                && in(State.TO_SEND).isEmpty()
                && in(State.SENDING).isEmpty();
    }

    /** Mails that stand so, the longest first. */
    public List<ApprovalMail> in(State state) {
        return mails.in(state);
    }

    public Optional<ApprovalMail> find(String id) {
        return mails.find(id);
    }

    /** Whether a mail stands there now that stood as it says. */
    public boolean move(ApprovalMail mail, State to, String detail) {
        String told = detail.length() <= 1_000 ? detail : detail.substring(0, 1_000);
        return writer.write(tx -> mails.move(mail, to, tx.now(), told));
    }

    /** A mail went out: what it said is kept. */
    public void sent(ApprovalMail mail, ApprovalRow row, String text) {
        writer.write(tx -> {
            if (mails.move(mail, State.SENT, tx.now(), "") && mail.asks()) {
                mails.tell(mail.id(), text.substring(0, Math.min(text.length(), LONGEST_KEPT)));
                told(tx, row, mail.person(), "mail", text);
            }
            return null;
        });
    }

    /** A room was told: what it was told is kept. */
    public void toldRoom(ApprovalRow row, String room, String text) {
        writer.write(tx -> {
            told(tx, row, room, "chat", text);
            return null;
        });
    }

    private static void told(LedgerTransaction tx, ApprovalRow row, String to, String by, String text) {
        tx.trail(
                row.caseId(),
                row.runId(),
                new TrailEvent(
                        TrailEvent.SYSTEM,
                        TrailWord.APPROVAL_TOLD,
                        Approvals.request(row).step(),
                        Json.object()
                                .put("approval", row.id())
                                .put("to", to)
                                .put("by", by)
                                .put("shown", row.digest())
                                .put("material", tx.keep(text))));
    }

    /** Where a mail is answered without signing in. */
    public String link(ApprovalMail mail) {
        return address() + "/form/approval#" + links.of(mail.id(), mail.expires());
    }

    /** Where an approval is answered by somebody who has signed in. */
    public String sheet(String approval) {
        return address() + "/approvals/" + approval;
    }

    private String address() {
        return settings.address().toString().replaceAll("/+$", "");
    }

    /**
     * What a link is for.
     *
     * @param mayApprove whether wording may be approved by it
     */
    public record Asked(ApprovalMail mail, ApprovalRow row, CaseRow about, Person person, boolean mayApprove) {
        /** Whether it can still be answered by this mail: it is open, and as the mail showed it. */
        public boolean isOpen() {
            return mail.used() == null
                    && ApprovalState.OPEN.word().equals(row.state())
                    && row.digest().equals(mail.digest());
        }
    }

    /** What a link's secret part is for; empty when it was altered, has run out, or whoever was asked may not answer any more. */
    public Optional<Asked> byLink(String link) {
        return links.open(link, clock.instant()).flatMap(this::asked);
    }

    private Optional<Asked> asked(String id) {
        ApprovalMail mail = mails.find(id).filter(ApprovalMail::asks).orElse(null);
        if (mail == null) {
            return Optional.empty();
        }
        ApprovalRow row = approvals.find(mail.approvalId()).orElse(null);
        Person person = people.find(mail.person()).filter(Person::enabled).orElse(null);
        if (row == null || person == null || !answered.isAsked(person, row)) {
            return Optional.empty();
        }
        CaseRow about = cases.find(row.caseId()).orElseThrow();
        return Optional.of(new Asked(mail, row, about, person, mayApprove(about, Approvals.request(row))));
    }

    /** Whether what is asked may be approved by mail: wording, where the desk allows it, of a case that isn't personal. */
    public boolean mayApprove(CaseRow about, ApprovalRequest request) {
        boolean personal = handbook()
                .map(book -> book.kinds().get(about.kind()))
                .map(Kind::personal)
                .orElse(true);
        return !personal && asking(about).wording() && ApprovalRules.isWordingForOne(request);
    }

    /** Takes an answer by a link; the link is good for nothing after one that counts. */
    public Ruling answer(Asked asked, Says says, String reason, Map<String, String> texts) {
        return writer.write(tx -> answer(tx, asked, says, reason, texts, Via.LINK));
    }

    private Ruling answer(
            LedgerTransaction tx, Asked asked, Says says, String reason, Map<String, String> texts, Via via) {
        if (mails.find(asked.mail().id()).filter(mail -> mail.used() == null).isEmpty()) {
            return new Refused(Why.NOT_OPEN, "This mail has been answered already; it is good for one answer.");
        }
        if (says == Says.APPROVE && !asked.mayApprove()) {
            return new Refused(Why.NOT_ASKED, "This isn't approved by mail. Sign in to approve it.");
        }
        Answer answer = new Answer(
                asked.person().id(),
                asked.person().answersAsThemselves(),
                asked.person().standsInFor(),
                says,
                asked.mail().digest(),
                reason,
                texts,
                null,
                via);
        Ruling ruling = answering.answer(tx.store(), asked.row().id(), answer);
        if (!(ruling instanceof Refused) && !mails.use(asked.mail().id(), tx.now())) {
            throw new IllegalStateException("the mail " + asked.mail().id() + " was answered twice in one transaction");
        }
        return ruling;
    }

    /** What the mail with this key asks, when its own person answers; empty for a key that isn't of such a mail, or for anybody else. */
    public Optional<Asked> byKey(String key, @Nullable Person sender) {
        return !key.startsWith(ApprovalMail.KEY) || sender == null
                ? Optional.empty()
                : asked(key.substring(ApprovalMail.KEY.length()))
                        .filter(asked -> asked.person().id().equals(sender.id()));
    }

    /**
     * Takes an answering mail's text, and has a mail tell its sender what came of it. What isn't a plain yes or no goes back as feedback
     * where the text can be sent back, and counts for nothing otherwise.
     */
    public String answerByMail(LedgerTransaction tx, Asked asked, String text) {
        PlainAnswer plain = PlainAnswer.of(text, known(asked));
        boolean canSendBack = !Approvals.request(asked.row()).texts().isEmpty()
                && Approvals.request(asked.row()).rounds() > 0;
        if (plain.says() == PlainAnswer.Says.AWAY) {
            return "They are away; it counts for nothing.";
        }
        String came;
        if (plain.says() == PlainAnswer.Says.YES_AND_MORE) {
            came = "You wrote yes, and more: ‘" + shortened(plain.words())
                    + "’. That isn’t a plain yes, so nothing is decided. Which counts? Answer with ‘yes’ alone, with ‘no’ and why, or here: "
                    + link(asked.mail());
        } else if (plain.says() == PlainAnswer.Says.UNCLEAR && !canSendBack) {
            came =
                    "That is neither a plain yes nor a plain no in its first line, so it counts for nothing. Answer here: "
                            + link(asked.mail());
        } else {
            Says says = says(plain);
            String reason = says == Says.DECLINE && plain.words().isBlank()
                    ? "Declined by mail, without a reason."
                    : bounded(plain.words());
            came = came(answer(tx, asked, says, reason, Map.of(), Via.MAIL), says);
        }
        mails.insert(mail(tx, asked.row(), asked.person().id(), came));
        return came;
    }

    /** What may stand in somebody's answer without saying anything. */
    private PlainAnswer.Known known(Asked asked) {
        return new PlainAnswer.Known(
                asked.person().name(),
                asking(asked.about()).footers(),
                mails.told(asked.mail().id()));
    }

    private static String shortened(String words) {
        return words.length() <= MOST_TOLD ? words : words.substring(0, MOST_TOLD) + "…";
    }

    /**
     * Tells somebody who was asked by mail, and whose own mail has come to the case as no answer, that it decides nothing and why: in
     * their name nothing is done that they don't hear of. At most once an hour for each approval, since anybody may write in their name.
     *
     * @param answers the key of the mail of ours that it answers; empty for none
     * @param proven whether it is proven that they wrote it
     */
    public void tellWhyNot(LedgerTransaction tx, CaseRow about, Person sender, String answers, boolean proven) {
        List<ApprovalMail> asking = mails.asking(about.id(), sender.id());
        asking.stream()
                .filter(mail -> mail.key().equals(answers))
                .findFirst()
                .or(() -> asking.stream()
                        .filter(mail -> mail.used() == null && isOpen(mail))
                        .findFirst())
                .filter(mail ->
                        mails.said(mail.approvalId(), sender.id(), tx.now().minus(TOLD_AGAIN)) == 0)
                .ifPresent(mail -> approvals
                        .find(mail.approvalId())
                        .ifPresent(
                                row -> mails.insert(mail(tx, row, sender.id(), whyNot(mail, row, answers, proven)))));
    }

    private boolean isOpen(ApprovalMail mail) {
        return approvals
                .find(mail.approvalId())
                .filter(row -> ApprovalState.OPEN.word().equals(row.state()))
                .isPresent();
    }

    private String whyNot(ApprovalMail mail, ApprovalRow row, String answers, boolean proven) {
        String begins = "A mail in your name has come to the case, and it decides nothing of what you were asked: ";
        if (!ApprovalState.OPEN.word().equals(row.state())) {
            return begins + "this is already " + row.state() + ".";
        } else if (!proven) {
            return begins + "it isn’t proven that you wrote it. If you did, answer after signing in.";
        } else if (!mail.key().equals(answers)) {
            return begins + "it doesn’t answer the mail that asked you. Answer that mail itself, or here: "
                    + link(mail);
        }
        return begins + "you aren’t asked any more.";
    }

    private static Says says(PlainAnswer plain) {
        return switch (plain.says()) {
            case YES -> Says.APPROVE;
            case NO -> Says.DECLINE;
            case UNCLEAR, AWAY, YES_AND_MORE -> Says.FEEDBACK;
        };
    }

    private static String bounded(String words) {
        return words.length() <= ApprovalRules.LONGEST ? words : words.substring(0, ApprovalRules.LONGEST);
    }

    private static String came(Ruling ruling, Says says) {
        if (ruling instanceof Refused refused) {
            return "Your answer doesn't count. " + refused.message();
        } else if (ruling instanceof SentBack) {
            return "It was sent back with your words, and is written again.";
        } else if (ruling instanceof Counts counts && counts.state() == ApprovalState.OPEN) {
            return "Your answer counts; others have to answer as well.";
        }
        return "Your answer counts: it is " + (says == Says.APPROVE ? "approved." : "declined.");
    }

    /** The texts that a link's page showed, as somebody wants them, by their keys. */
    public static Map<String, String> texts(ApprovalRequest request, List<String> wanted) {
        Map<String, String> texts = new LinkedHashMap<>();
        List<String> keys = new ArrayList<>(request.texts().keySet());
        for (int i = 0; i < Math.min(keys.size(), wanted.size()); i++) {
            texts.put(keys.get(i), wanted.get(i));
        }
        return texts;
    }
}

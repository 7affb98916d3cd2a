package servitor.service.messages;

import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.springframework.stereotype.Component;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Letterhead;
import servitor.core.handbook.Room;
import servitor.core.handbook.Telling;
import servitor.core.json.Json;
import servitor.core.mail.Letter;
import servitor.core.mail.Mail;
import servitor.core.mail.ThreadMark;
import servitor.service.ServitorSettings;
import servitor.service.cases.CaseRow;
import servitor.service.forms.FormLinks;
import servitor.service.intake.MailStore;
import servitor.service.people.PersonRow;
import servitor.service.people.PersonStore;
import tools.jackson.databind.node.ObjectNode;

/**
 * Composes mails about cases: to addresses on record, never to one that a mail names; in the thread of the case, which both the
 * Message-ID and the subject carry.
 */
@Component
public class Letters {
    private static final int MOST_ADDRESSES = 50;
    private static final int MOST_REFERENCES = 10;

    private final MailStore mails;
    private final PersonStore people;
    private final FormLinks links;
    private final ThreadMark marks;
    private final ServitorSettings settings;
    private final Clock clock;

    Letters(
            MailStore mails,
            PersonStore people,
            FormLinks links,
            ThreadMark marks,
            ServitorSettings settings,
            Clock clock) {
        this.links = links;
        this.mails = mails;
        this.people = people;
        this.marks = marks;
        this.settings = settings;
        this.clock = clock;
    }

    /**
     * A mail about a case.
     *
     * @param to as {@code tell} says it
     * @param written whether the words are a machine's
     * @param key the call's: the same key has the same Message-ID
     * @throws CannotTell when the desk sends no mails, or nobody who is meant has an address
     */
    public Letter about(Handbook handbook, CaseRow row, String to, String text, boolean written, String key)
            throws CannotTell {
        Letterhead head = letterhead(handbook, row.desk());
        boolean requester = to.equals(Telling.REQUESTER);
        boolean personal = isPersonal(handbook, row);
        String subject =
                (personal ? title(handbook, row) : ThreadMark.plain(row.subject())) + " " + marks.tag(row.id());
        return new Letter(
                messageId(handbook, row, key),
                new Mail.Address(head.name(), head.address()),
                addresses(requester ? Telling.PERSON + row.requester() : to),
                (requester && !references(row).isEmpty() ? "Re: " : "") + subject,
                written && !personal ? head.labelIn(row.language()) : "",
                personal
                        ? head.personalIn(row.language()) + "\n\n" + (requester ? linkForWhoAsked(row) : link(row))
                        : text,
                head.signatureIn(row.language()),
                row.language(),
                requester ? references(row) : List.of(),
                clock.instant());
    }

    /**
     * A mail of the house to one of its people about a case: what stands in it is composed for them, and has no label of its own.
     *
     * @param key the same key has the same Message-ID, by which an answer is known
     * @throws CannotTell when the desk sends no mails, or the person has no address
     */
    public Letter toColleague(Handbook handbook, CaseRow row, String person, String subject, String text, String key)
            throws CannotTell {
        Letterhead head = letterhead(handbook, row.desk());
        return new Letter(
                messageId(handbook, row, key),
                new Mail.Address(head.name(), head.address()),
                addresses(Telling.PERSON + person),
                ThreadMark.plain(subject) + " " + marks.tag(row.id()),
                "",
                text,
                head.name(),
                "en",
                List.of(),
                clock.instant());
    }

    /**
     * A mail of a desk that is about no case, to somebody who gave this address.
     *
     * @param key the same key has the same Message-ID
     * @throws CannotTell when the desk sends no mails
     */
    public Letter to(Mail.Address somebody, Handbook handbook, String desk, String subject, String text, String key)
            throws CannotTell {
        Letterhead head = letterhead(handbook, desk);
        String host = head.address().substring(head.address().lastIndexOf('@') + 1);
        return new Letter(
                key.toLowerCase(Locale.ROOT) + "@" + host,
                new Mail.Address(head.name(), head.address()),
                List.of(somebody),
                ThreadMark.plain(subject),
                "",
                text,
                head.name(), // its signature speaks of a case
                "en",
                List.of(),
                clock.instant());
    }

    /** The Message-ID, without brackets, of the mail that a call with this key sends. */
    public String messageId(Handbook handbook, CaseRow row, String key) throws CannotTell {
        String plain = key.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9-]", "-");
        String address = letterhead(handbook, row.desk()).address();
        return marks.messageId(
                plain.length() <= 60 ? plain : Json.digest(key).substring(0, 40),
                row.id(),
                address.substring(address.lastIndexOf('@') + 1));
    }

    /** What a room is told of a case ({@link Room#OF_MESSAGE}). */
    public ObjectNode message(Handbook handbook, CaseRow row, String to, String text, boolean written) {
        boolean personal = isPersonal(handbook, row);
        String desk = handbook.called(row.desk());
        String label = written
                ? handbook.letterheadOf(row.desk())
                        .map(head -> head.labelIn(row.language()))
                        .filter(said -> !said.isEmpty())
                        .map(said -> "[" + said + "] ")
                        .orElse("")
                : "";
        return Json.object()
                .put(
                        "headline",
                        personal
                                ? row.id() + ": something new for the " + desk
                                : row.id() + ": " + ThreadMark.plain(row.subject()))
                .put("text", personal ? "" : label + text)
                .put("link", link(row))
                .put("case", row.id())
                .put("desk", desk)
                .put("to", handbook.called(to));
    }

    /** What a room is told of an approval that waits ({@link Room#OF_MESSAGE}): a line, and where it is answered. */
    public ObjectNode asking(Handbook handbook, CaseRow row, String headline, String link) {
        String desk = handbook.called(row.desk());
        return Json.object()
                .put("headline", headline)
                .put("text", "waits for an answer.")
                .put("link", link)
                .put("case", row.id())
                .put("desk", desk)
                .put("to", desk);
    }

    /** Where whoever asked reads their case: in the console, or by a link of its own when they can't sign in. */
    public String linkForWhoAsked(CaseRow row) {
        return isGuest(row) ? links.following(row) : link(row);
    }

    /** Whether whoever asked can't sign in. */
    public boolean isGuest(CaseRow row) {
        return people.find(row.requester())
                .filter(person -> person.roles().isEmpty())
                .isPresent();
    }

    /** Where a case is read in the console. */
    public String link(CaseRow row) {
        return settings.address().toString().replaceAll("/+$", "") + "/cases/" + row.id();
    }

    /** Whether nothing of a case is told but where it is read. */
    public static boolean isPersonal(Handbook handbook, CaseRow row) {
        Kind kind = handbook.kinds().get(row.kind());
        return kind == null || kind.personal();
    }

    private static String title(Handbook handbook, CaseRow row) {
        Kind kind = handbook.kinds().get(row.kind());
        return kind == null ? row.id() : kind.title();
    }

    private static Letterhead letterhead(Handbook handbook, String desk) throws CannotTell {
        return handbook.letterheadOf(desk).orElseThrow(() -> new CannotTell("the desk ‘" + desk + "’ sends no mails"));
    }

    private List<Mail.Address> addresses(String to) throws CannotTell {
        List<Mail.Address> all = new ArrayList<>();
        for (PersonRow person : people.meant(to)) {
            if (person.email().matches("[^\\s@<>]{1,64}@[^\\s@<>]{1,255}")) {
                all.add(new Mail.Address(person.name().replaceAll("\\p{Cntrl}+", " "), person.email()));
            }
        }
        if (all.size() > MOST_ADDRESSES) {
            throw new CannotTell("‘" + to + "’ are " + all.size() + " people, and a mail goes to " + MOST_ADDRESSES
                    + " at most; give them a room");
        }
        if (all.isEmpty()) {
            throw new CannotTell("there is no mail address on record of " + to);
        }
        return all;
    }

    /** The mails before it: what the requester wrote last, and what that answered. */
    private List<String> references(CaseRow row) {
        List<String> all = mails.threadOf(row.id());
        return all.subList(Math.max(0, all.size() - MOST_REFERENCES), all.size());
    }
}

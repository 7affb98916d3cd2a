package servitor.service.intake;

import java.time.Instant;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.springframework.stereotype.Component;

/** Mails that were read, as they are kept, and where reading stands. */
@Component
public class MailStore {
    private final MailMapper mails;

    MailStore(MailMapper mails) {
        this.mails = mails;
    }

    public Optional<MailRow> find(String id) {
        return Optional.ofNullable(mails.find(id));
    }

    public List<MailRow> ofCase(String caseId) {
        return mails.ofCase(caseId);
    }

    /** Mails of an intake that became no case, the newest first. */
    public List<MailRow> leftOut(String intake, int most) {
        return mails.leftOut(intake, most);
    }

    /** The thread that the requester of a case last wrote in: what that mail answered, and itself, the newest last. */
    public List<String> threadOf(String caseId) {
        MailRow last = mails.lastAsked(caseId);
        if (last == null || last.messageId().isEmpty()) {
            return List.of();
        }
        return Stream.concat(Arrays.stream(last.refs().split(" ")), Stream.of(last.messageId()))
                .filter(one -> !one.isEmpty())
                .distinct()
                .toList();
    }

    /** Whether one of {@code intakes} has taken in a mail of these bytes. */
    boolean isTaken(String digest, Collection<String> intakes) {
        return !intakes.isEmpty() && mails.taken(digest, intakes) > 0;
    }

    /** Whether one of {@code intakes} has left a mail out for the same reason. */
    boolean isLeftOut(MailRow row, Collection<String> intakes) {
        return !intakes.isEmpty() && mails.leftOutAlike(row.digest(), row.reason(), intakes) > 0;
    }

    /** Whether a mail has come to a case before, by another mailbox. */
    boolean hasCome(String caseId, MailRow mail) {
        return mails.ofCaseAlready(caseId, mail.sender(), mail.messageId()) > 0;
    }

    /** How many mails of a sender were read since {@code since}. */
    int since(String sender, Instant since) {
        return mails.since(sender, since);
    }

    /** All bytes of a mail. */
    public Optional<byte[]> content(String id) {
        return Optional.ofNullable(mails.content(id)).map(MailMapper.Content::content);
    }

    public Optional<MailboxRow> mailbox(String intake) {
        return Optional.ofNullable(mails.mailbox(intake));
    }

    void insert(MailRow row, byte[] content) {
        mails.insert(row, content);
    }

    void became(MailRow row) {
        mails.became(row);
    }

    void stands(MailboxRow row) {
        mails.stands(row);
    }
}

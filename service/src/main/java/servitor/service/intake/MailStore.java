package servitor.service.intake;

import java.util.List;
import java.util.Optional;
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

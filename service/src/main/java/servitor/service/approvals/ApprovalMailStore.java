package servitor.service.approvals;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import servitor.service.approvals.ApprovalMail.State;

/** Mails about approvals. Whatever is written is written within one of the writer's transactions. */
@Component
class ApprovalMailStore {
    private final ApprovalMailMapper mails;

    ApprovalMailStore(ApprovalMailMapper mails) {
        this.mails = mails;
    }

    void insert(ApprovalMail mail) {
        mails.insert(mail);
    }

    Optional<ApprovalMail> find(String id) {
        return Optional.ofNullable(mails.find(id));
    }

    /** The mails that ask a person about approvals of a case, the newest first. */
    List<ApprovalMail> asking(String caseId, String person) {
        return mails.asking(caseId, person);
    }

    /** How many answers a person has been given about an approval since then. */
    int said(String approval, String person, Instant since) {
        return mails.said(approval, person, since);
    }

    /** Mails that stand so, the longest first. */
    List<ApprovalMail> in(State state) {
        return mails.in(state.word());
    }

    /** Whether a mail stands there now that stood as it says. */
    boolean move(ApprovalMail mail, State to, Instant now, String detail) {
        return mails.move(mail, to.word(), now, detail) == 1;
    }

    /** Keeps what a mail said. */
    void tell(String id, String text) {
        mails.tell(id, text);
    }

    /** What a mail said; empty where that wasn't kept. */
    String told(String id) {
        return Optional.ofNullable(mails.told(id)).orElse("");
    }

    /** Whether it could be answered by: nobody had. */
    boolean use(String id, Instant now) {
        return mails.use(id, now) == 1;
    }
}

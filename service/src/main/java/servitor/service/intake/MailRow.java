package servitor.service.intake;

import java.time.Instant;
import java.util.List;

/**
 * A mail that was read.
 *
 * @param id digest of the intake and of all its bytes: the same mail is known by it, however often it is read
 * @param sender whom it says it is from
 * @param caseId the case it is about; empty when it was left out
 * @param reason why it was left out; empty when it wasn't
 * @param messageId as its sender named it; empty where it isn't one line that could be answered
 * @param refs the mails it answers, with blanks between them, the newest last
 * @param digest of all its bytes alone, so that intakes of one mailbox know it from each other
 * @param became what it became of its case, as {@link Became} writes it
 */
public record MailRow(
        String id,
        String intake,
        Instant received,
        String sender,
        String subject,
        String proof,
        String caseId,
        String reason,
        String messageId,
        String refs,
        String became,
        String digest) {
    /** Whether it came from whoever the case is for, or asked for it. */
    public boolean isOfWhoAsked() {
        return List.of(Became.CASE.word(), Became.REPLY.word()).contains(became);
    }

    MailRow because(String why) {
        return new MailRow(id, intake, received, sender, subject, proof, "", why, messageId, refs, became, digest);
    }

    MailRow becoming(String aCase, Became what) {
        return new MailRow(
                id, intake, received, sender, subject, proof, aCase, "", messageId, refs, what.word(), digest);
    }

    MailRow proven(String how) {
        return new MailRow(id, intake, received, sender, subject, how, caseId, reason, messageId, refs, became, digest);
    }
}

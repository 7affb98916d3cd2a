package servitor.service.intake;

import java.time.Instant;

/**
 * A mail that was read.
 *
 * @param id digest of the intake and of all its bytes: the same mail is known by it, however often it is read
 * @param sender whom it says it is from
 * @param caseId the case it became; empty while it became none
 * @param reason why it became none; empty when it did
 */
public record MailRow(
        String id,
        String intake,
        Instant received,
        String sender,
        String subject,
        String proof,
        String caseId,
        String reason) {
    MailRow because(String why) {
        return new MailRow(id, intake, received, sender, subject, proof, "", why);
    }

    MailRow becoming(String aCase) {
        return new MailRow(id, intake, received, sender, subject, proof, aCase, "");
    }
}

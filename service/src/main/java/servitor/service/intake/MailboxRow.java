package servitor.service.intake;

import java.time.Instant;

/**
 * Where reading stands in the mailbox of an intake.
 *
 * @param place the mailbox it stands in; another one begins anew
 * @param validity what UIDs hold for (RFC 9051, section 2.3.1.1)
 * @param uid the last mail that was read
 * @param looked when it was last looked at
 * @param trouble why it couldn't be; empty when it could
 */
public record MailboxRow(String intake, String place, long validity, long uid, Instant looked, String trouble) {
    MailboxRow at(long newValidity, long newUid, Instant now) {
        return new MailboxRow(intake, place, newValidity, newUid, now, "");
    }

    MailboxRow failing(String why, Instant now) {
        return new MailboxRow(intake, place, validity, uid, now, why.length() > 1_000 ? why.substring(0, 1_000) : why);
    }
}

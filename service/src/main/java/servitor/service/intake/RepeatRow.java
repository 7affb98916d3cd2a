package servitor.service.intake;

import java.time.Instant;

/**
 * Messages of an intake about a case that said the same as one before, and were only counted.
 *
 * @param said a digest of what they say
 * @param since when the message came after which they were counted
 * @param latest when the last one came
 * @param times how many were counted
 */
public record RepeatRow(String caseId, String intake, String said, Instant since, Instant latest, long times) {
    /** One more of them. */
    RepeatRow again(Instant now) {
        return new RepeatRow(caseId, intake, said, since, now, times + 1);
    }
}

package servitor.service.intake;

import java.time.Instant;

/**
 * How far a followed file is read.
 *
 * @param path as the connection named it
 * @param fileKey what tells the file from another that takes its name
 * @param readTo how many bytes of it were taken in
 * @param readingTo until where is being taken in; the same when nothing is
 * @param trouble why it can't be read, or what of it couldn't; empty when nothing is wrong
 */
public record FollowedRow(
        String intake, String path, String fileKey, long readTo, long readingTo, Instant looked, String trouble) {
    /** The same, being read up to there. */
    FollowedRow reading(long to, Instant now) {
        return new FollowedRow(intake, path, fileKey, readTo, to, now, "");
    }

    /** The same, with all of that taken in. */
    FollowedRow read(Instant now, String nowTrouble) {
        return new FollowedRow(intake, path, fileKey, readingTo, readingTo, now, nowTrouble);
    }

    /** The same, with something wrong. */
    FollowedRow in(String nowTrouble, Instant now) {
        return new FollowedRow(intake, path, fileKey, readTo, readingTo, now, nowTrouble);
    }
}

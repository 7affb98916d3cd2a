package servitor.core.mail;

import java.time.DateTimeException;
import java.time.Instant;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What stands in a link for somebody who can't sign in: one thing, until when it may be seen by it, and a check value made with the
 * service's key. Nothing is kept of it.
 *
 * @param purpose what links of this sort are for; one for something else doesn't open
 */
public record SignedLink(ThreadMark.Signer signer, String purpose) {
    private static final Pattern LINK = Pattern.compile("([A-Za-z0-9-]{1,60})\\.([0-9]{1,12})\\.([A-Za-z0-9_-]{32})");
    private static final int LENGTH = 32;

    /** A link's secret part for {@code what}, good until {@code until}; the same for the same. */
    public String of(String what, Instant until) {
        String said = what + "." + until.getEpochSecond();
        return said + "." + signer.sign(text(said)).substring(0, LENGTH);
    }

    /** What a link is for; empty when it was altered, was made for something else, or has run out. */
    public Optional<String> open(String link, Instant now) {
        Matcher parts = LINK.matcher(link);
        if (!parts.matches()
                || !signer.hasSigned(text(parts.group(1) + "." + parts.group(2)), parts.group(3))
                || !isBefore(now, parts.group(2))) {
            return Optional.empty();
        }
        return Optional.of(parts.group(1));
    }

    private static boolean isBefore(Instant now, String until) {
        try {
            return now.isBefore(Instant.ofEpochSecond(Long.parseLong(until)));
        } catch (DateTimeException e) {
            return false;
        }
    }

    private String text(String said) {
        return "link " + purpose + " " + said;
    }
}

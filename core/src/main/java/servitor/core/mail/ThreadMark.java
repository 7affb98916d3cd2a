package servitor.core.mail;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What ties a mail to its case: a Message-ID that the service made itself, or a tag in the subject. Both carry a check value made with
 * the service's key, so that one that was guessed is no thread.
 */
public record ThreadMark(Signer signer) {
    private static final Pattern ID =
            Pattern.compile("([a-z0-9-]{1,60})\\.(C-[0-9]{1,12})\\.([A-Za-z0-9_-]{16})@[^\\s<>@]{1,255}");
    private static final Pattern TAG = Pattern.compile("\\[(C-[0-9]{1,12})\\.([A-Za-z0-9_-]{16})\\]");
    private static final int LENGTH = 16;

    /** Makes check values that nobody else can make. */
    public interface Signer {
        /** A signature of {@code text}, of at least 22 letters for addresses. */
        String sign(String text);

        /** Whether {@code beginning} begins a signature of {@code text} that a key made which is still good. */
        boolean hasSigned(String text, String beginning);
    }

    /** A Message-ID, without brackets, for a mail about {@code caseId}; the same {@code key} has the same. */
    public String messageId(String key, String caseId, String host) {
        return key + "." + caseId + "." + check("mail " + key + " " + caseId) + "@" + host;
    }

    /** A tag for the subject of mails about {@code caseId}. */
    public String tag(String caseId) {
        return "[" + caseId + "." + check("tag " + caseId) + "]";
    }

    private String check(String text) {
        return signer.sign(text).substring(0, LENGTH);
    }

    /** The case that a mail belongs to by what it answers, else by its subject; empty when nothing of that holds. */
    public Optional<String> caseOf(Mail mail) {
        return caseOf(mail.references()).or(() -> tagged(mail.subject()));
    }

    /** The case of the last of these Message-IDs that is a mark; the mail that was answered stands last. */
    public Optional<String> caseOf(List<String> messageIds) {
        List<String> newestFirst = new ArrayList<>(messageIds);
        Collections.reverse(newestFirst);
        return newestFirst.stream()
                .map(ID::matcher)
                .filter(Matcher::matches)
                .filter(id -> signer.hasSigned("mail " + id.group(1) + " " + id.group(2), id.group(3)))
                .map(id -> id.group(2))
                .findFirst();
    }

    /** What a mail of ours that this one answers was sent for: the key of the last Message-ID that is a mark. */
    public Optional<String> keyOf(Mail mail) {
        List<String> newestFirst = new ArrayList<>(mail.references());
        Collections.reverse(newestFirst);
        return newestFirst.stream()
                .map(ID::matcher)
                .filter(Matcher::matches)
                .filter(id -> signer.hasSigned("mail " + id.group(1) + " " + id.group(2), id.group(3)))
                .map(id -> id.group(1))
                .findFirst();
    }

    private Optional<String> tagged(String subject) {
        return TAG.matcher(subject)
                .results()
                .filter(tag -> signer.hasSigned("tag " + tag.group(1), tag.group(2)))
                .map(tag -> tag.group(1))
                .findFirst();
    }

    /** A subject without tags, whoever made them, and without what answers put before it. */
    public static String plain(String subject) {
        String plain = TAG.matcher(subject).replaceAll(" ");
        for (String before = ""; !before.equals(plain); ) {
            before = plain;
            plain = plain.replaceFirst("(?i)^\\s*(re|aw|sv|antw|fwd?|wg|tr|rv)\\s*(\\[\\d+])?:\\s*", "");
        }
        return plain.replaceAll("[\\p{Cntrl}\\s\\u2028\\u2029]+", " ").strip();
    }
}

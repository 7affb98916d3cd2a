package servitor.core.mail;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;

/** What mail servers send when a mail didn't arrive (RFC 3464): the mail, or its header, comes with them. */
public final class DeliveryReport {
    private static final Set<String> OF_MAIL = Set.of("message/rfc822", "text/rfc822-headers", "message/global");
    private static final int LONGEST = 100_000;
    private static final Pattern ID = Pattern.compile("(?im)^Message-ID:\\s*<([^<>\\s]{1,400})>");

    private DeliveryReport() {}

    /** The Message-IDs, without brackets, of the mails that came with this one. That it is a report isn't looked at. */
    public static List<String> about(Mail mail) {
        return mail.attachments().stream()
                .filter(one -> OF_MAIL.contains(one.type()))
                .map(one -> new String(
                        one.content(), 0, Math.min(LONGEST, one.content().length), StandardCharsets.ISO_8859_1))
                .flatMap(header -> ID.matcher(header).results())
                .map(found -> found.group(1))
                .distinct()
                .toList();
    }
}

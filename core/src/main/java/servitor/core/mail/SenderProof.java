package servitor.core.mail;

import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import servitor.core.handbook.Proof;

/**
 * How well it is known that a mail is from whom it says (RFC 8601). Only one thing counts: the results that our own mail server wrote
 * above everything else when it took the mail in, for the one domain the mail is from, where that domain vouches for its people.
 *
 * @param server the name our mail server signs its results with
 * @param domains those whose servers know who writes as whom; of another domain, a pass says only that the domain sent it
 */
public record SenderProof(String server, Set<String> domains) {
    private static final String RESULTS = "Authentication-Results";
    private static final String RECEIVED = "Received";
    private static final Pattern BY = Pattern.compile("(?i)(?:^|\\s)by\\s+([^\\s;()]+)");

    /** Nobody vouches for anything. */
    public static final SenderProof NONE = new SenderProof("", Set.of());

    public SenderProof {
        domains = Set.copyOf(domains);
    }

    /** {@link Proof#VERIFIED} or {@link Proof#CLAIMED}, and never anything that the mail says of itself. */
    public Proof of(Mail mail) {
        if (server.isEmpty() || mail.from().size() != 1) {
            return Proof.CLAIMED;
        }
        String domain = mail.from().get(0).domain();
        boolean vouched = domains.stream().anyMatch(one -> one.equalsIgnoreCase(domain));
        return vouched && onlyOurs(mail.headers()) && passed(top(mail), domain) ? Proof.VERIFIED : Proof.CLAIMED;
    }

    private static String top(Mail mail) {
        return mail.header(RESULTS).map(SenderProof::plain).orElse("");
    }

    /** One header of results by our server, above the line by which it received the mail, and no second one of its name. */
    private boolean onlyOurs(List<Mail.Header> headers) {
        int results = -1;
        int received = -1;
        int ours = 0;
        for (int i = 0; i < headers.size(); i++) {
            Mail.Header header = headers.get(i);
            if (header.is(RESULTS)) {
                results = results < 0 ? i : results;
                ours += isOurs(plain(header.value())) ? 1 : 0;
            } else if (header.is(RECEIVED) && received < 0) {
                received = i;
            }
        }
        return ours == 1
                && results >= 0
                && results < received
                && isOurs(plain(headers.get(results).value()))
                && receivedByUs(plain(headers.get(received).value()));
    }

    private boolean isOurs(String results) {
        String id = results.split(";", 2)[0].strip().split("\\s", 2)[0];
        return id.equalsIgnoreCase(server);
    }

    private boolean receivedByUs(String received) {
        Matcher by = BY.matcher(received);
        return by.find() && by.group(1).equalsIgnoreCase(server);
    }

    /** By alignment with the From domain (RFC 7489), or by a signature of that very domain (RFC 6376). */
    private static boolean passed(String results, String domain) {
        String[] methods = results.split(";");
        for (int i = 1; i < methods.length; i++) {
            List<String> parts =
                    List.of(methods[i].strip().toLowerCase(Locale.ROOT).split("\\s+"));
            boolean aligned = parts.get(0).equals("dmarc=pass") && parts.contains("header.from=" + domain);
            boolean signed = parts.get(0).equals("dkim=pass") && parts.contains("header.d=" + domain);
            if (aligned || signed) {
                return true;
            }
        }
        return false;
    }

    /**
     * On one line, without comments and with nothing of quoted texts (RFC 5322, sections 3.2.2 and 3.2.4): both may hold what whoever
     * sent the mail has chosen, such as the words of another result.
     */
    private static String plain(String value) {
        StringBuilder plain = new StringBuilder();
        int comments = 0;
        boolean quoted = false;
        for (int i = 0; i < value.length(); i++) {
            char c = value.charAt(i);
            if (c == '\\' && (quoted || comments > 0)) {
                i++;
            } else if (c == '"' && comments == 0) {
                quoted = !quoted;
                plain.append('_');
            } else if (!quoted && c == '(') {
                comments++;
            } else if (!quoted && c == ')' && comments > 0) {
                comments--;
                plain.append(' ');
            } else if (!quoted && comments == 0) {
                plain.append(c);
            }
        }
        return plain.toString().replaceAll("\\s+", " ").strip();
    }
}

package servitor.connectors.mail;

import java.net.URI;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import servitor.core.mail.SenderProof;

/**
 * Where a mail server is, in {@code imaps://host:993?results-by=NAME&vouches-for=DOMAIN,DOMAIN} ({@code imap} without TLS).
 *
 * @param proof whose word about senders counts, and for which domains
 */
public record MailAddress(boolean tls, String host, int port, SenderProof proof) {
    public static final List<String> SCHEMES = List.of("imap", "imaps");
    private static final String NAME = "[A-Za-z0-9](?:[A-Za-z0-9.-]{0,250}[A-Za-z0-9])?";
    private static final List<String> SETTINGS = List.of("results-by", "vouches-for");
    private static final int PLAIN = 143;
    private static final int SECURE = 993;

    /** Throws {@link IllegalArgumentException} with a sentence that says what is wrong. */
    public static MailAddress of(URI address) {
        String host = address.getHost();
        if (!SCHEMES.contains(String.valueOf(address.getScheme()))
                || host == null
                || address.getUserInfo() != null
                || !String.valueOf(address.getRawPath()).matches("/?")) {
            throw new IllegalArgumentException("‘" + address
                    + "’ must name a mail server, as in imaps://mail.example:993; folders are named by intakes.");
        }
        Map<String, String> settings = settings(address, SETTINGS);
        Set<String> domains = new LinkedHashSet<>();
        Arrays.stream(settings.getOrDefault("vouches-for", "").split(","))
                .filter(domain -> !domain.isBlank())
                .forEach(domain -> domains.add(name("vouches-for", domain)));
        String server = settings.containsKey("results-by") ? name("results-by", settings.get("results-by")) : "";
        if (server.isEmpty() != domains.isEmpty()) {
            throw new IllegalArgumentException(
                    "‘results-by’ and ‘vouches-for’ go together: the server whose results about senders "
                            + "count, and the domains that know who writes as whom.");
        }
        boolean tls = address.getScheme().equals("imaps");
        int port = address.getPort() > 0 ? address.getPort() : tls ? SECURE : PLAIN;
        return new MailAddress(tls, host, port, new SenderProof(server, domains));
    }

    /** The settings behind an address, which must be some of {@code known}. */
    static Map<String, String> settings(URI address, List<String> known) {
        Map<String, String> settings = new LinkedHashMap<>();
        String query = address.getRawQuery();
        for (String part : query == null || query.isEmpty() ? new String[0] : query.split("&")) {
            String[] pair = part.split("=", 2);
            if (pair.length < 2 || !known.contains(pair[0])) {
                throw new IllegalArgumentException("‘" + part + "’ is no setting of such an address; there are "
                        + String.join(", ", known) + ", each with ‘=’.");
            }
            settings.put(pair[0], URLDecoder.decode(pair[1], StandardCharsets.UTF_8));
        }
        return settings;
    }

    private static String name(String setting, String given) {
        String name = given.strip().toLowerCase(Locale.ROOT);
        if (!name.matches(NAME)) {
            throw new IllegalArgumentException(
                    "‘" + given + "’ under ‘" + setting + "’ can't be the name of a host or domain.");
        }
        return name;
    }
}

package servitor.service.connections;

import java.net.URI;
import java.net.URISyntaxException;
import java.util.List;
import java.util.regex.Pattern;
import servitor.connectors.Connectors;
import servitor.connectors.access.ProgramAddress;
import servitor.connectors.inbound.HookAddress;
import servitor.connectors.mail.MailAddress;
import servitor.connectors.mail.SubmissionAddress;

/** Addresses of outside systems, checked when they are set. */
final class Address {
    private static final List<String> WITH_HOST = List.of("http", "https", "ldap", "ldaps", "ldap+tls", "tcp", "ssh");
    private static final Pattern SECRET =
            Pattern.compile("(?i)secret|token|passw|pwd|credential|api_?key|private_?key|access_?key");
    private static final String HOST_KEY = "host-key=SHA256:[A-Za-z0-9+/]{43}";

    private Address() {}

    /** An HTTP address; throws {@link IllegalArgumentException} when it can't be one. */
    static String http(String url) {
        return checked(url, List.of("http", "https"), "an http or https address");
    }

    /** An address of any protocol that connectors speak; throws {@link IllegalArgumentException} when it can't be one. */
    static String any(String url) {
        if (url.startsWith("exec:")) {
            ProgramAddress.of(url).variables().keySet().forEach(Address::notSecret);
            return URI.create(url).toString();
        }
        if (url.startsWith("imap")) {
            MailAddress.of(URI.create(url));
            return url;
        }
        if (url.startsWith(HookAddress.SCHEME + ":")) {
            HookAddress.of(URI.create(url));
            return url;
        }
        if (url.startsWith("smtp")) {
            SubmissionAddress.of(URI.create(url));
            return url;
        }
        if (url.startsWith("jdbc:")) {
            // files, scripts and settings of a driver could do anything; a name and a password belong to the sign-in
            if (!Connectors.asksDatabase(url)) {
                throw new IllegalArgumentException("‘" + url
                        + "’ must be the server of a database that is declared, without settings of the driver, as in "
                        + "jdbc:h2:tcp://host:9092/name.");
            }
            return url;
        }
        String checked = checked(
                url,
                WITH_HOST,
                "an address that begins with http, https, ldap, ldaps, ldap+tls, imap, imaps, smtp, smtps, smtp+tls, tcp, ssh, jdbc, exec, hook or file");
        if (url.startsWith("ssh:")
                && !String.valueOf(URI.create(checked).getRawQuery()).matches(HOST_KEY)) {
            throw new IllegalArgumentException("‘" + url
                    + "’ must name the host's key, as in ssh://host:22?host-key=SHA256:… (43 signs). The host's admin tells it:"
                    + " ssh-keygen -lf with the host's public key file.");
        }
        return checked;
    }

    /** Addresses are shown to engineers: what sounds like a secret isn't taken into one. */
    private static void notSecret(String variable) {
        if (SECRET.matcher(variable).find()) {
            throw new IllegalArgumentException("‘" + variable
                    + "’ sounds like a secret, and addresses are shown: give it as the connection's own, with --sign-in api-key"
                    + " --header " + variable + ".");
        }
    }

    private static String checked(String url, List<String> schemes, String wanted) {
        try {
            URI uri = new URI(url);
            boolean port = !"tcp".equals(uri.getScheme()) || uri.getPort() > 0;
            if (!schemes.contains(String.valueOf(uri.getScheme()))
                    || uri.getHost() == null
                    || uri.getUserInfo() != null
                    || !port) {
                throw new IllegalArgumentException(
                        "‘" + url + "’ must be " + wanted + " with a host, and without a name or password in it.");
            }
            return uri.toString();
        } catch (URISyntaxException e) {
            throw new IllegalArgumentException("‘" + url + "’ is not an address: " + e.getReason() + ".", e);
        }
    }
}

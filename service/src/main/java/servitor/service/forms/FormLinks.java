package servitor.service.forms;

import java.net.InetAddress;
import java.net.UnknownHostException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HexFormat;
import java.util.Optional;
import org.springframework.stereotype.Component;
import servitor.core.mail.SignedLink;
import servitor.core.mail.ThreadMark;
import servitor.service.ServitorSettings;
import servitor.service.cases.CaseRow;

/**
 * Links for people who can't sign in. Their secret part stands behind a {@code #}, so that it reaches no server's log, and no program that
 * merely fetches an address does anything by it.
 */
@Component
public class FormLinks {
    /** How long something waits to be confirmed. */
    static final Duration CONFIRM_WITHIN = Duration.ofDays(2);
    /** How long a case can be followed by a link. */
    private static final Duration FOLLOW_FOR = Duration.ofDays(60);

    private final ThreadMark.Signer signer;
    private final SignedLink forms;
    private final SignedLink cases;
    private final ServitorSettings settings;
    private final Clock clock;

    FormLinks(ThreadMark marks, ServitorSettings settings, Clock clock) {
        this.signer = marks.signer();
        this.forms = new SignedLink(marks.signer(), "form");
        this.cases = new SignedLink(marks.signer(), "case");
        this.settings = settings;
        this.clock = clock;
    }

    /** Where somebody confirms what they asked. */
    public String confirming(FormRow row) {
        return at("confirm", forms.of(row.id(), row.received().plus(CONFIRM_WITHIN)));
    }

    /** Where somebody follows their case. */
    public String following(CaseRow row) {
        Instant until = clock.instant().plus(FOLLOW_FOR);
        return at("case", cases.of(row.id(), until));
    }

    /** The form that a link's secret part confirms. */
    Optional<String> form(String link) {
        return forms.open(link, clock.instant());
    }

    /** The case that a link's secret part shows. */
    Optional<String> caseOf(String link) {
        return cases.open(link, clock.instant());
    }

    /** What tells where a request comes from from elsewhere, without saying it. */
    String origin(String address) {
        return signer.sign("origin " + network(address)).substring(0, 32);
    }

    /** An address as a number; of the sixth version of the protocol the half of it that one customer has all of (RFC 6177). */
    private static String network(String address) {
        if (!address.matches("[0-9A-Fa-f:.]+")) {
            return address;
        }
        try {
            byte[] bytes = InetAddress.getByName(address).getAddress();
            return HexFormat.of().formatHex(bytes, 0, bytes.length == 16 ? 8 : bytes.length);
        } catch (UnknownHostException e) {
            return address;
        }
    }

    private String at(String page, String secret) {
        return settings.address().toString().replaceAll("/+$", "") + "/form/" + page + "#" + secret;
    }
}

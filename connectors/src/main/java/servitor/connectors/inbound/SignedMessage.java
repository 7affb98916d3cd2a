package servitor.connectors.inbound;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Base64;
import java.util.HexFormat;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.core.engine.Reply;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;

/**
 * A message as a system posted it, before anything of it is believed.
 *
 * @param header the value of a header by its name, or null
 */
public record SignedMessage(Function<String, @Nullable String> header, byte[] body) {
    /** How far the time that a message says may be from ours, either way (Standard Webhooks 1.0). */
    public static final Duration WINDOW = Duration.ofMinutes(5);

    private static final String NO_SECRET = "no secret is set to check it with";
    private static final String VERSION = "v1,";
    private static final int LONGEST_ID = 200;

    /** Whether messages of a system can be checked; nothing is sent to it, as it is the one that sends. */
    public static Reply test(Access from) {
        return from.credentials() instanceof Credentials.Signing || from.credentials() instanceof Credentials.Hmac
                ? new Reply.Answered(200, Json.object().put("messages", "are checked with its secret"))
                : new Reply.Refused(Problem.REFUSED, NO_SECRET);
    }

    /** Why it isn't from the system that {@code from} knows, in words that hold nothing of it; empty when it is. */
    public Optional<String> fault(Access from, Instant now) {
        if (from.credentials() instanceof Credentials.Signing signing) {
            return standard(signing, now);
        } else if (from.credentials() instanceof Credentials.Hmac hmac) {
            return inHeader(hmac, HookAddress.of(from.address()).algorithm());
        }
        return Optional.of(NO_SECRET);
    }

    /** Standard Webhooks 1.0: several signatures may stand beside each other while a secret is changed. */
    private Optional<String> standard(Credentials.Signing signing, Instant now) {
        String id = text("webhook-id");
        String seconds = text("webhook-timestamp");
        if (id.isEmpty() || id.length() > LONGEST_ID || !seconds.matches("[0-9]{1,12}")) {
            return Optional.of("webhook-id or webhook-timestamp is missing or no such thing");
        }
        byte[] wanted = signing.sign(id, seconds, body).getBytes(StandardCharsets.US_ASCII);
        boolean signed = Arrays.stream(text("webhook-signature").split(" "))
                .filter(one -> one.startsWith(VERSION))
                .map(one -> one.substring(VERSION.length()).getBytes(StandardCharsets.US_ASCII))
                .anyMatch(given -> MessageDigest.isEqual(wanted, given));
        if (!signed) {
            return Optional.of("the signature doesn't match");
        }
        Duration off = Duration.between(Instant.ofEpochSecond(Long.parseLong(seconds)), now)
                .abs();
        return off.compareTo(WINDOW) > 0
                ? Optional.of("its time is more than " + WINDOW.toMinutes() + " minutes from ours")
                : Optional.empty();
    }

    /** In hexadecimal or base 64, behind the algorithm's name and an equals sign or without. */
    private Optional<String> inHeader(Credentials.Hmac hmac, String algorithm) {
        byte[] wanted = hmac.sign(algorithm, body);
        String given = text(hmac.header());
        if (given.startsWith(algorithm + "=")) {
            given = given.substring(algorithm.length() + 1);
        }
        byte[] hex = HexFormat.of().formatHex(wanted).getBytes(StandardCharsets.US_ASCII);
        byte[] base64 = Base64.getEncoder().encode(wanted);
        byte[] said = given.getBytes(StandardCharsets.UTF_8);
        boolean signed =
                MessageDigest.isEqual(hex, given.toLowerCase(Locale.ROOT).getBytes(StandardCharsets.UTF_8))
                        || MessageDigest.isEqual(base64, said);
        return signed ? Optional.empty() : Optional.of("the signature doesn't match");
    }

    private String text(String name) {
        String value = header.apply(name);
        return value == null ? "" : value.strip();
    }
}

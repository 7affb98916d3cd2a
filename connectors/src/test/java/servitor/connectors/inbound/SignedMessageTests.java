package servitor.connectors.inbound;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Trust;
import servitor.core.engine.Reply;

class SignedMessageTests {
    private static final Instant NOW = Instant.ofEpochSecond(1_614_265_330L);
    private static final byte[] BODY = "{\"test\": 2432232314}".getBytes(StandardCharsets.UTF_8);
    private static final Credentials SIGNING = new Credentials.Signing("whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw");

    private static Access from(String address, Credentials credentials) {
        return new Access(URI.create(address), credentials, false, new Trust(""));
    }

    private static Optional<String> fault(Credentials credentials, Map<String, String> headers, byte[] body) {
        return new SignedMessage(headers::get, body).fault(from("hook:signed", credentials), NOW);
    }

    private static Map<String, String> standard() {
        return new HashMap<>(Map.of(
                "webhook-id", "msg_p5jXN8AQM9LWM0D4loKWxJek",
                "webhook-timestamp", "1614265330",
                "webhook-signature", "v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE="));
    }

    @Test
    void theExampleOfTheConventionIsBelieved() {
        assertThat(fault(SIGNING, standard(), BODY)).isEmpty();
        Map<String, String> several = standard();
        several.put("webhook-signature", "v1a,abc v1,AAAA " + several.get("webhook-signature"));
        assertThat(fault(SIGNING, several, BODY))
                .as("while a secret is changed")
                .isEmpty();
    }

    @Test
    void whatIsChangedMissingOrSignedWithAnotherSecretIsNot() {
        assertThat(fault(SIGNING, standard(), "{}".getBytes(StandardCharsets.UTF_8)))
                .isPresent();
        assertThat(fault(new Credentials.Signing("whsec_AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA"), standard(), BODY))
                .isPresent();
        for (String header : standard().keySet()) {
            Map<String, String> less = standard();
            less.remove(header);
            assertThat(fault(SIGNING, less, BODY)).as("without " + header).isPresent();
        }
        Map<String, String> other = standard();
        other.put("webhook-id", "msg_another");
        assertThat(fault(SIGNING, other, BODY)).isPresent();
        assertThat(fault(new Credentials.None(), standard(), BODY)).isPresent();
        assertThat(fault(new Credentials.Bearer("MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw"), standard(), BODY))
                .isPresent();
    }

    @Test
    void aConnectionIsTriedByItsSecretAlone() {
        assertThat(SignedMessage.test(from("hook:signed", SIGNING))).isInstanceOf(Reply.Answered.class);
        assertThat(SignedMessage.test(from("hook:signed", new Credentials.None())))
                .isInstanceOf(Reply.Refused.class);
    }

    @ParameterizedTest
    @CsvSource({"-301, true", "-300, false", "0, false", "300, false", "301, true"})
    void aClockMayBeFiveMinutesOff(long seconds, boolean refused) {
        assertThat(new SignedMessage(standard()::get, BODY)
                        .fault(from("hook:signed", SIGNING), NOW.plus(Duration.ofSeconds(seconds)))
                        .isPresent())
                .isEqualTo(refused);
    }

    @Test
    void anHmacThatIsNotThatOfTheBodyIsRefused() {
        Credentials.Hmac hmac = new Credentials.Hmac("X-Sign", "sixteen-letters-at-least");
        assertThat(fault(hmac, Map.of("X-Sign", "f7b2".repeat(16)), BODY)).isPresent();
        assertThat(fault(hmac, Map.of("X-Sign", "sha256="), BODY)).isPresent();
        assertThat(fault(hmac, Map.of(), BODY)).isPresent();
    }

    @Test
    void anHmacStandsInHexadecimalOrBase64WithItsAlgorithmOrWithout() {
        Credentials.Hmac hmac = new Credentials.Hmac("X-Sign", "Jefe-Jefe-Jefe-Jefe");
        byte[] signed = hmac.sign("sha256", BODY);
        String hex = HexFormat.of().formatHex(signed);
        String base64 = Base64.getEncoder().encodeToString(signed);
        for (String value : new String[] {hex, "sha256=" + hex, hex.toUpperCase(Locale.ROOT), base64}) {
            assertThat(fault(hmac, Map.of("X-Sign", value), BODY)).as(value).isEmpty();
        }
        assertThat(new SignedMessage(Map.of("X-Sign", hex)::get, BODY)
                        .fault(from("hook:signed?algorithm=sha512", hmac), NOW))
                .as("by another algorithm")
                .isPresent();
    }

    /** RFC 4231, test case 1. */
    @Test
    void theHmacIsThatOfTheStandard() {
        assertThat(HexFormat.of()
                        .formatHex(new Credentials.Hmac("X", "\u000b".repeat(20))
                                .sign("sha256", "Hi There".getBytes(StandardCharsets.UTF_8))))
                .isEqualTo("b0344c61d8db38535ca8afceaf0bf12b881dc200c9833da726e9376c2e32cff7");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "hook:",
                "hook:open",
                "hook:signed?vouches=maybe",
                "hook:signed?algorithm=sha1",
                "hook:signed?algorithm=md5",
                "hook:signed?secret=abc",
                "hook:signed?vouches=yes&vouches=no",
                "hook:signed?vouches",
                "http://signed"
            })
    void anAddressThatSaysSomethingElseIsRefused(String address) {
        assertThatIllegalArgumentException().isThrownBy(() -> HookAddress.of(URI.create(address)));
    }

    @Test
    void anAddressSaysWhoseWordIsBelieved() {
        assertThat(HookAddress.of(URI.create("hook:signed"))).isEqualTo(new HookAddress("sha256", false));
        assertThat(HookAddress.of(URI.create("hook:signed?vouches=yes&algorithm=sha512")))
                .isEqualTo(new HookAddress("sha512", true));
    }
}

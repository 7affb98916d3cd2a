package servitor.core.mail;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.json.Json;

/** Links for people who can't sign in. */
class SignedLinkTests {
    private static final Instant NOW = Instant.parse("2026-06-01T10:00:00Z");
    private static final Instant UNTIL = NOW.plus(Duration.ofDays(2));
    private static final ThreadMark.Signer SIGNER = signer("one key");
    private static final SignedLink CASES = new SignedLink(SIGNER, "case");

    private static ThreadMark.Signer signer(String key) {
        return new ThreadMark.Signer() {
            @Override
            public String sign(String text) {
                return Json.digest(key + text);
            }

            @Override
            public boolean hasSigned(String text, String beginning) {
                return sign(text).startsWith(beginning);
            }
        };
    }

    @Test
    void aLinkOpensWhatItWasMadeForUntilItHasRunOut() {
        String link = CASES.of("C-12", UNTIL);
        assertThat(CASES.open(link, NOW)).contains("C-12");
        assertThat(CASES.open(link, UNTIL.minusSeconds(1))).contains("C-12");
        assertThat(CASES.open(link, UNTIL)).isEmpty();
        assertThat(new SignedLink(SIGNER, "form").open(link, NOW))
                .as("another purpose")
                .isEmpty();
        assertThat(new SignedLink(signer("another key"), "case").open(link, NOW))
                .isEmpty();
    }

    @Test
    void nothingOfItCanBeChanged() {
        String link = CASES.of("C-12", UNTIL);
        for (int i = 0; i < link.length(); i++) {
            char other = link.charAt(i) == '1' ? '2' : '1';
            String altered = link.substring(0, i) + other + link.substring(i + 1);
            assertThat(CASES.open(altered, NOW)).as(altered).isEmpty();
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"", ".", "C-12", "C-12.1", "C-12.999999999999999999.x", "../..1.x", "C-12.1.\u0000"})
    void whatIsNoLinkOpensNothing(String text) {
        assertThat(CASES.open(text, NOW)).isEmpty();
    }
}

package servitor.core.mail;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class LetterTests {
    private static Letter letter(String subject, String name, String reference, String label, String signature) {
        return new Letter(
                "k@x",
                new Mail.Address(name, "desk@x"),
                List.of(new Mail.Address("Ines", "ines@x")),
                subject,
                label,
                " The boat is back. \n",
                signature,
                "en",
                List.of(reference),
                Instant.EPOCH);
    }

    @Test
    void whatIsWrittenStandsBetweenLabelAndSignature() {
        assertThat(letter("A", "Desk", "r@x", "By a machine", "The desk").plain())
                .isEqualTo("[By a machine]\n\nThe boat is back.\n\n-- \nThe desk\n");
        assertThat(letter("A", "Desk", "r@x", "", "").plain()).isEqualTo("The boat is back.\n");
        assertThat(letter("x".repeat(900), "Desk", "r@x", "", "").subject()).hasSize(300);
    }

    @ParameterizedTest
    @ValueSource(strings = {"a\r\nBcc: b@x", "a\nb", "a\u2029b", "a\u0000b"})
    void noPartOfAHeaderBreaksIt(String text) {
        assertThatIllegalArgumentException().isThrownBy(() -> letter(text, "Desk", "r@x", "", ""));
        assertThatIllegalArgumentException().isThrownBy(() -> letter("A", text, "r@x", "", ""));
        assertThatIllegalArgumentException().isThrownBy(() -> letter("A", "Desk", text, "", ""));
    }
}

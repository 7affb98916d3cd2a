package servitor.service.people;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class PasswordsTests {
    private static final List<String> ABOUT = List.of("maren", "Maren Holt", "maren@skerryline.example");

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "short",
                "password123",
                "1234567890",
                "qwertyuiop",
                "aaaaaaaaaaaaaaaa",
                "maren@skerryline.example",
                "MarenHolt1",
                "letmein2026"
            })
    void whatIsSoonGuessedIsRefused(String password) {
        assertThat(Passwords.fault(password, ABOUT)).isPresent();
    }

    @Test
    void whatIsRefusedIsNeverSaidBack() {
        assertThat(Passwords.fault("password123", ABOUT).orElseThrow()).doesNotContain("password123");
    }

    @ParameterizedTest
    @ValueSource(strings = {"copper lantern, seven gulls", "pX9$kf02-Qzw!", "skerry-demo"})
    void whatTakesLongToGuessIsTaken(String password) {
        assertThat(Passwords.fault(password, ABOUT)).isEmpty();
    }

    @Test
    void whatIsMuchTooLongIsRefused() {
        assertThat(Passwords.fault("copper lantern ".repeat(40), ABOUT)).isPresent();
    }
}

package servitor.core.json;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Collections;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What comes from outside is bounded where it enters, well within what is written and read back. */
class OutsideTests {
    private static String nested(int depth) {
        return "[".repeat(depth) + "]".repeat(depth);
    }

    @Test
    void whatIsNestedTooDeeplyIsRefusedAndTheDeepestThatIsTakenCanBeReadBackWhereverItStands() throws Exception {
        assertThatThrownBy(() -> Outside.read(nested(Outside.DEEPEST + 1))).hasMessageContaining("nested");
        assertThatThrownBy(() -> Outside.read(nested(60))).isInstanceOf(MalformedJson.class);
        assertThatThrownBy(() -> Outside.read(nested(100_000))).isInstanceOf(MalformedJson.class);

        var taken = Json.of(Outside.read(nested(Outside.DEEPEST)));
        for (int i = 0; i < 100; i++) { // deeper than any state or sheet puts it
            taken = Json.object().set("inside", taken);
        }
        assertThat(Json.read(Json.write(taken))).isEqualTo(taken);
        assertThat(Json.digest(taken)).hasSize(64);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "1e-999999999",
                "1e999999999",
                "1e-401",
                "0.0000000000000000000000000000000000000000000000000000000000000001234567890123456789012345678901234567890123",
                "123456789012345678901234567890123456789012345678901234567890"
            })
    void numbersBeyondAllBoundsAreRefused(String number) {
        assertThatThrownBy(() -> Outside.read("{\"amount\":" + number + "}")).isInstanceOf(MalformedJson.class);
    }

    @ParameterizedTest
    @ValueSource(strings = {"0", "-84.50", "0.30000000000000004", "1.7976931348623157E308", "9007199254740993"})
    void numbersThatSystemsReallySendAreTaken(String number) throws Exception {
        assertThat(Outside.read("{\"amount\":" + number + "}").path("amount").decimalValue())
                .isEqualByComparingTo(number);
    }

    @Test
    void sizeNamesAndCountAreBounded() {
        assertThatThrownBy(() -> Outside.read("\"" + "x".repeat(Outside.LONGEST) + "\""))
                .hasMessageContaining("longer");
        assertThatThrownBy(() -> Outside.read("{\"" + "x".repeat(201) + "\":1}"))
                .hasMessageContaining("name");
        assertThat(Outside.fault(Json.of(Collections.nCopies(60_000, 1)))).isPresent();
        assertThat(Outside.fault(Json.of("\u0001".repeat(60_000))))
                .as("a control sign takes six characters once it is written")
                .isPresent();
    }
}

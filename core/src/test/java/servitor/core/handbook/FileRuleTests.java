package servitor.core.handbook;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Set;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What may be attached. */
class FileRuleTests {
    private static final FileRule RULE = new FileRule(2, 3, Set.of("application/pdf", "image/*"));

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "application/pdf    | 3000000 | 1 | ''",
                "image/png          | 1       | 0 | ''",
                "IMAGE/PNG          | 1       | 0 | ''",
                "application/pdf    | 3000001 | 1 | content",
                "application/pdf    | 0       | 1 | content",
                "application/pdf    | 10      | 2 | number",
                "text/html          | 10      | 0 | type",
                "imagery/png        | 10      | 0 | type",
                "application/pdfx   | 10      | 0 | type",
            })
    void eachFaultIsSaid(String type, int size, int there, String fault) {
        assertThat(RULE.faults(type, size, there).stream().map(said -> said.substring(0, said.indexOf(':'))))
                .containsExactlyElementsOf(fault.isEmpty() ? Set.of() : Set.of(fault));
    }
}

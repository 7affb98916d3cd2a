package servitor.core.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import servitor.core.json.Json;

/** What tells about people is made up, the same for the same; words that pages decide by stay. */
class VeilTests {
    private final Veil veil = new Veil("when: joiner.title.contains(\"clerk\") && state == \"cancelled\"");

    @Test
    void theSameIsTheSameAndKeepsItsForm() {
        assertThat(veil.name("Ines Halloran"))
                .isEqualTo(veil.word("Ines Halloran"))
                .isNotEqualTo("Ines Halloran");
        assertThat(veil.word("Ines")).isEqualTo(veil.name("Ines Halloran").split(" ")[0]);
        assertThat(veil.word("P-1042"))
                .isEqualTo(veil.word("P-1042"))
                .matches("P-\\d{4}")
                .isNotEqualTo("P-1042");
        assertThat(veil.word("ines@line.example")).endsWith("@mail.example");
        assertThat(veil.word("2026-05-20")).isEqualTo("2026-05-20");
    }

    @Test
    void ofSeveralWordsOnlyThoseOfTheHandbookStay() {
        assertThat(veil.word("cancelled")).isEqualTo("cancelled");
        assertThat(veil.word("ticket clerk")).isEqualTo("······ clerk");
        assertThat(veil.word("ill since May")).isEqualTo("··· ····· ···");
    }

    @Test
    void whatWasFilledInByHandIsFreeText() {
        assertThat(veil.fields(Json.object().put("thing", "my late mother's ring"))
                        .path("thing")
                        .asString())
                .hasSize("my late mother's ring".length())
                .doesNotContain("mother");
    }
}

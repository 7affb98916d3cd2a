package servitor.connectors.operation;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.handbook.HttpParameter;
import servitor.core.handbook.HttpParameter.In;
import servitor.core.handbook.HttpParameter.Style;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/** The examples of OpenAPI 3.1.1, section 4.8.12.6: {@code color} as a text, a list and an object. */
class WrittenTests {
    private static final String TEXT = "\"blue\"";
    private static final String LIST = "[\"blue\",\"black\",\"brown\"]";
    private static final String OBJECT = "{\"R\":100,\"G\":200,\"B\":150}";

    private static HttpParameter color(In in, Style style, boolean explode) {
        return new HttpParameter("color", "color", in, style, explode);
    }

    private static JsonNode value(String of) {
        return Json.read(
                switch (of) {
                    case "text" -> TEXT;
                    case "list" -> LIST;
                    default -> OBJECT;
                },
                JsonNode.class);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ' ',
            value = {
                "FORM true text color=blue",
                "FORM false text color=blue",
                "FORM true list color=blue&color=black&color=brown",
                "FORM false list color=blue,black,brown",
                "FORM true object R=100&G=200&B=150",
                "FORM false object color=R,100,G,200,B,150",
                "SPACE_DELIMITED false list color=blue%20black%20brown",
                "SPACE_DELIMITED false object color=R%20100%20G%20200%20B%20150",
                "PIPE_DELIMITED false list color=blue%7Cblack%7Cbrown",
                "PIPE_DELIMITED false object color=R%7C100%7CG%7C200%7CB%7C150",
                "DEEP_OBJECT true object color%5BR%5D=100&color%5BG%5D=200&color%5BB%5D=150",
                "JSON false object color=%7B%22R%22%3A100%2C%22G%22%3A200%2C%22B%22%3A150%7D"
            })
    void aQuery(Style style, boolean explode, String of, String written) {
        assertThat(Written.joined(Written.inQuery(color(In.QUERY, style, explode), value(of))))
                .isEqualTo(written);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ' ',
            value = {
                "SIMPLE false text blue",
                "SIMPLE false list blue,black,brown",
                "SIMPLE false object R,100,G,200,B,150",
                "SIMPLE true object R=100,G=200,B=150",
                "LABEL false text .blue",
                "LABEL true list .blue.black.brown",
                "LABEL false list .blue,black,brown",
                "LABEL true object .R=100.G=200.B=150",
                "LABEL false object .R,100,G,200,B,150",
                "MATRIX false text ;color=blue",
                "MATRIX false list ;color=blue,black,brown",
                "MATRIX true list ;color=blue;color=black;color=brown",
                "MATRIX false object ;color=R,100,G,200,B,150",
                "MATRIX true object ;R=100;G=200;B=150"
            })
    void aPath(Style style, boolean explode, String of, String written) {
        assertThat(Written.inPath(color(In.PATH, style, explode), value(of))).isEqualTo(written);
    }

    @Test
    void whatPartsItemsIsEncodedWithinThem() {
        JsonNode list = Json.read("[\"a,b\",\"c&d=e\",\"f g\",\"h/..\"]", JsonNode.class);
        assertThat(Written.joined(Written.inQuery(color(In.QUERY, Style.FORM, false), list)))
                .isEqualTo("color=a%2Cb,c%26d%3De,f%20g,h%2F..");
        assertThat(Written.inPath(color(In.PATH, Style.SIMPLE, false), list))
                .isEqualTo("a%2Cb,c%26d%3De,f%20g,h%2F%2E%2E");
    }

    @Test
    void aHeader() {
        assertThat(Written.inHeader(color(In.HEADER, Style.SIMPLE, false), value("list")))
                .isEqualTo("blue,black,brown");
        assertThat(Written.inHeader(color(In.HEADER, Style.SIMPLE, true), value("object")))
                .isEqualTo("R=100,G=200,B=150");
    }

    @Test
    void whatHasNoFormInAStyleIsSaid() {
        JsonNode nested = Json.read("{\"a\":{\"b\":1}}", JsonNode.class);
        assertThatThrownBy(() -> Written.inQuery(color(In.QUERY, Style.FORM, true), nested))
                .hasMessageContaining("‘color’ holds values within values");
        assertThatThrownBy(() -> Written.inQuery(color(In.QUERY, Style.DEEP_OBJECT, true), value("list")))
                .hasMessageContaining("deep-object");
    }
}

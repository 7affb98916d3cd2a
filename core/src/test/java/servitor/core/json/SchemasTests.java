package servitor.core.json;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

class SchemasTests {
    @ParameterizedTest
    @ValueSource(
            strings = {
                "{\"type\":\"object\",\"properties\":{\"a\":{\"$ref\":\"#/nowhere\"}}}",
                "{\"$ref\":\"https://schemas.example/booking.json\"}",
                "{\"$ref\":\"file:///etc/passwd\"}",
                "{\"type\":17}",
                "{\"pattern\":\"(\"}"
            })
    void aSchemaThatCannotBeUsedIsAFaultAndNothingPassesIt(String text) {
        JsonNode schema = Json.read(text, JsonNode.class);
        assertThat(Schemas.fault(schema)).isPresent();
        assertThat(Schemas.violations(schema, Json.read("{\"a\":1}", JsonNode.class)))
                .isNotEmpty();
    }
}

package servitor.core.handbook.read;

import java.math.BigDecimal;
import java.util.List;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.House.Model;
import servitor.core.handbook.ModelSettings;
import servitor.core.handbook.ModelSettings.AnswerAs;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import tools.jackson.databind.JsonNode;

/** Reads one model of {@code handbook.yaml}: where it is, what it is called there, and how it wants to be asked. */
final class ModelReader {
    private static final List<String> LIMITS = List.of(ModelSettings.MAX_TOKENS, ModelSettings.MAX_COMPLETION_TOKENS);
    private static final BigDecimal HOTTEST = BigDecimal.valueOf(2);

    private ModelReader() {}

    static Model read(Yaml value, Findings findings) {
        Keys keys = Keys.of(
                value,
                findings,
                List.of("connection", "name", "temperature", "answer-as", "longest-answer", "limit-as"));
        String answerAs = keys.text("answer-as", AnswerAs.SCHEMA.word());
        List<String> ways =
                List.of(AnswerAs.values()).stream().map(AnswerAs::word).toList();
        String limitAs = keys.text("limit-as", ModelSettings.MAX_TOKENS);
        oneOf(keys, "answer-as", answerAs, ways, findings);
        oneOf(keys, "limit-as", limitAs, LIMITS, findings);
        return new Model(
                keys.required("connection"),
                keys.required("name"),
                new ModelSettings(
                        temperature(keys, findings),
                        AnswerAs.values()[Math.max(0, ways.indexOf(answerAs))],
                        keys.number("longest-answer", 0),
                        limitAs));
    }

    private static void oneOf(Keys keys, String key, String given, List<String> options, Findings findings) {
        if (!options.contains(given)) {
            findings.error(
                    keys.value(key).place(),
                    Code.TYPE,
                    "‘" + given + "’ isn't one of the ways for ‘" + key + "’.",
                    "Write " + String.join(" or ", options) + ".");
        }
    }

    private static @Nullable BigDecimal temperature(Keys keys, Findings findings) {
        if (!keys.has("temperature")) {
            return BigDecimal.ZERO;
        }
        JsonNode given = keys.value("temperature").scalar();
        if (given.isString() && given.stringValue().equals("none")) {
            return null;
        }
        if (given.isNumber()
                && given.decimalValue().signum() >= 0
                && given.decimalValue().compareTo(HOTTEST) <= 0) {
            return given.decimalValue();
        }
        findings.error(
                keys.value("temperature").place(),
                Code.TYPE,
                "‘temperature’ should be a number from 0 to 2.",
                "Write 0, or ‘none’ for a model that takes none.");
        return BigDecimal.ZERO;
    }
}

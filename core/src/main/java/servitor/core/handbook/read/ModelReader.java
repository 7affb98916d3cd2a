package servitor.core.handbook.read;

import java.math.BigDecimal;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.House.Ability;
import servitor.core.handbook.House.Model;
import servitor.core.handbook.House.Price;
import servitor.core.handbook.ModelSettings;
import servitor.core.handbook.ModelSettings.AnswerAs;
import servitor.core.handbook.Words;
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
                List.of(
                        "connection",
                        "name",
                        "temperature",
                        "answer-as",
                        "longest-answer",
                        "limit-as",
                        "window",
                        "price",
                        "can",
                        "otherwise"));
        Set<Ability> can = can(keys, findings);
        String answerAs =
                keys.text("answer-as", (can.contains(Ability.SCHEMA) ? AnswerAs.SCHEMA : AnswerAs.JSON).word());
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
                        limitAs),
                keys.number("window", Model.USUAL_WINDOW),
                keys.has("price") ? price(keys.value("price"), findings) : null,
                can,
                keys.text("otherwise"));
    }

    /** Looks at who stands in for whom, once all are read. */
    static void checkStandIns(Map<String, Yaml> values, Map<String, Model> models, Findings findings) {
        values.forEach((name, value) -> {
            Model model = models.get(name);
            if (model == null || model.otherwise() == null) {
                return;
            }
            String other = model.otherwise();
            findings.unknown(Code.UNKNOWN_MODEL, other, models.keySet(), value.placeOf("otherwise"));
            Model standIn = models.get(other);
            if (standIn != null && !(standIn.can().containsAll(model.can()) && standIn.window() >= model.window())) {
                findings.warning(
                        value.placeOf("otherwise"),
                        Code.MODEL_CANT,
                        "‘" + other + "’ stands in for ‘" + name + "’ and can do less, or has a smaller window.",
                        "Choose one that can do as much, or see that no step needs more.");
            }
        });
    }

    /** Tools and schemas unless told; whoever lists abilities lists all of them. */
    private static Set<Ability> can(Keys keys, Findings findings) {
        if (!keys.has("can")) {
            return EnumSet.of(Ability.TOOLS, Ability.SCHEMA);
        }
        Set<Ability> can = EnumSet.noneOf(Ability.class);
        List<String> words = Words.all(Ability.class);
        for (String word : keys.texts("can")) {
            oneOf(keys, "can", word, words, findings);
            Words.find(Ability.class, word).ifPresent(can::add);
        }
        return can;
    }

    private static @Nullable Price price(Yaml value, Findings findings) {
        Keys keys = Keys.of(value, findings, List.of("asked", "answered"));
        JsonNode asked = keys.needed("asked").scalar();
        JsonNode answered = keys.needed("answered").scalar();
        if (isAmount(asked) && isAmount(answered)) {
            return new Price(asked.decimalValue(), answered.decimalValue());
        }
        findings.error(
                value.place(),
                Code.TYPE,
                "A price is what a million tokens cost, asked and answered.",
                "Write ‘price: { asked: 0.5, answered: 1.5 }’.");
        return null;
    }

    private static boolean isAmount(JsonNode value) {
        return value.isNumber() && value.decimalValue().signum() >= 0;
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

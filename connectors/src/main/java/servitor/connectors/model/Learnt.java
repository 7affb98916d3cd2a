package servitor.connectors.model;

import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import servitor.connectors.access.Access;
import servitor.core.engine.Reply;
import servitor.core.handbook.ModelSettings;

/**
 * What servers have said plainly that they don't take, by address and model, for as long as the service runs: it is asked for once
 * and left out from then on. Safe for several threads.
 */
final class Learnt {
    private static final int BAD_REQUEST = 400;
    private static final int UNPROCESSABLE = 422;

    private final Map<String, ModelSettings> known = new ConcurrentHashMap<>();

    /** How to ask, going by what is declared and what was learnt from that. */
    ModelSettings of(Access access, String model, ModelSettings declared) {
        return known.getOrDefault(key(access, model, declared), declared);
    }

    /** How to ask instead, after {@code reply}; empty when that says nothing of how it was asked. */
    Optional<ModelSettings> from(
            Access access, String model, ModelSettings declared, ModelSettings asked, Reply reply) {
        Optional<ModelSettings> next = reply instanceof Reply.Failed failed
                        && (failed.status() == BAD_REQUEST || failed.status() == UNPROCESSABLE)
                ? instead(asked, failed.detail().toLowerCase(Locale.ROOT))
                : Optional.empty();
        next.ifPresent(settings -> known.put(key(access, model, declared), settings));
        return next;
    }

    private static Optional<ModelSettings> instead(ModelSettings asked, String said) {
        if (asked.temperature() != null && said.contains("temperature")) {
            return Optional.of(asked.withoutTemperature());
        }
        boolean older = asked.limitAs().equals(ModelSettings.MAX_TOKENS);
        if (asked.longest() > 0 && older && said.contains(ModelSettings.MAX_COMPLETION_TOKENS)) {
            return Optional.of(asked.limitedAs(ModelSettings.MAX_COMPLETION_TOKENS));
        }
        if (asked.longest() > 0 && !older && said.contains(ModelSettings.MAX_COMPLETION_TOKENS)) {
            return Optional.of(asked.limitedAs(ModelSettings.MAX_TOKENS));
        }
        if (said.contains("response_format") || said.contains("json_schema") || said.contains("json_object")) {
            return asked.answerAs().simpler().map(asked::answering);
        }
        return Optional.empty();
    }

    private static String key(Access access, String model, ModelSettings declared) {
        return access.address() + " " + model + " " + declared;
    }
}

package servitor.standins;

import com.sun.net.httpserver.HttpExchange;
import java.net.URI;
import java.nio.file.Path;
import java.util.Map;
import servitor.standins.JsonServer.Answer;
import tools.jackson.databind.JsonNode;

/** All stand-ins together, with a control address at which each can be told to be slow, to fail or to go away. */
public final class Standins implements AutoCloseable {
    private final Fares fares;
    private final Models models;
    private final JsonServer control;

    /** Ports the stand-ins listen on; zero takes any free one. */
    public record Ports(int fares, int models, int control) {
        public static final Ports ANY = new Ports(0, 0, 0);
    }

    public Standins(Ports ports, Path folder) {
        this.fares = new Fares(ports.fares(), folder);
        this.models = new Models(ports.models());
        this.control = new JsonServer(ports.control(), this::tell);
    }

    public Fares fares() {
        return fares;
    }

    public Models models() {
        return models;
    }

    public URI control() {
        return control.url();
    }

    private Answer tell(HttpExchange exchange, JsonNode body) {
        if (!exchange.getRequestMethod().equals("POST")) {
            return new Answer(
                    200,
                    Map.of(
                            "fares",
                            fares.url().toString(),
                            "models",
                            models.url().toString(),
                            "refunds",
                            fares.refunds()));
        }
        if (body.has("away-seconds")) {
            fares.goAwayFor(body.get("away-seconds").asLong());
        }
        if (body.has("slow-millis")) {
            fares.beSlow(body.get("slow-millis").asLong());
        }
        if (body.has("failing")) {
            fares.fail(body.get("failing").asBoolean());
        }
        if (body.has("bad-answers")) {
            models.answerBadly(body.get("bad-answers").asInt());
        }
        return new Answer(200, Map.of("told", body));
    }

    @Override
    public void close() {
        control.close();
        models.close();
        fares.close();
    }
}

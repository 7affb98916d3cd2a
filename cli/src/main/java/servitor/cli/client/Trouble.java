package servitor.cli.client;

import tools.jackson.databind.JsonNode;

/** Something that ends a command; the message is what its user is told. */
public final class Trouble extends RuntimeException {
    private final ExitCode code;
    private final transient JsonNode problem;

    public Trouble(ExitCode code, String message) {
        this(code, message, Client.JSON.createObjectNode());
    }

    /** The same, with the service's own problem answer. */
    Trouble(ExitCode code, String message, JsonNode problem) {
        super(message);
        this.code = code;
        this.problem = problem;
    }

    public ExitCode code() {
        return code;
    }

    /** The service's problem answer (RFC 9457); empty when it wasn't one. */
    public JsonNode problem() {
        return problem;
    }
}

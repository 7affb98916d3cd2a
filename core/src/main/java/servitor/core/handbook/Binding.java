package servitor.core.handbook;

import com.fasterxml.jackson.annotation.JsonIgnore;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Template;

/** How a tool is carried out: one record for each protocol. */
public sealed interface Binding {

    /** The connection it goes out by; empty when it needs none. */
    @JsonIgnore
    default String connection() {
        return "";
    }

    /**
     * An operation of an HTTP API, as its OpenAPI description says.
     *
     * @param path with names of inputs in braces
     * @param body null for none
     * @param answer what it answers with
     */
    record HttpOperation(
            String connection,
            String method,
            String path,
            List<HttpParameter> parameters,
            @Nullable HttpBody body,
            Answer answer)
            implements Binding {
        public HttpOperation {
            parameters = List.copyOf(parameters);
        }

        /** What an operation answers with; a text becomes {@code {text: …}}. */
        public enum Answer {
            JSON,
            TEXT
        }
    }

    /** Something done in a staff directory over LDAP. */
    record Directory(String connection, DirectoryAction action, DirectoryLayout layout) implements Binding {}

    /**
     * A query that only reads a database.
     *
     * @param sql one SELECT with {@code :name} for inputs
     * @param one whether exactly one row is meant: none is {@code not-found}
     * @param rows the most rows that are read
     */
    record Query(String connection, String sql, boolean one, int rows) implements Binding {}

    /** A dialogue with a program that has no API, line by line. */
    record Dialogue(String connection, List<Line> lines) implements Binding {
        public Dialogue {
            lines = List.copyOf(lines);
        }
    }

    /**
     * One line of a dialogue: something is sent, then something is waited for.
     *
     * @param send over {@code args} and {@code connection} (its {@code user} and {@code secret}); null to send nothing
     * @param expect a regular expression that is waited for; null to wait for nothing
     * @param capture names of outputs by the number of the group in {@code expect}
     * @param otherwise problems by what else may come, such as {@code NO SUCH PERSON → not-found}
     */
    record Line(
            @Nullable Template send,
            @Nullable String expect,
            Map<String, Integer> capture,
            Map<String, String> otherwise) {
        public Line {
            capture = Map.copyOf(capture);
            otherwise = Map.copyOf(otherwise);
        }
    }

    /**
     * A program on the service's own machine. Which program is the connection's affair, so that no handbook can name one.
     *
     * @param arguments over {@code args}; each stays one argument, whatever is in it
     */
    record Program(String connection, List<Template> arguments) implements Binding {
        public Program {
            arguments = List.copyOf(arguments);
        }
    }

    /**
     * A tool of a Model Context Protocol server.
     *
     * @param name its name there
     * @param agreed digest of the description and schema that somebody looked at; a tool that says something else by now
     *     isn't called
     */
    record RemoteTool(String connection, String name, String agreed) implements Binding {}

    /** A page that is followed with the inputs as what it takes; what it gives is the answer. Its agent is so a tool of others. */
    record PageTool(String page) implements Binding {}

    /** Carried out by the service itself. */
    record BuiltIn() implements Binding {}
}

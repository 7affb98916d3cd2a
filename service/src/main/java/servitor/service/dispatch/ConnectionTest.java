package servitor.service.dispatch;

import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import org.springframework.stereotype.Service;
import servitor.connectors.Connectors.Speaks;
import servitor.core.handbook.Binding;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.service.connections.Connections;
import servitor.service.connections.Connections.Tested;
import servitor.service.editions.Editions;
import tools.jackson.databind.JsonNode;

/**
 * Tests a connection with its credentials: a directory, a database, a terminal and a tool server are signed in to, models are listed,
 * and of an HTTP API the tool is called that its file names as {@code check}.
 */
@Service
public class ConnectionTest {
    /** Who isn't known, or may not (RFC 9110, sections 15.5.2 and 15.5.4). */
    private static final List<Integer> REFUSING = List.of(401, 403);

    private final Connections connections;
    private final Editions editions;
    private final ToolTry tries;

    ConnectionTest(Connections connections, Editions editions, ToolTry tries) {
        this.connections = connections;
        this.editions = editions;
        this.tries = tries;
    }

    /** Reaches {@code name} and changes nothing there; empty when it isn't set up. */
    public Optional<Tested> of(String name, String person) throws InterruptedException {
        Optional<Handbook> handbook = editions.current().map(edition -> edition.handbook());
        Speaks speaks = handbook.map(book -> speaks(book, name)).orElse(Speaks.OTHER);
        Optional<Tested> reached = connections.test(name, speaks);
        Optional<Tool> check = handbook.flatMap(
                book -> Optional.ofNullable(book.checks().get(name)).map(book.tools()::get));
        if (reached.isEmpty() || !reached.get().reached()) {
            return reached;
        }
        return Optional.of(check.isPresent() ? called(check.get(), person) : said(reached.get(), name, speaks));
    }

    private static Speaks speaks(Handbook book, String name) {
        boolean models = book.house().models().values().stream()
                .anyMatch(model -> model.connection().equals(name));
        return models
                ? Speaks.MODELS
                : any(book, name, Binding.RemoteTool.class::isInstance) ? Speaks.REMOTE_TOOLS : Speaks.OTHER;
    }

    private static boolean any(Handbook book, String connection, Predicate<Binding> how) {
        return book.tools().values().stream()
                .anyMatch(tool -> tool.binding().connection().equals(connection) && how.test(tool.binding()));
    }

    private Tested called(Tool check, String person) throws InterruptedException {
        JsonNode inputs =
                check.examples().isEmpty() ? Json.object() : check.examples().get(0);
        ToolTry.Tried tried = tries.call(check, inputs, person);
        boolean answered = tried.problem().isEmpty() || isOwn(check, tried.problem());
        String tool = "‘" + check.name() + "’";
        return new Tested(answered, answered ? tool + " was called" : tool + ": " + tried.detail());
    }

    /** A tool may have a name of its own for a refused key, too; such an answer is no sign that it was taken. */
    private static boolean isOwn(Tool check, String problem) {
        return check.problems().containsValue(problem)
                && REFUSING.stream()
                        .noneMatch(status -> problem.equals(check.problems().get(status)));
    }

    /** What may answer whatever the key is isn't told as though it had taken it. */
    private Tested said(Tested reached, String name, Speaks speaks) {
        boolean signsIn = connections.all().stream()
                .anyMatch(one -> one.name().equals(name)
                        && !one.signIn().isEmpty()
                        && one.url().startsWith("http"));
        return speaks == Speaks.OTHER && signsIn
                ? new Tested(
                        true,
                        reached.detail()
                                + "; whether it takes the credentials wasn't tried: name a tool that does under ‘check’")
                : reached;
    }
}

package servitor.connectors;

import java.nio.file.Path;
import java.time.Duration;
import java.util.Optional;
import servitor.connectors.access.Access;
import servitor.connectors.access.Connector;
import servitor.connectors.access.Deadline;
import servitor.connectors.command.ProgramTool;
import servitor.connectors.inbound.HookAddress;
import servitor.connectors.inbound.SignedMessage;
import servitor.connectors.ldap.DirectoryTool;
import servitor.connectors.mail.MailAddress;
import servitor.connectors.mail.MailFolder;
import servitor.connectors.mail.MailSubmission;
import servitor.connectors.mail.SubmissionAddress;
import servitor.connectors.mcp.RemoteTools;
import servitor.connectors.model.ChatModel;
import servitor.connectors.operation.HttpTool;
import servitor.connectors.sql.Database;
import servitor.connectors.sql.Drivers;
import servitor.connectors.sql.QueryTool;
import servitor.connectors.terminal.DialogueTool;
import servitor.core.engine.Reply;
import servitor.core.handbook.Binding;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Tool;
import tools.jackson.databind.node.ObjectNode;

/** All protocols: finds the connector a tool is bound to. */
public final class Connectors {
    private static final Duration TEST = Duration.ofSeconds(10);

    private final HttpTool http = new HttpTool();
    private final DirectoryTool directory = new DirectoryTool();
    private final QueryTool query;
    private final DialogueTool dialogue = new DialogueTool();
    private final ProgramTool program = new ProgramTool();
    private final RemoteTools remote = new RemoteTools();
    private final ChatModel models = new ChatModel();

    public Connectors() {
        this.query = new QueryTool();
    }

    /** The same, with the drivers of databases that lie in a folder beside those that ship. */
    public Connectors(Path drivers) {
        this.query = new QueryTool(Drivers.of(drivers));
    }

    /** What goes out by a connection. */
    public enum Speaks {
        MODELS,
        REMOTE_TOOLS,
        /** What its address says. */
        OTHER
    }

    /** Whether an address names the server of a declared database; no other database is ever connected to. */
    public static boolean asksDatabase(String url) {
        return Database.isServer(url);
    }

    /**
     * Calls {@code tool}, which must be one that an outside system carries out.
     *
     * @param work when whoever asks has to be done; the tool's own limit may be earlier
     */
    public Reply call(Access access, Tool tool, ObjectNode args, String key, Deadline work)
            throws InterruptedException {
        Optional<String> refused = access.refused();
        if (refused.isPresent()) {
            return new Reply.Refused(Problem.REFUSED, refused.get());
        }
        Binding binding = tool.binding();
        Deadline deadline = work.orIn(tool.timeLimit());
        if (binding instanceof Binding.HttpOperation one) {
            return http.call(access, one, args, key, deadline);
        } else if (binding instanceof Binding.Directory one) {
            return directory.call(access, one, args, key, deadline);
        } else if (binding instanceof Binding.Query one) {
            return query.call(access, one, args, key, deadline);
        } else if (binding instanceof Binding.Dialogue one) {
            return dialogue.call(access, one, args, key, deadline);
        } else if (binding instanceof Binding.Program one) {
            return program.call(access, one, args, key, deadline);
        } else if (binding instanceof Binding.RemoteTool one) {
            return remote.call(access, one, args, key, deadline);
        }
        throw new IllegalArgumentException("‘" + tool.name() + "’ isn't carried out by an outside system");
    }

    /**
     * Reaches a system by the protocol of its address and signs in, changing nothing.
     *
     * @param speaks what goes out by it, as an address alone doesn't tell a tool server or a model from a web API
     */
    public Reply test(Access access, Speaks speaks) throws InterruptedException {
        if (HookAddress.SCHEME.equals(access.address().getScheme())) {
            return SignedMessage.test(access);
        }
        Optional<String> refused = access.refused();
        if (refused.isPresent()) {
            return new Reply.Refused(Problem.REFUSED, refused.get());
        }
        if (speaks == Speaks.MODELS) {
            return models.test(access, Deadline.in(TEST));
        }
        if (MailAddress.SCHEMES.contains(String.valueOf(access.address().getScheme()))) {
            return MailFolder.test(access);
        } else if (SubmissionAddress.SCHEMES.contains(
                String.valueOf(access.address().getScheme()))) {
            return MailSubmission.test(access, Deadline.in(TEST));
        }
        Connector<?> connector = speaks == Speaks.REMOTE_TOOLS
                ? remote
                : switch (String.valueOf(access.address().getScheme())) {
                    case "ldap", "ldaps", "ldap+tls" -> directory;
                    case "jdbc" -> query;
                    case "tcp", "ssh" -> dialogue;
                    case "exec" -> program;
                    default -> http;
                };
        return connector.test(access, Deadline.in(TEST));
    }

    /** What a tool server says of its tools. */
    public RemoteTools remote() {
        return remote;
    }
}

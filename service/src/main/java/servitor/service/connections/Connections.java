package servitor.service.connections;

import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.connectors.Connectors;
import servitor.connectors.Connectors.Speaks;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.connectors.access.KeptTokens;
import servitor.connectors.access.Tokens;
import servitor.connectors.access.Trust;
import servitor.connectors.mcp.RemoteTools;
import servitor.core.engine.Reply;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.Precondition;
import servitor.service.ServitorSettings;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;
import tools.jackson.databind.JsonNode;

/** Where outside systems are, and how they are signed in to. Credentials go in and never come out again but to be used. */
@Service
public class Connections {
    private static final Duration ASK = Duration.ofSeconds(10);
    private static final int AT_ONCE = 8;
    private static final int MOST_AT_ONCE = 100;

    private final ConnectionStore connectionStore;
    private final Writer writer;
    private final KeyRing keys;
    private final Connectors connectors;
    private final List<Path> followUnder;

    Connections(
            ConnectionStore connectionStore,
            Writer writer,
            Connectors connectors,
            KeyRing keys,
            ServitorSettings settings) {
        this.followUnder = settings.followUnder();
        this.connectors = connectors;
        this.connectionStore = connectionStore;
        this.writer = writer;
        this.keys = keys;
    }

    /**
     * A connection as it may be shown.
     *
     * @param byBrowser whether somebody has to sign in there in a browser
     * @param signedInBy who did last; empty while nobody has
     */
    public record Shown(
            String name,
            String url,
            int atOnce,
            String signIn,
            boolean inside,
            String authorities,
            boolean byBrowser,
            String signedInBy,
            @Nullable Instant signedInAt,
            String desk) {
        static Shown of(ConnectionRow row) {
            return new Shown(
                    row.name(),
                    row.url(),
                    row.atOnce(),
                    row.signIn(),
                    row.inside(),
                    new Trust(row.authorities()).names(),
                    row.signIn().startsWith(SignInForm.BY_BROWSER),
                    row.signedInBy(),
                    row.signedInAt(),
                    row.desk());
        }
    }

    /**
     * What an admin sets of a connection; what is null stays as it was.
     *
     * @param authorities whose certificates it takes, in PEM; empty for those of the machine
     * @param desk whose it is, or {@code house}
     */
    public record Settings(
            @Nullable String url,
            @Nullable Integer atOnce,
            @Nullable SignInForm signIn,
            @Nullable Boolean inside,
            @Nullable String authorities,
            @Nullable String desk) {
        public Settings(
                @Nullable String url, @Nullable Integer atOnce, @Nullable SignInForm signIn, @Nullable Boolean inside) {
            this(url, atOnce, signIn, inside, null, null);
        }
    }

    /** What calls need to reach {@code name}; empty when it isn't set up. Throws {@link KeyRing.CannotOpen} without its key. */
    public Optional<Access> access(String name) {
        return connectionStore.find(name).map(this::access);
    }

    Access access(ConnectionRow row) {
        Credentials credentials =
                form(row).map(form -> form.credentials(new Kept(row.name()))).orElseGet(Credentials.None::new);
        return new Access(URI.create(row.url()), credentials, row.inside(), new Trust(row.authorities()));
    }

    /** How {@code row} is signed in to, as it was given; empty when it isn't. */
    Optional<SignInForm> form(ConnectionRow row) {
        return row.sealed().isEmpty()
                ? Optional.empty()
                : Optional.of(Json.read(keys.open(row.name(), row.sealed()), SignInForm.class));
    }

    String sealed(String name, Object credentials) {
        return keys.seal(name, Json.write(credentials));
    }

    /** The tokens of one connection, in its row. */
    private final class Kept implements KeptTokens {
        private final String name;

        private Kept(String name) {
            this.name = name;
        }

        @Override
        public Optional<Tokens> now() {
            return connectionStore.find(name).flatMap(this::of);
        }

        private Optional<Tokens> of(ConnectionRow row) {
            return row.tokens().isEmpty()
                    ? Optional.empty()
                    : Optional.of(Json.read(keys.open(name, row.tokens()), Tokens.class));
        }

        @Override
        public void renew(Tokens before, Tokens renewed) {
            writer.write(tx -> {
                connectionStore
                        .find(name)
                        .filter(row -> of(row).filter(before::equals).isPresent())
                        .ifPresent(row -> connectionStore.put(row.sealed(row.sealed(), sealed(name, renewed))));
                return renewed;
            });
        }
    }

    public Optional<Shown> find(String name) {
        return connectionStore.find(name).map(Shown::of);
    }

    public List<Shown> all() {
        return connectionStore.all().stream().map(Shown::of).toList();
    }

    /** How many calls may be under way over a connection at the same time. */
    public int atOnce(String name) {
        return connectionStore.find(name).map(ConnectionRow::atOnce).orElse(AT_ONCE);
    }

    /**
     * Sets up {@code name}; throws {@link IllegalArgumentException} saying what can't be so. Credentials that were given for one
     * place aren't sent to another: who changes where a connection leads gives them again.
     */
    public Shown put(String name, Settings given, String person, Precondition precondition) {
        if (!name.matches("[a-z0-9][a-z0-9-]{0,59}")) {
            throw new IllegalArgumentException(
                    "‘" + name + "’ can't be the name of a connection: use lower-case letters, digits and ‘-’.");
        }
        if (given.atOnce() != null && (given.atOnce() < 1 || given.atOnce() > MOST_AT_ONCE)) {
            throw new IllegalArgumentException("‘atOnce’ must be from 1 to " + MOST_AT_ONCE + ".");
        }
        Credentials credentials = given.signIn() == null ? null : given.signIn().credentials(new Kept(name));
        if (given.signIn() != null) {
            given.signIn().nothingUnused();
        }
        return writer.write(tx -> {
            precondition.require(find(name));
            return put(tx, name, given, credentials, person);
        });
    }

    private String address(String url) {
        return url.startsWith(FollowedPath.SCHEME + ":")
                ? "file:" + FollowedPath.of(url, followUnder).path()
                : Address.any(url);
    }

    private static boolean isFile(ConnectionRow row) {
        return row.url().startsWith(FollowedPath.SCHEME + ":");
    }

    private Tested fileTested(String name) {
        try {
            Path file = followed(name).orElseThrow().real();
            return Files.isReadable(file)
                    ? new Tested(true, "the file can be read; it has " + Files.size(file) + " bytes")
                    : new Tested(false, "the service may not read ‘" + file + "’");
        } catch (NoSuchFileException e) {
            return new Tested(false, "there is no file ‘" + e.getMessage() + "’ yet");
        } catch (IOException | IllegalArgumentException e) {
            return new Tested(false, String.valueOf(e.getMessage()));
        }
    }

    /** The file that a connection has followed; empty when it isn't set, or set to something else. */
    public Optional<FollowedPath> followed(String name) {
        return connectionStore
                .find(name)
                .filter(Connections::isFile)
                .map(row -> FollowedPath.of(row.url(), followUnder));
    }

    private static String desk(String given) {
        if (!given.matches("[a-z0-9-]{0,60}")) {
            throw new IllegalArgumentException("‘desk’ is the name of a desk, or ‘house’.");
        }
        return given;
    }

    /** In the writer's turn, so that neither another change nor a key renewed meanwhile is passed by. */
    private Shown put(
            LedgerTransaction tx, String name, Settings given, @Nullable Credentials credentials, String person) {
        ConnectionRow was = connectionStore.find(name).orElse(ConnectionRow.unset(name, AT_ONCE));
        String url = given.url() == null ? was.url() : address(given.url());
        if (url.isEmpty()) {
            throw new IllegalArgumentException("‘url’ is missing.");
        }
        if (!was.sealed().isEmpty() && !sameHost(was.url(), url) && given.signIn() == null) {
            throw new IllegalArgumentException("‘" + name
                    + "’ would lead elsewhere: give its credentials again, so that they don't go there unasked.");
        }
        if (credentials instanceof Credentials.ByBrowser && !url.startsWith("http")) {
            throw new IllegalArgumentException("Only what is reached over http or https is signed in to by a browser.");
        }
        ConnectionRow row = new ConnectionRow(
                name,
                url,
                given.atOnce() == null ? was.atOnce() : given.atOnce(),
                given.signIn() == null ? was.signIn() : given.signIn().shown(),
                given.signIn() == null
                        ? was.sealed()
                        : credentials instanceof Credentials.None ? "" : sealed(name, given.signIn()),
                given.inside() == null ? was.inside() : given.inside(),
                given.authorities() == null
                        ? was.authorities()
                        : Trust.of(given.authorities()).pem(),
                given.signIn() == null ? was.tokens() : "",
                given.signIn() == null ? was.signedInBy() : "",
                given.signIn() == null ? was.signedInAt() : null,
                given.desk() == null ? was.desk() : desk(given.desk()));
        connectionStore.put(row);
        tx.trail(
                "",
                "",
                new TrailEvent(
                        TrailEvent.person(person),
                        TrailWord.CONNECTION_SET,
                        "",
                        Json.object()
                                .put("connection", name)
                                .put("url", row.url())
                                .put("atOnce", row.atOnce())
                                .put("signIn", row.signIn())
                                .put("inside", row.inside())
                                .put("desk", row.desk())
                                .put("authorities", new Trust(row.authorities()).names())
                                .put("credentialsChanged", credentials != null)));
        return Shown.of(row);
    }

    private static boolean sameHost(String one, String other) {
        return Objects.equals(URI.create(one).getScheme(), URI.create(other).getScheme())
                && Objects.equals(
                        URI.create(one).getAuthority(), URI.create(other).getAuthority())
                && (URI.create(one).getAuthority() != null || one.equals(other));
    }

    /** Seals all credentials with a new key and forgets the old ones. Returns how many there were. */
    public int renewKey(String person) {
        int renewed = writer.write(tx -> {
            keys.renew();
            List<ConnectionRow> sealed = connectionStore.all().stream()
                    .filter(row -> !row.sealed().isEmpty())
                    .toList();
            sealed.forEach(row -> connectionStore.put(
                    row.sealed(resealed(row.name(), row.sealed()), resealed(row.name(), row.tokens()))));
            tx.trail(
                    "",
                    "",
                    new TrailEvent(
                            TrailEvent.person(person),
                            TrailWord.KEY_RENEWED,
                            "",
                            Json.object().put("connections", sealed.size())));
            return sealed.size();
        });
        keys.keepNewest();
        return renewed;
    }

    private String resealed(String name, String sealed) {
        return sealed.isEmpty() ? "" : keys.seal(name, keys.open(name, sealed));
    }

    /** Forgets {@code name} and its credentials; false when there is no such connection. */
    public boolean delete(String name, String person) {
        return writer.write(tx -> {
            boolean deleted = connectionStore.delete(name);
            if (deleted) {
                tx.trail(
                        "",
                        "",
                        new TrailEvent(
                                TrailEvent.person(person),
                                TrailWord.CONNECTION_DELETED,
                                "",
                                Json.object().put("connection", name)));
            }
            return deleted;
        });
    }

    /** What a try of reaching a system gave. */
    public record Tested(boolean reached, String detail) {}

    /** Reaches {@code name} and signs in, changing nothing there; empty when it isn't set up. */
    public Optional<Tested> test(String name, Speaks speaks) throws InterruptedException {
        if (connectionStore.find(name).filter(Connections::isFile).isPresent()) {
            return Optional.of(fileTested(name));
        }
        Optional<Access> access;
        try {
            access = access(name);
        } catch (KeyRing.CannotOpen e) {
            return Optional.of(new Tested(false, String.valueOf(e.getMessage())));
        }
        if (access.isEmpty()) {
            return Optional.empty();
        }
        Reply reply = connectors.test(access.get(), speaks);
        return Optional.of(
                reply instanceof Reply.Answered answered
                        ? new Tested(true, words(answered.body()))
                        : new Tested(false, reply.detail()));
    }

    private static String words(JsonNode answer) {
        return answer.properties().stream()
                .map(e -> e.getKey() + " " + e.getValue().asString())
                .collect(Collectors.joining(", "));
    }

    /** What the tool server at {@code name} offers; throws {@link IllegalArgumentException} when it can't be asked. */
    public Optional<List<RemoteTools.Described>> remoteTools(String name) throws InterruptedException {
        Optional<Access> access;
        try {
            access = access(name);
        } catch (KeyRing.CannotOpen e) {
            throw new IllegalArgumentException(e.getMessage() + ".", e);
        }
        if (access.isEmpty()) {
            return Optional.empty();
        }
        access.get().refused().ifPresent(why -> {
            throw new IllegalArgumentException(why + ".");
        });
        try {
            return Optional.of(connectors.remote().tools(access.get(), Deadline.in(ASK)));
        } catch (IllegalStateException e) {
            throw new IllegalArgumentException("‘" + name + "’ can't be asked: " + e.getMessage() + ".", e);
        }
    }
}

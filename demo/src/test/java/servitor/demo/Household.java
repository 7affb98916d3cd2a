package servitor.demo;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.net.ServerSocket;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import java.util.stream.Stream;
import servitor.cli.client.Client;
import servitor.cli.client.Profile;
import servitor.cli.command.Servitor;
import servitor.core.json.Json;
import servitor.standins.Standins;
import tools.jackson.databind.JsonNode;

/** A whole demo for tests: stand-ins in this process, the service in one of its own, everything in a new folder. */
final class Household implements AutoCloseable {
    static final Duration PATIENCE = Duration.ofMinutes(2);
    private static Household shared;
    private static Household ofMails;

    final Path folder;
    final Standins standins;
    final int port;
    ServiceProcess service;
    private final List<String> options;

    Household() {
        this("-Dservitor.cases-per-hour=1000", "-Dservitor.mail-every=300ms"); // few people stand for many
    }

    /** One whose service is started with these options. */
    Household(String... options) {
        this.options = Stream.concat(
                        Stream.of(options), Stream.of("-Dspring.main.sources=" + AnswerContract.class.getName()))
                .toList();
        try {
            folder = Files.createTempDirectory("servitor-test-");
            standins = new Standins(Standins.Ports.ANY, folder.resolve("standins"));
            port = freePort();
            start();
            new DemoSeeder(service.url(), data(), profiles()).furnish(Path.of("handbook"), standins);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** One household for all tests that leave it usable; it ends with the test process. */
    static synchronized Household shared() {
        if (shared == null) {
            shared = new Household();
            Runtime.getRuntime().addShutdownHook(new Thread(shared::close));
        }
        return shared;
    }

    /** One for the tests of mails, which publish intakes and pages of their own and kill the service; it ends with the test process. */
    static synchronized Household ofMails() {
        if (ofMails == null) {
            ofMails = new Household();
            Runtime.getRuntime().addShutdownHook(new Thread(ofMails::close));
        }
        return ofMails;
    }

    /** Publishes files beside those of the edition in force. */
    void add(Map<String, String> files, String note) {
        int newest =
                as("maren").get("/api/handbook/editions").path(0).path("number").asInt();
        Map<String, String> all = files(newest);
        all.putAll(files);
        as("priya") // whatever it touches, an engineer there agrees
                .post("/api/handbook/consents", Map.of("digest", Json.digest(Json.of(new TreeMap<>(all)))));
        publish("maren", all, note);
    }

    static int freePort() throws IOException {
        try (ServerSocket socket = new ServerSocket(0)) {
            return socket.getLocalPort();
        }
    }

    Path data() {
        return folder.resolve("data");
    }

    Path profiles() {
        return folder.resolve("config/profiles");
    }

    URI url() {
        return service.url();
    }

    /** Starts the service again on the same data and port. */
    void start() {
        try {
            service = ServiceProcess.start(Trained.java(), port, data(), options);
            service.awaitReady(PATIENCE);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    Client as(String person) {
        try {
            return new Client(DemoSeeder.profileOf(profiles(), person));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Somebody new who writes the handbook as well. */
    Client engineer(String person) {
        Client admin = as("admin");
        admin.put(
                "/api/people/" + person,
                Map.of("roles", List.of("engineer"), "desks", List.of("passengers"), "password", Cast.PASSWORD));
        String token = admin.post("/api/people/" + person + "/tokens", Map.of("label", "test"))
                .path("token")
                .asString();
        return new Client(new Profile(url().toString(), token));
    }

    /** Publishes files over the edition in force. */
    JsonNode publish(String person, Map<String, String> files, String note) {
        int base =
                as(person).get("/api/handbook/editions").path(0).path("number").asInt();
        return as(person)
                .post(
                        "/api/handbook/editions",
                        Map.of("files", files, "note", note, "base", base, "despite", "a test"));
    }

    /** The files of an edition. */
    Map<String, String> files(int edition) {
        Map<String, String> files = new TreeMap<>();
        as("maren")
                .get("/api/handbook/editions/" + edition)
                .path("files")
                .properties()
                .forEach(e -> files.put(e.getKey(), e.getValue().asString()));
        return files;
    }

    String token(String person) {
        try {
            Profile profile = DemoSeeder.profileOf(profiles(), person);
            return profile.token();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** What a command line printed and ended with. */
    record Said(int code, String out, String err) {}

    /** Runs a command of the client as its user would type it. */
    Said run(String... args) {
        StringWriter out = new StringWriter();
        StringWriter err = new StringWriter();
        int code = Servitor.run(
                Map.of("SERVITOR_CONFIG", folder.resolve("config").toString()),
                new PrintWriter(out),
                new PrintWriter(err),
                args);
        return new Said(code, out.toString(), err.toString());
    }

    /** Opens a refund case for a booking as a person and returns its id. */
    String openRefund(String person, String booking) {
        return open(person, "refund", "Refund " + booking, "Please.", Map.of("booking", booking));
    }

    /** Opens a case as a person and returns its id. */
    String open(String person, String kind, String subject, String text, Map<String, String> fields) {
        return as(person)
                .post(
                        "/api/cases",
                        Map.of("kind", kind, "subject", subject, "text", text, "fields", fields),
                        java.util.UUID.randomUUID().toString())
                .path("summary")
                .path("id")
                .asString();
    }

    /** The state of a case, as the auditor sees it. */
    String state(String caseId) {
        return as("noor")
                .get("/api/cases/" + caseId)
                .path("summary")
                .path("state")
                .asString();
    }

    /** The id of the open approval of a case; waits until there is one. */
    String approvalOf(String caseId) {
        return await("an approval of " + caseId, () -> {
            for (var approval : as("noor").get("/api/cases/" + caseId).path("approvals")) {
                if (approval.path("state").asString().equals("open")) {
                    return approval.path("id").asString();
                }
            }
            return null;
        });
    }

    /** The first entry of a case's trail that refers to a text; waits until there is one. */
    JsonNode entryWithMaterial(String caseId, String what) {
        return await(what + " of " + caseId, () -> {
            for (var entry :
                    as("noor").get("/api/trail?limit=200&case=" + caseId).path("items")) {
                if (entry.path("what").asString().equals(what)
                        && entry.path("data").has("material")) {
                    return entry;
                }
            }
            return null;
        });
    }

    /** Waits until {@code condition} gives something. */
    static <T> T await(String what, Supplier<T> condition) {
        long until = System.nanoTime() + PATIENCE.toNanos();
        while (System.nanoTime() < until) {
            T found = condition.get();
            if (found != null && !Boolean.FALSE.equals(found)) {
                return found;
            }
            try {
                TimeUnit.MILLISECONDS.sleep(50);
            } catch (InterruptedException e) {
                throw new IllegalStateException(e);
            }
        }
        throw new AssertionError("waited in vain for " + what);
    }

    @Override
    public void close() {
        service.close();
        standins.close();
    }
}

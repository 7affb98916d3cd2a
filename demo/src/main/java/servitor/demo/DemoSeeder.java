package servitor.demo;

import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import servitor.cli.client.Client;
import servitor.cli.client.Profile;
import servitor.cli.command.HandbookFolder;
import servitor.core.json.Json;
import servitor.demo.Cast.Member;
import servitor.standins.ChatRoom;
import servitor.standins.CrewRegister;
import servitor.standins.Directory;
import servitor.standins.Kiosks;
import servitor.standins.MailHouse;
import servitor.standins.PayDatabase;
import servitor.standins.Standins;
import servitor.standins.Tracker;
import tools.jackson.databind.JsonNode;

/** Puts people, connections and the handbook into a service, all through its API, and leaves a profile per person. */
public final class DemoSeeder {
    private static final String NOTE = "The demo handbook";
    /** What the desks sign in to their mailboxes with. */
    private static final String SECRET = "a-tide-of-mails";

    private final URI service;
    private final Path profiles;
    private final Client admin;
    /** What the turnstiles at the quay write into. */
    private final Path log;

    /** Uses the token that the service left in its data folder at its first start, which is good for one of its own, once. */
    public DemoSeeder(URI service, Path data, Path profiles) throws IOException {
        this.service = service;
        this.profiles = profiles;
        this.log = data.toAbsolutePath().normalize().resolve("logs/turnstiles.log");
        Path first = data.resolve("admin.token");
        if (Files.exists(first)) {
            JsonNode token = new Client(new Profile(service.toString(), Files.readString(first)))
                    .post("/api/people/admin/tokens", Map.of("label", "demo"));
            new Profile(service.toString(), token.path("token").asString()).save(profiles, "admin");
        }
        this.admin = new Client(profileOf("admin"));
    }

    /** Does what hasn't been done yet; safe to repeat. */
    public void furnish(Path handbook, Standins standins) throws IOException {
        connect("fares", standins.fares().url());
        connect("models", standins.models().url());
        connect("kit", standins.kit().url());
        connect("board", standins.board().url());
        connect("kiosks", standins.kiosks().url());
        admin.put(
                "/api/connections/tracker",
                Map.of(
                        "url",
                        standins.tracker().url().toString(),
                        "inside",
                        true,
                        "signIn",
                        Map.of("kind", "bearer", "secret", Tracker.TOKEN)));
        signs("yard-tracker", "hook:signed?vouches=yes", Tracker.SECRET);
        standins.tracker().tell(service.resolve("/api/hooks/repair-orders"));
        admin.put("/api/connections/turnstile-log", Map.of("url", "file:" + log));
        signs("kiosk-monitor", "hook:signed?vouches=yes", Kiosks.SECRET);
        connect("directory", standins.directory().url(), Directory.USER, Directory.SECRET);
        connect("crew", standins.crew().url(), CrewRegister.USER, CrewRegister.SECRET);
        connect("pay", standins.pay().url(), PayDatabase.USER, PayDatabase.SECRET);
        mail(standins.mail());
        signs("harbour-room", standins.room().url().toString(), ChatRoom.SECRET);
        people();
        Map<String, String> files = HandbookFolder.read(handbook);
        JsonNode newest =
                new Client(profileOf("maren")).get("/api/handbook/editions").path(0);
        if (!newest.isMissingNode() && !newest.path("note").asString("").equals(NOTE)) {
            return; // somebody has gone on from the demo's handbook: theirs stays in force
        }
        // what is the people desk's, an engineer there agrees to
        new Client(profileOf("priya"))
                .post("/api/handbook/consents", Map.of("digest", Json.digest(Json.of(new TreeMap<>(files)))));
        new Client(profileOf("maren"))
                .post("/api/handbook/editions", Map.of("files", files, "note", NOTE, "confirmed", true));
    }

    private void people() throws IOException {
        Set<String> known = new TreeSet<>();
        admin.get("/api/people").forEach(person -> known.add(person.path("id").asString()));
        for (Member member : Cast.ALL) {
            if (!known.contains(member.id())) {
                admin.put("/api/people/" + member.id(), details(member));
            }
            profile(member.id());
        }
        Cast.MANAGERS.forEach((person, manager) -> {
            if (!known.contains(person)) { // once there is everybody who could be one
                admin.put("/api/people/" + person, Map.of("manager", manager));
            }
        });
        if (known.size() <= 1) {
            admin.put("/api/people/admin", Map.of("password", Cast.PASSWORD));
        }
    }

    /** Each desk has a mailbox that it reads and sends by; everybody else has one, too. */
    private void mail(MailHouse mail) {
        Cast.ALL.forEach(member -> Correspondent.openBox(mail, member.id()));
        admin.get("/api/people")
                .forEach(person -> Correspondent.openBox(mail, person.path("id").asString())); // those of the past, too
        for (String desk : Cast.DESKS) {
            mail.open(address(desk), SECRET);
            connect(
                    desk + "-mailbox",
                    URI.create(mail.imap() + "?results-by=" + MailHouse.SERVER + "&vouches-for=" + MailHouse.DOMAIN),
                    address(desk),
                    SECRET);
            connect(
                    desk + "-post",
                    URI.create(mail.smtp() + "?sent=" + desk + "-mailbox&files-copies=yes"),
                    address(desk),
                    SECRET);
        }
    }

    /** The address of somebody, or of a desk, at the line. */
    public static String address(String name) {
        return name + "@" + MailHouse.DOMAIN;
    }

    private void signs(String name, String url, String secret) {
        admin.put(
                "/api/connections/" + name,
                Map.of("url", url, "inside", true, "signIn", Map.of("kind", "signature", "secret", secret)));
    }

    private void connect(String name, URI url) {
        admin.put("/api/connections/" + name, Map.of("url", url.toString(), "inside", true));
    }

    private void connect(String name, URI url, String user, String secret) {
        Map<String, String> signIn = Map.of("kind", "password", "user", user, "secret", secret);
        admin.put("/api/connections/" + name, Map.of("url", url.toString(), "inside", true, "signIn", signIn));
    }

    private static Map<String, Object> details(Member member) {
        Map<String, Object> details = new LinkedHashMap<>();
        details.put("name", member.name());
        details.put("email", address(member.id()));
        details.put("account", member.account());
        details.put("password", Cast.PASSWORD);
        details.put("roles", Member.list(member.roles()));
        details.put("desks", Member.list(member.desks()));
        details.put("groups", Member.list(member.groups()));
        return details;
    }

    private void profile(String person) throws IOException {
        JsonNode token = admin.post("/api/people/" + person + "/tokens", Map.of("label", "demo"));
        new Profile(service.toString(), token.path("token").asString()).save(profiles, person);
    }

    private Profile profileOf(String person) throws IOException {
        return profileOf(profiles, person);
    }

    /** The profile that was left for a person. */
    public static Profile profileOf(Path profiles, String person) throws IOException {
        java.util.Properties properties = new java.util.Properties();
        try (var reader = Files.newBufferedReader(profiles.resolve(person + ".properties"))) {
            properties.load(reader);
        }
        return new Profile(properties.getProperty("url"), properties.getProperty("token"));
    }
}

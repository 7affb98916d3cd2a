package servitor.demo;

import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import servitor.cli.Client;
import servitor.cli.Profile;
import servitor.cli.command.HandbookFolder;
import servitor.demo.Cast.Member;
import servitor.standins.CrewRegister;
import servitor.standins.Directory;
import servitor.standins.PayDatabase;
import servitor.standins.Standins;
import tools.jackson.databind.JsonNode;

/** Puts people, connections and the handbook into a service, all through its API, and leaves a profile per person. */
public final class Furnish {
    private static final String NOTE = "The demo handbook";

    private final URI service;
    private final Path profiles;
    private final Profile adminProfile;
    private final Client admin;

    /** Uses the token that the service left in its data folder at its first start. */
    public Furnish(URI service, Path data, Path profiles) throws IOException {
        this.service = service;
        this.profiles = profiles;
        this.adminProfile = new Profile(service.toString(), Files.readString(data.resolve("admin.token")));
        this.admin = new Client(adminProfile);
    }

    /** Does what hasn't been done yet; safe to repeat. */
    public void furnish(Path handbook, Standins standins) throws IOException {
        adminProfile.save(profiles, "admin");
        connect("fares", standins.fares().url());
        connect("models", standins.models().url());
        connect("kit", standins.kit().url());
        connect("directory", standins.directory().url(), Directory.USER, Directory.SECRET);
        connect("crew", standins.crew().url(), CrewRegister.USER, CrewRegister.SECRET);
        connect("pay", standins.pay().url(), PayDatabase.USER, PayDatabase.SECRET);
        JsonNode known = admin.get("/api/people");
        for (Member member : Cast.ALL) {
            boolean there = false;
            for (JsonNode person : known) {
                there |= person.path("id").asString().equals(member.id());
            }
            if (!there) {
                admin.put("/api/people/" + member.id(), details(member));
            }
            profile(member.id());
        }
        Client maren = new Client(profileOf("maren"));
        JsonNode newest = maren.get("/api/handbook/editions").path(0);
        if (!newest.isMissingNode() && !newest.path("note").asString("").equals(NOTE)) {
            return; // somebody has gone on from the demo's handbook: theirs stays in force
        }
        maren.post("/api/handbook/editions", Map.of("files", HandbookFolder.read(handbook), "note", NOTE));
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
        details.put("email", member.id() + "@skerryline.example");
        details.put("account", member.account());
        details.put("manager", Cast.MANAGERS.getOrDefault(member.id(), ""));
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

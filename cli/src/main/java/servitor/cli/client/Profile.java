package servitor.cli.client;

import java.io.IOException;
import java.io.Reader;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Map;
import java.util.Properties;
import org.jspecify.annotations.Nullable;

/** Where the service is and whose token to show. Kept as a file per profile that only its owner can read. */
public record Profile(String url, @Nullable String token) {
    static final String DEFAULT_URL = "http://127.0.0.1:8080";

    /** The user's folder of profiles. */
    public static Path folder(Map<String, String> environment) {
        String set = environment.get("SERVITOR_CONFIG");
        String base = environment.getOrDefault("XDG_CONFIG_HOME", environment.getOrDefault("HOME", ".") + "/.config");
        return Path.of(set != null ? set : base + "/servitor").resolve("profiles");
    }

    /** What a call is to use: named profile, else the environment, else the default address. */
    public static Profile choose(@Nullable String name, @Nullable String url, Map<String, String> environment) {
        if (name == null) {
            return new Profile(
                    url != null ? url : environment.getOrDefault("SERVITOR_URL", DEFAULT_URL),
                    environment.get("SERVITOR_TOKEN"));
        }
        if (!name.matches("[a-zA-Z0-9._-]+")) {
            throw new Trouble(ExitCode.WRONG_USAGE, "‘" + name + "’ can't be the name of a profile.");
        }
        Path file = folder(environment).resolve(name + ".properties");
        String demo = environment.get("SERVITOR_DEMO_PROFILES");
        if (!Files.exists(file) && demo != null) {
            file = Path.of(demo).resolve(name + ".properties");
        }
        Properties properties = new Properties();
        try (Reader reader = Files.newBufferedReader(file)) {
            properties.load(reader);
        } catch (IOException e) {
            throw new Trouble(
                    ExitCode.WRONG_USAGE,
                    "There is no profile ‘" + name + "’: " + file
                            + " can't be read. ‘servitor sign-in " + name
                            + "’ makes one; a demo makes one per person in its data folder.");
        }
        return new Profile(
                url != null ? url : properties.getProperty("url", DEFAULT_URL), properties.getProperty("token"));
    }

    /** Writes the profile under {@code name}, for its owner's eyes only. */
    public void save(Path folder, String name) throws IOException {
        Files.createDirectories(folder);
        Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwx------"));
        Path file = folder.resolve(name + ".properties");
        Files.deleteIfExists(file);
        Files.createFile(file, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
        Properties properties = new Properties();
        properties.setProperty("url", url);
        if (token != null) {
            properties.setProperty("token", token);
        }
        try (Writer writer = Files.newBufferedWriter(file)) {
            properties.store(writer, null);
        }
    }
}

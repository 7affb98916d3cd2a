package servitor.service.ledger;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.SQLSyntaxErrorException;
import java.sql.Statement;
import java.time.OffsetDateTime;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import org.jspecify.annotations.Nullable;
import servitor.core.json.Json;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEntry;
import servitor.core.trail.Verifier;
import servitor.service.OwnerOnly;
import tools.jackson.databind.JsonNode;

/**
 * Puts a backup into an empty data folder, and checks its whole trail before anybody starts a service on it. A program of
 * its own: {@code servitor restore BACKUP DIR}.
 */
public final class Restore {
    private static final String DATABASE = "ledger.mv.db";
    private static final String HEAD = "head";
    private static final String KEYS = "keys";
    /** Says to the service that starts on it that numbers and keys must not come back. */
    static final String MARK = "restored";

    private static final String USAGE = """
            Usage: servitor restore BACKUP DIR [--keys FILE]
            Puts a backup into an empty data folder and checks its whole trail; - as BACKUP for standard input.
              --keys FILE   the key file that connections' credentials were sealed with; it is in no backup""";

    private Restore() {}

    public static void main(String[] args) {
        boolean asked = args.length == 1 && List.of("--help", "-h").contains(args[0]);
        if (asked || args.length != 2 && !(args.length == 4 && args[2].equals("--keys"))) {
            (asked ? System.out : System.err).println(USAGE);
            System.exit(asked ? 0 : 2);
        }
        Path keys = args.length == 4 ? Path.of(args[3]) : null;
        Path folder = Path.of(args[1]).toAbsolutePath().normalize();
        System.exit(
                args[0].equals("-")
                        ? restoreStandardInput(folder, keys)
                        : restore(Path.of(args[0]), folder, keys, System.out, System.err));
    }

    /** By a file of its own, readable by its owner, as a backup is read from its end. */
    private static int restoreStandardInput(Path folder, @Nullable Path keys) {
        try {
            Path backup = Files.createTempFile("servitor-restore-", ".zip");
            try {
                try (OutputStream out = Files.newOutputStream(backup)) { // which keeps it readable by its owner alone
                    System.in.transferTo(out);
                }
                return restore(backup, folder, keys, System.out, System.err);
            } finally {
                Files.deleteIfExists(backup);
            }
        } catch (IOException e) {
            System.err.println("What came on standard input can't be read: " + e.getMessage());
            return 2;
        }
    }

    /** Does it, and gives the exit code: 0 when the backup is whole, 1 when it isn't, 2 when it can't be tried. */
    static int restore(Path backup, Path folder, @Nullable Path keys, PrintStream out, PrintStream err) {
        try {
            if (!Files.isRegularFile(backup)) {
                err.println("There is no file " + backup + ".");
                return 2;
            }
            if (Files.exists(folder.resolve(DATABASE))) {
                err.println(folder
                        + " holds a database already. Move it away or name an empty folder; nothing was changed.");
                return 2;
            }
            OwnerOnly.folder(folder);
            HeadRow head = unpack(backup, folder);
            String fault = verify(folder, head, out);
            if (fault != null) {
                err.println(
                        fault + " Don't start a service on it; the files in " + folder + " were left for looking at.");
                return 1;
            }
            Files.writeString(OwnerOnly.file(folder.resolve(MARK)), "entry " + head.seq() + System.lineSeparator());
            int code = keys(folder, keys, out, err);
            OwnerOnly.filesOf(folder);
            out.println("Start it with: servitor serve -Dservitor.data=" + folder);
            return code;
        } catch (IOException | SQLException e) {
            err.println(backup + " can't be restored: " + e.getMessage());
            return 1;
        }
    }

    /** Takes the two files out that a backup holds, whatever else is in it. */
    private static HeadRow unpack(Path backup, Path folder) throws IOException {
        try (ZipFile zip = new ZipFile(backup.toFile())) {
            for (String name : List.of(DATABASE, HEAD)) {
                ZipEntry entry = zip.getEntry(name);
                if (entry == null) {
                    throw new IOException("it holds no ‘" + name + "’, so it isn't a backup of Servitor's");
                }
                try (InputStream in = zip.getInputStream(entry)) {
                    Files.copy(in, folder.resolve(name));
                }
            }
        }
        return HeadFile.read(folder.resolve(HEAD)).orElseThrow(() -> new IOException("its head can't be read"));
    }

    private static @Nullable String verify(Path folder, HeadRow head, PrintStream out) throws SQLException {
        Verifier verifier = new Verifier();
        boolean met = false;
        try (Connection database = DriverManager.getConnection("jdbc:h2:" + folder.resolve("ledger"), "sa", "");
                Statement statement = database.createStatement();
                ResultSet all = statement.executeQuery(
                        "select t.*, d.salt, d.data from trail t left join trail_data d on d.seq = t.seq order by t.seq")) {
            while (all.next()) {
                RecordedEntry entry = entry(all);
                Optional<Verifier.Break> fault = verifier.next(entry);
                if (fault.isPresent()) {
                    return "The trail in the backup doesn't hold. " + fault.get();
                }
                met |= entry.entry().seq() == head.seq() && entry.entry().hash().equals(head.hash());
            }
        }
        Optional<Verifier.Break> missing = verifier.complete();
        if (missing.isPresent()) {
            return "The trail in the backup doesn't hold. " + missing.get();
        }
        if (!met) {
            return "The backup should hold entry " + head.seq() + " of the trail, and doesn't.";
        }
        out.println("Restored to " + folder + ". All " + verifier.verified() + " entries of the trail hold"
                + (verifier.withheld() > 0 ? ", " + verifier.withheld() + " of them without their data" : "")
                + "; head "
                + verifier.head() + ".");
        return null;
    }

    /** The credentials of connections open only with the key they were sealed with, which no backup holds. */
    private static int keys(Path folder, @Nullable Path keys, PrintStream out, PrintStream err)
            throws SQLException, IOException {
        Map<String, String> sealed = new TreeMap<>();
        try (Connection database = DriverManager.getConnection("jdbc:h2:" + folder.resolve("ledger"), "sa", "");
                Statement statement = database.createStatement();
                ResultSet all = statement.executeQuery("select name, sealed from connection where sealed <> ''")) {
            while (all.next()) {
                sealed.put(all.getString("name"), all.getString("sealed").split(":", 3)[1]);
            }
        } catch (SQLSyntaxErrorException e) {
            return 0; // a backup of a version that sealed nothing
        }
        if (sealed.isEmpty()) {
            return 0;
        }
        if (keys == null) {
            out.println("The credentials of " + String.join(", ", sealed.keySet())
                    + " need the key file that they were sealed with, which is in no backup: give it with --keys, put it at "
                    + folder.resolve(KEYS) + ", or set them anew.");
            return 0;
        }
        List<String> known = Files.readAllLines(keys).stream()
                .map(line -> line.strip().split(" ")[0])
                .toList();
        List<String> closed = sealed.entrySet().stream()
                .filter(one -> !known.contains(one.getValue()))
                .map(Map.Entry::getKey)
                .toList();
        if (!closed.isEmpty()) {
            err.println(keys + " doesn't hold the key of " + String.join(", ", closed)
                    + ": it is another, or an older one. It was not taken over.");
            return 1;
        }
        Files.copy(keys, folder.resolve(KEYS));
        out.println("The key file opens the credentials of all " + sealed.size() + " connections that have some.");
        return 0;
    }

    private static RecordedEntry entry(ResultSet row) throws SQLException {
        TrailEntry entry = new TrailEntry(
                row.getLong("seq"),
                row.getObject("at", OffsetDateTime.class).toInstant(),
                row.getString("actor"),
                row.getString("case_id"),
                row.getString("run_id"),
                row.getString("step"),
                row.getString("what"),
                row.getString("digest"),
                row.getString("previous"),
                row.getString("hash"));
        String data = row.getString("data");
        return new RecordedEntry(entry, row.getString("salt"), data == null ? null : Json.read(data, JsonNode.class));
    }
}

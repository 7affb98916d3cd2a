package servitor.service.ledger;

import java.io.IOException;
import java.io.InputStream;
import java.io.PrintStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.OffsetDateTime;
import java.util.List;
import java.util.Optional;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import servitor.core.json.Json;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEntry;
import servitor.core.trail.Verifier;
import servitor.service.ledger.Rows.HeadRow;
import tools.jackson.databind.JsonNode;

/**
 * Puts a backup into an empty data folder, and checks its whole trail before anybody starts a service on it. A program of
 * its own: {@code servitor restore BACKUP DIR}.
 */
public final class Restore {
    private static final String DATABASE = "ledger.mv.db";
    private static final String HEAD = "head";

    private Restore() {}

    public static void main(String[] args) {
        if (args.length != 2) {
            System.err.println("Usage: servitor restore BACKUP DIR");
            System.exit(2);
        }
        System.exit(restore(Path.of(args[0]), Path.of(args[1]).toAbsolutePath().normalize(), System.out, System.err));
    }

    /** Does it, and gives the exit code: 0 when the backup is whole, 1 when it isn't, 2 when it can't be tried. */
    static int restore(Path backup, Path folder, PrintStream out, PrintStream err) {
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
            Files.createDirectories(folder);
            HeadRow head = unpack(backup, folder);
            String fault = verify(folder, head, out);
            if (fault != null) {
                err.println(
                        fault + " Don't start a service on it; the files in " + folder + " were left for looking at.");
                return 1;
            }
            return 0;
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

    private static String verify(Path folder, HeadRow head, PrintStream out) throws SQLException {
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
        if (!met) {
            return "The backup should hold entry " + head.seq() + " of the trail, and doesn't.";
        }
        out.println("Restored to " + folder + ". All " + verifier.verified() + " entries of the trail hold"
                + (verifier.withheld() > 0 ? ", " + verifier.withheld() + " of them without their data" : "")
                + "; head "
                + verifier.head() + ".");
        out.println("Start it with: servitor serve -Dservitor.data=" + folder);
        return null;
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

package servitor.connectors.sql;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.OutputStream;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import javax.tools.ToolProvider;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.connectors.access.Access;
import servitor.connectors.access.Credentials;
import servitor.connectors.access.Deadline;
import servitor.core.engine.Reply;

/** A driver that nobody here knows, compiled and put into a folder. */
class DriversTests {
    private static final String DRIVER = """
            package harbour;
            import java.sql.*;
            import java.util.Properties;
            public final class HarbourDriver implements Driver {
                public boolean acceptsURL(String url) { return url.startsWith("jdbc:harbour:"); }
                public Connection connect(String url, Properties info) throws SQLException {
                    throw new SQLException("no entry", "28000");
                }
                public DriverPropertyInfo[] getPropertyInfo(String url, Properties info) { return new DriverPropertyInfo[0]; }
                public int getMajorVersion() { return 1; }
                public int getMinorVersion() { return 0; }
                public boolean jdbcCompliant() { return false; }
                public java.util.logging.Logger getParentLogger() { return null; }
            }
            """;

    @TempDir
    Path folder;

    private static Reply reach(Drivers drivers, boolean inside) {
        Access access =
                new Access(URI.create("jdbc:harbour://localhost:7/cranes"), new Credentials.Password("a", "b"), inside);
        return new QueryTool(drivers).test(access, Deadline.in(Duration.ofSeconds(5)));
    }

    private void jar(Path into) throws Exception {
        Path source = Files.writeString(
                Files.createDirectories(folder.resolve("harbour")).resolve("HarbourDriver.java"), DRIVER);
        assertThat(ToolProvider.getSystemJavaCompiler().run(null, null, null, source.toString()))
                .isZero();
        try (OutputStream out =
                        Files.newOutputStream(Files.createDirectories(into).resolve("harbour.jar"));
                ZipOutputStream jar = new ZipOutputStream(out)) {
            jar.putNextEntry(new ZipEntry("harbour/HarbourDriver.class"));
            jar.write(Files.readAllBytes(folder.resolve("harbour/HarbourDriver.class")));
            jar.putNextEntry(new ZipEntry("META-INF/services/java.sql.Driver"));
            jar.write("harbour.HarbourDriver".getBytes(java.nio.charset.StandardCharsets.UTF_8));
        }
    }

    @Test
    void aDriverOfTheFolderIsUsedAndOnlyInside() throws Exception {
        Path jars = folder.resolve("drivers");
        jar(jars);
        Files.writeString(jars.resolve("note.txt"), "no jar");
        assertThat(reach(Drivers.of(jars), true))
                .as("the driver was asked, and its own answer told")
                .isEqualTo(new Reply.Refused("refused", "the database doesn't accept the connection's credentials"));
        assertThat(reach(Drivers.of(jars), false)).isInstanceOf(Reply.Refused.class);
    }

    @Test
    void aDriverThatIsntThereIsSaidWithWhatToDo() {
        assertThat(reach(Drivers.of(folder.resolve("none")), true))
                .isInstanceOfSatisfying(
                        Reply.Refused.class,
                        refused -> assertThat(refused.detail())
                                .contains("no driver for jdbc:harbour", "folder ‘drivers’"));
    }

    @Test
    void noSettingsGoToADriverOfTheFolder() {
        for (String url :
                List.of("jdbc:harbour://h/x?init=run", "jdbc:harbour://h/x;init=run", "jdbc:harbour:file:/x")) {
            assertThat(Database.isServer(url)).as(url).isFalse();
        }
    }
}

package servitor.cli.command;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Answers.Backup;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.OwnFile;
import servitor.cli.client.Trouble;
import tools.jackson.databind.JsonNode;

/** {@code backup}: a copy of everything, made while the service works. */
@Command(
        name = "backup",
        description =
                "Make a backup of everything while the service works, and fetch it. ‘servitor restore’ puts it back.")
public final class BackupCommand implements java.util.concurrent.Callable<Integer> {
    @ParentCommand
    private Servitor servitor;

    @Parameters(paramLabel = "FILE", description = "Where to write it; must not be there yet.")
    private Path file;

    @Override
    public Integer call() {
        if (Files.exists(file)) {
            throw new Trouble(ExitCode.WRONG_USAGE, file + " is there already; name another file.");
        }
        Client client = servitor.client();
        JsonNode made = client.post("/api/backups", Map.of());
        Backup backup = Client.as(Backup.class, made);
        String name = backup.name();
        try (InputStream in = client.download("/api/backups/" + Client.part(name))) {
            OwnFile.write(file, in);
        } catch (FileAlreadyExistsException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, file + " is there already; name another file.");
        } catch (IOException e) {
            throw new Trouble(
                    ExitCode.NO,
                    "The backup ‘" + name + "’ was made and couldn't be written to " + file + ": " + e.getMessage());
        }
        if (!servitor.printed(made)) {
            servitor.out()
                    .println("Wrote " + file + ", " + backup.bytes() / 1024
                            + " KiB; it holds the trail up to entry "
                            + backup.seq() + " or more.");
            servitor.out()
                    .println("Put it back with: servitor restore " + file
                            + " DIR --keys KEYS (the key file is in no backup).");
        }
        return 0;
    }
}

package servitor.service;

import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import org.springframework.boot.context.properties.ConfigurationProperties;

/**
 * Settings of the service.
 *
 * @param data the folder that holds the database and what else is kept
 * @param database the address of a database that several processes share; empty for one of this process alone
 * @param keys the file with the keys that credentials are encrypted with; it belongs outside of every backup of the database
 * @param address where outside systems reach this service
 * @param durability what a commit has survived before it is acknowledged
 * @param lease how long work that a process has taken is believed to be in its hands; longer than the longest call
 * @param longestCall how long a call, or a model's answer with its repair, may take at most, whatever its tool allows
 * @param keepRuns how long runs that have ended, and the long texts of models, stay in the database; zero for ever
 * @param keepEvents how long is kept what messages of outside systems said
 * @param casesPerHour how many cases may be opened for one person within an hour
 * @param mailEvery how often mailboxes are looked at
 * @param followUnder the folders in which files may lie that connections have it follow; none unless told
 * @param acceptLoss whether to start although the database has lost entries that were acknowledged
 */
@ConfigurationProperties("servitor")
public record ServitorSettings(
        Path data,
        String database,
        Path keys,
        URI address,
        Durability durability,
        Duration lease,
        Duration longestCall,
        Duration keepRuns,
        Duration keepEvents,
        int casesPerHour,
        Duration mailEvery,
        List<Path> followUnder,
        boolean acceptLoss) {
    /** Whether other processes work on the same database. */
    public boolean isShared() {
        return !database.isBlank();
    }
}

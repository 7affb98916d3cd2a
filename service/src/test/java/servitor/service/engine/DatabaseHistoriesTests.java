package servitor.service.engine;

import org.junit.jupiter.api.Test;
import servitor.core.engine.Histories;

/** A few hundred of the simulated histories on the real database: it answers as the memory does, and the engine builds on it. */
class DatabaseHistoriesTests {
    private static final int HISTORIES = Integer.getInteger("database-histories", 100);

    @Test
    void theDatabaseDoesWhatTheMemoryDoes() {
        DatabaseMirror mirror = new DatabaseMirror();
        for (long seed = 0; seed < HISTORIES; seed++) {
            mirror.begin();
            try {
                Histories.play(mirror, seed);
            } catch (AssertionError | RuntimeException e) {
                throw new AssertionError("seed " + seed + ": " + e.getMessage(), e);
            }
        }
        System.out.println("Played " + HISTORIES + " histories on the database.");
    }
}

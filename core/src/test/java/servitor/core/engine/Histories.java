package servitor.core.engine;

/** Simulated histories for the tests of other stores. */
public final class Histories {
    private Histories() {}

    /** Plays the history of a seed in memory and on {@code mirror}; throws when anything doesn't hold, or differs. */
    public static void play(Mirror mirror, long seed) {
        History.playOn(mirror, seed);
    }
}

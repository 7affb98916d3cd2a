package servitor.core.trail;

import java.util.NavigableMap;
import java.util.Optional;
import java.util.TreeMap;

/**
 * Checks a trail entry by entry, in order. Stops at the first entry that doesn't hold: after it nothing is proven.
 * Not safe for use by several threads.
 */
public final class Verifier {

    private long seq;
    private String previous = TrailEntry.GENESIS;
    private long withheld;
    private final NavigableMap<Long, String> missing = new TreeMap<>();

    /**
     * Why a trail doesn't hold.
     *
     * @param seq the entry at fault
     * @param what what is wrong with it
     * @param stated what the trail says
     * @param calculated what it should say
     */
    public record Break(long seq, String what, String stated, String calculated) {
        @Override
        public String toString() {
            return "Entry " + seq + ": " + what + " (the trail says " + stated + ", calculated " + calculated + ").";
        }
    }

    /** Checks the next entry; empty when it holds. */
    public Optional<Break> next(RecordedEntry recorded) {
        TrailEntry entry = recorded.entry();
        if (entry.seq() != seq + 1) {
            return broken(
                    entry, "an entry is missing or out of order", String.valueOf(entry.seq()), String.valueOf(seq + 1));
        }
        if (!entry.previous().equals(previous)) {
            return broken(entry, "it doesn't follow the entry before it", entry.previous(), previous);
        }
        String hash = entry.calculateHash();
        if (!entry.hash().equals(hash)) {
            return broken(entry, "the entry was altered", entry.hash(), hash);
        }
        if (recorded.data() == null || recorded.salt() == null) {
            withheld++;
            missing.put(entry.seq(), entry.dataDigest());
        } else {
            String digest;
            try {
                digest = TrailEntry.digest(TrailEntry.salt(recorded.salt()), recorded.data());
            } catch (IllegalArgumentException e) {
                digest = "nothing: the salt isn't hexadecimal";
            }
            if (!entry.dataDigest().equals(digest)) {
                return broken(entry, "its data was altered", entry.dataDigest(), digest);
            }
        }
        if (entry.what().equals(TrailWord.ERASED.word()) && recorded.data() != null) {
            recorded.data().path("entries").forEach(erased -> missing.remove(erased.asLong(0)));
        }
        seq = entry.seq();
        previous = entry.hash();
        return Optional.empty();
    }

    /**
     * Whether nothing is missing that should be there, once every entry of a whole trail was checked: data is gone only where an
     * entry says that it was erased. An export withholds data from who may not see it, and is never whole in this sense.
     */
    public Optional<Break> complete() {
        return missing.isEmpty()
                ? Optional.empty()
                : Optional.of(new Break(
                        missing.firstKey(),
                        "its data is missing, and no entry says that it was erased",
                        missing.firstEntry().getValue(),
                        "nothing"));
    }

    private static Optional<Break> broken(TrailEntry entry, String what, String stated, String calculated) {
        return Optional.of(new Break(entry.seq(), what, stated, calculated));
    }

    /** How many entries hold so far. */
    public long verified() {
        return seq;
    }

    /** How many of them came without their data, so that only the chain itself was checked. */
    public long withheld() {
        return withheld;
    }

    /** The hash of the last entry that holds. */
    public String head() {
        return previous;
    }
}

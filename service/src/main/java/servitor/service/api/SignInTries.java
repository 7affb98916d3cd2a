package servitor.service.api;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;

/**
 * Tries to sign in, counted before they are checked, so that many at the same moment are no way around it: for each name and
 * address together, so that nobody locks somebody else out; for each address; and for each name, from wherever it is tried.
 */
final class SignInTries {
    private static final Duration PAUSE = Duration.ofMinutes(1);
    private static final int NAME_AND_ADDRESS = 8;
    private static final int ADDRESS = 60;
    private static final int NAME = 100;

    private final Clock clock;
    private final Cache<String, Tries> tries =
            Caffeine.newBuilder().maximumSize(50_000).build();

    SignInTries(Clock clock) {
        this.clock = clock;
    }

    /** Whether a password is looked at. */
    enum Answer {
        TRY,
        /** It isn't, from this try on. */
        LOCKED_NOW,
        LOCKED
    }

    private record Tries(int count, Instant last) {}

    /** Counts a try and says whether it is looked at. */
    Answer begin(String person, String address) {
        Answer both = count(person + " from " + address, NAME_AND_ADDRESS);
        Answer from = count("from " + address, ADDRESS);
        Answer name = count(person + " ", NAME);
        Answer worst = both.compareTo(from) >= 0 ? both : from;
        return worst.compareTo(name) >= 0 ? worst : name;
    }

    private Answer count(String key, int most) {
        Instant now = clock.instant();
        Tries after = tries.asMap().merge(key, new Tries(1, now), (old, one) -> {
            if (old.last().plus(PAUSE).isBefore(now)) {
                return one;
            }
            // a try that isn't looked at doesn't prolong the wait
            return new Tries(old.count() + 1, old.count() >= most ? old.last() : now);
        });
        return after.count() <= most ? Answer.TRY : after.count() == most + 1 ? Answer.LOCKED_NOW : Answer.LOCKED;
    }

    /** The right password was given: what was counted for this name from this address is forgotten. */
    void succeeded(String person, String address) {
        tries.invalidate(person + " from " + address);
        tries.asMap().computeIfPresent("from " + address, (key, old) -> new Tries(old.count() - 1, old.last()));
        tries.asMap().computeIfPresent(person + " ", (key, old) -> new Tries(old.count() - 1, old.last()));
    }
}

package servitor.service.lookback;

import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.Semaphore;
import org.springframework.stereotype.Service;
import servitor.core.rehearsal.LimitTry;
import servitor.core.rehearsal.LimitTry.Point;
import servitor.service.Unavailable;
import servitor.service.people.Person;

/** Tries other limits at past cases. One person at a time, as each case is decided again under every limit. */
@Service
public class LimitTries {
    private static final int MOST_CASES = 5_000;

    private final PastCases pastCases;
    private final Clock clock;
    private final Semaphore one = new Semaphore(1);

    LimitTries(PastCases pastCases, Clock clock) {
        this.pastCases = pastCases;
        this.clock = clock;
    }

    /**
     * Tries limits at the cases that somebody sees as staff.
     *
     * @throws Unavailable while somebody else tries some
     */
    public List<Point> at(Person person, LimitTry tries, Duration since) {
        if (!one.tryAcquire()) {
            throw new Unavailable("Somebody else tries limits just now. Try again in a moment.");
        }
        try {
            for (String id : pastCases.since(person, clock.instant().minus(since), null, MOST_CASES)) {
                pastCases
                        .find(id)
                        .map(PastCases.Found::past)
                        .filter(past -> tries.concerns(past.trail()))
                        .ifPresent(tries::add);
            }
            return tries.points();
        } finally {
            one.release();
        }
    }
}

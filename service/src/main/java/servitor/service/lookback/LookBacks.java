package servitor.service.lookback;

import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.stereotype.Service;
import servitor.core.handbook.Edition;
import servitor.core.rehearsal.LookBack;
import servitor.core.rehearsal.LookBack.Made;
import servitor.core.rehearsal.LookBack.NotKnowable;
import servitor.core.rehearsal.LookBack.Other;
import servitor.core.rehearsal.LookBack.Past;
import servitor.core.rehearsal.LookBack.Same;
import servitor.service.people.Person;

/**
 * Looks back, one case after the other, on a thread of its own that gives way to everything else. Each person has one at a time; it is kept in memory
 * until they begin another or the service ends.
 */
@Service
public class LookBacks implements DisposableBean {
    private static final Logger LOG = LoggerFactory.getLogger(LookBacks.class);
    private static final int MOST_CASES = 20_000;

    private final PastCases pastCases;
    private final Clock clock;
    private final Map<String, Job> jobs = new ConcurrentHashMap<>();
    private final ExecutorService worker = Executors.newSingleThreadExecutor(work -> {
        Thread thread = new Thread(work, "look-back");
        thread.setDaemon(true);
        thread.setPriority(Thread.MIN_PRIORITY);
        return thread;
    });

    LookBacks(PastCases pastCases, Clock clock) {
        this.pastCases = pastCases;
        this.clock = clock;
    }

    /**
     * What came of one case.
     *
     * @param made {@code same}, {@code other}, or {@code not-knowable}
     * @param step where it goes another way, or isn't knowable; empty for the same
     * @param after what would be decided now, or why it isn't knowable
     * @param sort what it comes to: {@code alone}, {@code asked}, {@code refused}, {@code told}, {@code people} or {@code way}; empty for the others
     */
    public record CaseMade(
            String caseId,
            String subject,
            String page,
            String made,
            String step,
            String before,
            String after,
            String sort,
            String end) {}

    /**
     * How far it has come.
     *
     * @param state {@code working}, {@code stopped} or {@code done}
     * @param cases how many there are
     * @param made of those that are done; what is decided the same is only counted
     */
    public record Progress(String by, String state, int cases, int done, int same, List<CaseMade> made) {
        public Progress {
            made = List.copyOf(made);
        }
    }

    /** One look back; guarded by itself. */
    private static final class Job {
        private final String by;
        private final Edition edition;
        private final LookBack lookBack;
        private final List<String> cases;
        private final List<CaseMade> made = new ArrayList<>();
        private int done;
        private int same;
        private boolean stopped;

        Job(String by, Edition edition, List<String> cases) {
            this.by = by;
            this.edition = edition;
            this.lookBack = new LookBack(edition);
            this.cases = cases;
        }

        synchronized Progress progress() {
            String state = done == cases.size() ? "done" : stopped ? "stopped" : "working";
            return new Progress(by, state, cases.size(), done, same, made);
        }

        synchronized void stop(boolean now) {
            stopped = now;
        }

        synchronized @Nullable String next() {
            return stopped || done == cases.size() ? null : cases.get(done);
        }

        synchronized void add(@Nullable CaseMade one) {
            done++;
            if (one != null && one.made().equals("same")) {
                same++;
            } else if (one != null) {
                made.add(one);
            }
        }
    }

    /**
     * Begins to look back by an edition, at the cases that somebody sees as staff; takes the place of an earlier look back of theirs.
     *
     * @param by what the edition is called
     * @param page only cases on which this page worked; null for all
     */
    public Progress begin(Person person, String by, Edition edition, Duration since, @Nullable String page) {
        stop(person);
        List<String> cases = pastCases.since(person, clock.instant().minus(since), page, MOST_CASES);
        Job job = new Job(by, edition, cases);
        jobs.put(person.id(), job);
        worker.execute(() -> work(job));
        return job.progress();
    }

    /** That of a person; empty when they began none. */
    public Optional<Progress> progress(Person person) {
        return Optional.ofNullable(jobs.get(person.id())).map(Job::progress);
    }

    /** Stops it; it can be resumed. */
    public void stop(Person person) {
        Optional.ofNullable(jobs.get(person.id())).ifPresent(job -> job.stop(true));
    }

    /** Goes on where it was stopped. */
    public void resume(Person person) {
        Optional.ofNullable(jobs.get(person.id())).ifPresent(job -> {
            job.stop(false);
            worker.execute(() -> work(job));
        });
    }

    /** One case, decided again by itself by the edition somebody looks back by; empty when there is nothing to decide. */
    public Optional<Beside> beside(Person person, String caseId) {
        return Optional.ofNullable(jobs.get(person.id()))
                .flatMap(job -> pastCases
                        .find(caseId)
                        .map(PastCases.Found::past)
                        .map(past -> new Beside(past, new LookBack(job.edition).decide(past))));
    }

    /** What was beside what would be. */
    public record Beside(Past past, Made made) {}

    private void work(Job job) {
        for (String id = job.next(); id != null; id = job.next()) {
            CaseMade made = null;
            try {
                made = decide(job.lookBack, id);
            } catch (RuntimeException e) {
                LOG.warn("The case {} can't be decided again; the others are.", id, e);
                made = new CaseMade(id, "", "", "not-knowable", "", "", "it broke while it was looked at", "", "");
            }
            job.add(made);
        }
    }

    private @Nullable CaseMade decide(LookBack lookBack, String id) {
        PastCases.Found found = pastCases.find(id).orElse(null);
        if (found == null) {
            return null;
        }
        Past past = found.past();
        if (past == null) {
            return new CaseMade(id, found.subject(), found.page(), "not-knowable", "", "", found.why(), "", "");
        }
        return told(id, found, past, lookBack.decide(past));
    }

    private static CaseMade told(String id, PastCases.Found found, Past past, Made made) {
        if (made instanceof Other other) {
            return new CaseMade(
                    id,
                    found.subject(),
                    found.page(),
                    "other",
                    other.step(),
                    other.before(),
                    other.after(),
                    other.sort().word(),
                    other.end());
        } else if (made instanceof NotKnowable not) {
            return new CaseMade(id, found.subject(), found.page(), "not-knowable", not.step(), "", not.why(), "", "");
        }
        return new CaseMade(
                id,
                found.subject(),
                found.page(),
                "same",
                "",
                "",
                "",
                "",
                ((Same) made).played().state());
    }

    @Override
    public void destroy() {
        worker.shutdownNow();
    }
}

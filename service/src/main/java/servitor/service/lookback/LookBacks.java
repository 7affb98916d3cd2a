package servitor.service.lookback;

import java.math.BigDecimal;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.stereotype.Service;
import servitor.core.engine.MemoryLedger;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Edition;
import servitor.core.handbook.House;
import servitor.core.prompt.Prompt;
import servitor.core.rehearsal.LookBack;
import servitor.core.rehearsal.LookBack.Broke;
import servitor.core.rehearsal.LookBack.Made;
import servitor.core.rehearsal.LookBack.NotKnowable;
import servitor.core.rehearsal.LookBack.Other;
import servitor.core.rehearsal.LookBack.Past;
import servitor.core.rehearsal.LookBack.Same;
import servitor.service.dispatch.StepAsk;
import servitor.service.people.Person;

/**
 * Looks back, one case after the other, on two threads of its own that give way to everything else: one reads, one decides. Each person has one at a time; it is kept in memory
 * until they begin another or the service ends.
 */
@Service
public class LookBacks implements DisposableBean {
    private static final Logger LOG = LoggerFactory.getLogger(LookBacks.class);
    private static final int MOST_CASES = 20_000;
    private static final int MILLION = 6; // digits

    private final PastCases pastCases;
    private final StepAsk stepAsk;
    private final Clock clock;
    private final Map<String, Job> jobs = new ConcurrentHashMap<>();
    private final ExecutorService worker = inTheBackground("look-back");
    private final ExecutorService reader = inTheBackground("look-back-reader");

    LookBacks(PastCases pastCases, StepAsk stepAsk, Clock clock) {
        this.stepAsk = stepAsk;
        this.pastCases = pastCases;
        this.clock = clock;
    }

    private static ExecutorService inTheBackground(String name) {
        return Executors.newSingleThreadExecutor(work -> {
            Thread thread = new Thread(work, name);
            thread.setDaemon(true);
            thread.setPriority(Thread.MIN_PRIORITY);
            return thread;
        });
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
     * @param toAsk what would have to be asked to know more; nothing when all that is known
     * @param asked how often a model was asked again
     * @param made of those that are done; what is decided the same is only counted
     */
    public record Progress(
            String by, String state, int cases, int done, int same, ToAsk toAsk, int asked, List<CaseMade> made) {
        public Progress {
            made = List.copyOf(made);
        }
    }

    /**
     * Models that would be told something else than they were.
     *
     * @param cases that aren't knowable because of that
     * @param tokens about so many in the first question of each
     * @param cost of these, answers not included; null where a model has no price
     * @param currency of the house
     */
    public record ToAsk(int cases, int tokens, @Nullable BigDecimal cost, String currency) {
        static ToAsk nothing(House house) {
            return new ToAsk(0, 0, BigDecimal.ZERO, house.currency());
        }

        ToAsk and(Prompt prompt, House house) {
            int more = Prompt.tokens(prompt.system().length() + prompt.user().length());
            House.Model model = house.models().get(prompt.model());
            BigDecimal price = model == null || model.price() == null
                    ? null
                    : model.price().asked().multiply(BigDecimal.valueOf(more)).movePointLeft(MILLION);
            return new ToAsk(
                    cases + 1, tokens + more, cost == null || price == null ? null : cost.add(price), currency);
        }
    }

    /** One look back; guarded by itself. */
    private static final class Job {
        private final String by;
        private final Edition edition;
        private final LookBack lookBack;
        private final List<String> cases;
        private final Map<String, PastCases.Found> underWay = new HashMap<>();
        private final Map<String, MemoryLedger.Counters> from = new ConcurrentHashMap<>();
        private final LookBack.@Nullable Models models;
        private final AtomicInteger asked;
        private final List<CaseMade> made = new ArrayList<>();
        private ToAsk toAsk;
        private int begun;
        private int done;
        private int same;
        private boolean stopped;

        Job(String by, Edition edition, List<String> cases, LookBack.@Nullable Models models, AtomicInteger asked) {
            this.models = models;
            this.asked = asked;
            this.by = by;
            this.edition = edition;
            this.toAsk = ToAsk.nothing(edition.handbook().house());
            this.lookBack = new LookBack(edition);
            this.cases = cases;
        }

        synchronized Progress progress() {
            String state = done == cases.size() ? "done" : stopped ? "stopped" : "working";
            return new Progress(by, state, cases.size(), done, same, toAsk, asked.get(), made);
        }

        synchronized void stop(boolean now) {
            stopped = now;
        }

        synchronized @Nullable String next() {
            return stopped || begun == cases.size() ? null : cases.get(begun++);
        }

        synchronized boolean stopped() {
            return stopped;
        }

        /** What was used of limits when a case met them. */
        MemoryLedger.Counters from(String caseId) {
            return from.getOrDefault(caseId, new MemoryLedger.Counters());
        }

        synchronized void lacks(Prompt prompt) {
            toAsk = toAsk.and(prompt, edition.handbook().house());
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
     * @param mostAsks how often a model may be asked again; 0 for never
     */
    public Progress begin(
            Person person, String by, Edition edition, Duration since, @Nullable String page, int mostAsks) {
        stop(person);
        List<String> cases = pastCases.since(person, clock.instant().minus(since), page, MOST_CASES);
        AtomicInteger asked = new AtomicInteger();
        Job job = new Job(by, edition, cases, mostAsks == 0 ? null : models(person, edition, asked, mostAsks), asked);
        jobs.put(person.id(), job);
        worker.execute(() -> work(job));
        return job.progress();
    }

    /** Models, asked for somebody, each time on the trail, up to so many times. */
    private LookBack.Models models(Person person, Edition edition, AtomicInteger asked, int most) {
        return (id, prompt, agent, step) -> {
            Agent of = edition.handbook().agents().get(agent);
            if (of == null || asked.get() >= most) {
                return Optional.empty();
            }
            asked.incrementAndGet();
            try {
                return Optional.of(stepAsk.ask(edition, of, step, prompt, id, person.id()));
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return Optional.empty();
            }
        };
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
                        .map(past -> new Beside(past, new LookBack(job.edition, job.from(caseId)).decide(past))));
    }

    /** What was beside what would be. */
    public record Beside(Past past, Made made) {}

    private void work(Job job) {
        Read next = read(job);
        while (next != null) {
            Read now = next;
            next = read(job);
            try {
                take(job, now.id(), now.found().join().orElse(null));
            } catch (RuntimeException e) {
                broke(job, now.id(), e);
            }
        }
        if (!job.stopped()) {
            job.lookBack.rest().forEach(decided -> add(job, decided));
        }
    }

    /** A case that is read from the database, while the one before it is decided. */
    private record Read(String id, CompletableFuture<Optional<PastCases.Found>> found) {}

    private @Nullable Read read(Job job) {
        String id = job.next();
        return id == null ? null : new Read(id, CompletableFuture.supplyAsync(() -> pastCases.find(id), reader));
    }

    private static void broke(Job job, String id, RuntimeException e) {
        job.underWay.remove(id);
        LOG.warn("The case {} can't be decided again; the others are.", id, e);
        job.add(new CaseMade(id, "", "", "not-knowable", "", "", "it broke while it was looked at", "", ""));
    }

    private static void take(Job job, String id, PastCases.@Nullable Found found) {
        if (found == null) {
            job.add(null);
        } else if (found.past() == null) {
            job.add(new CaseMade(id, found.subject(), found.page(), "not-knowable", "", "", found.why(), "", ""));
        } else {
            job.underWay.put(id, found);
            job.lookBack.take(found.past(), job.models).forEach(decided -> add(job, decided));
        }
    }

    private static void add(Job job, LookBack.Decided decided) {
        String id = decided.past().caseId();
        PastCases.Found found = Objects.requireNonNull(job.underWay.remove(id));
        if (decided.made() instanceof Broke broke) {
            broke(job, id, broke.why());
            return;
        }
        if (decided.made() instanceof NotKnowable not && not.prompt() != null) {
            job.lacks(not.prompt());
        }
        if (!(decided.made() instanceof Same)) {
            job.from.put(id, decided.from());
        }
        job.add(told(id, found, decided.made()));
    }

    private static CaseMade told(String id, PastCases.Found found, Made made) {
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
        reader.shutdownNow();
    }
}

package servitor.core.engine;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.stream.Stream;
import servitor.core.SchemaValues;
import servitor.core.approval.Answer;
import servitor.core.approval.Answer.Says;
import servitor.core.approval.ApprovalState;
import servitor.core.approval.Via;
import servitor.core.engine.EngineStore.KeptRun;
import servitor.core.engine.Grouping.Change;
import servitor.core.engine.MemoryStore.Fault;
import servitor.core.engine.Work.Stage;
import servitor.core.handbook.Binding;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.About;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.rehearsal.LookBack;
import servitor.core.run.Command;
import servitor.core.run.RunInput;
import servitor.core.run.RunState;
import servitor.core.run.RunStatus;
import servitor.core.run.Situation;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;

/**
 * One history of a house made up by chance, out of a seed: several processes share the store, work is claimed, carried
 * out, lost and taken up again, outside systems fail, people answer late and twice, processes crash between any two
 * writes. Then the weather calms down, and everything that must hold is looked at.
 */
public final class History {
    private static final int PROCESSES = 3;
    private static final int STORMY = 60;
    private static final int CALM = 600;
    private static final List<String> PEOPLE = List.of("osei", "lucja", "sunniva");

    /** A process dies here. */
    private static final class Crash extends Error {
        private static final long serialVersionUID = 1;

        Crash() {
            super("crash", null, false, false);
        }
    }

    /** Something that must hold and doesn't. */
    static final class Broken extends AssertionError {
        private static final long serialVersionUID = 1;

        Broken(String what) {
            super(what);
        }
    }

    private final Mirror mirror;
    private final Random random;
    private final Mutation mutation;
    private final Manner manner;
    private final Edition edition;
    private final World world;
    private final MemoryStore store;
    private final Engine engine;
    private final Engine claiming;
    private final ApprovalAnswers answering;
    private final RunControl steering;
    private final List<Process> processes = new ArrayList<>();
    private final List<Runnable> acknowledged = new ArrayList<>();
    private final Set<String> acknowledgedEntries = new HashSet<>();
    private Instant now = Instant.parse("2026-03-28T20:00:00Z"); // the clocks go forward in the night that follows
    private Duration elapsed = Duration.ZERO; // by a clock that only goes forward
    private boolean nested;
    private boolean passing;
    private int cases;

    /** A way to break the engine on purpose. */
    enum Mutation {
        NONE,
        /** Two processes append to the trail at the same moment, and both succeed. */
        HEAD_NOT_FENCED,
        /** Some commits are acknowledged and kept nowhere. */
        COMMIT_FORGETS,
        /** A call that must not be repeated is tried again when nobody knows what came of it. */
        UNKNOWN_IS_TRIED_AGAIN,
        /** Such a call is repeated when the process that sent it is gone. */
        RECOVERY_REPEATS,
        /** Work that somebody has taken is taken once more. */
        TAKEN_TWICE,
        /** What was taken long ago is sent all the same. */
        SENT_AFTER_THE_LEASE,
        /** Nothing is remembered of what limits have been used. */
        LIMITS_FORGOTTEN,
        /** Work is handed out before that it was taken is durable. */
        HANDED_OUT_BEFORE_COMMIT
    }

    /** How the house keeps its times. */
    private enum Manner {
        /** The clock is set back now and then, what is due is seen late, and things are stopped at once. */
        ADRIFT,
        /** The same, by the clock of the service, which never goes back. */
        LATE,
        /** What is due happens when it is due, and nobody stops anything. */
        PUNCTUAL
    }

    History(long seed, Edition edition, Mutation mutation) {
        this(seed, edition, mutation, Mirror.NONE, Manner.ADRIFT);
    }

    /** One in which nobody stops anything, and what is due happens when it is due. */
    public static History punctual(long seed, Edition edition) {
        return new History(seed, edition, Mutation.NONE, Mirror.NONE, Manner.PUNCTUAL);
    }

    /** One in which timers are late, and things are stopped at once. */
    public static History late(long seed, Edition edition) {
        return new History(seed, edition, Mutation.NONE, Mirror.NONE, Manner.LATE);
    }

    private History(long seed, Edition edition, Mutation mutation, Mirror mirror, Manner manner) {
        this.manner = manner;
        this.mirror = mirror;
        this.random = new Random(seed);
        this.mutation = mutation;
        this.edition = edition;
        this.world = new World(random);
        this.store = new MemoryStore(this::tick, new Weather(), mirror);
        this.engine = new Engine(new OneEdition(edition));
        this.claiming = mutation == Mutation.RECOVERY_REPEATS
                ? new Engine(new OneEdition(Mutations.everythingRepeatable(edition)))
                : engine;
        this.answering = new ApprovalAnswers(engine);
        this.steering = new RunControl(engine);
        for (int i = 0; i < PROCESSES; i++) {
            processes.add(new Process());
        }
    }

    /** No two changes are of the same moment, but for what is due at it. */
    private Instant tick() {
        now = passing ? now : now.plusNanos(1_000);
        return now;
    }

    private boolean isPunctual() {
        return manner == Manner.PUNCTUAL;
    }

    private boolean happens(int oneIn) {
        return random.nextInt(oneIn) == 0;
    }

    /** Crashes and other processes come in between, unless the weather is calm. */
    private final class Weather implements MemoryStore.Faults {
        @Override
        public Fault broken() {
            return switch (mutation) {
                case HEAD_NOT_FENCED -> Fault.HEAD_NOT_FENCED;
                case COMMIT_FORGETS -> happens(20) ? Fault.COMMIT_FORGETS : Fault.NONE;
                default -> Fault.NONE;
            };
        }

        @Override
        public void beforeCommit() {
            if (!world.calm && !nested) {
                if (mirror == Mirror.NONE && happens(12)) { // a database has one transaction at a time here
                    nested = true; // another process is faster
                    try {
                        something(random.nextInt(PROCESSES));
                    } finally {
                        nested = false;
                    }
                }
                crashPerhaps();
            }
        }

        @Override
        public void afterCommit() {
            if (!world.calm && !nested) {
                crashPerhaps();
            }
        }

        private void crashPerhaps() {
            if (happens(40)) {
                throw new Crash();
            }
        }
    }

    /** One process of the service: what it has in hand is lost when it crashes. */
    private final class Process {
        private final String owner = "p" + store.nextNumber();
        private final WorkLeases claims =
                new WorkLeases(claiming, owner, WorkLeases.LEASE, WorkLeases.LONGEST_CALL, random);
        private final Grouping<EngineStore> grouping = new Grouping<>(store.asSeenByAProcess());
        private final List<Work> inHand = new ArrayList<>();
        private final Map<String, Duration> since = new HashMap<>();
        private final List<Runnable> results = new ArrayList<>();
        private final List<Change<EngineStore, ?>> waiting = new ArrayList<>();

        /** Puts a change into the next group; what is to be checked once it is acknowledged stands in {@code then}. */
        private <R> CompletableFuture<R> submit(Function<EngineStore, R> work) {
            Change<EngineStore, R> change = new Change<>(work);
            waiting.add(change);
            return change.acknowledged();
        }

        private void commit() {
            while (!waiting.isEmpty()) {
                // where it must be told what was first, no two things are of the same moment
                List<Change<EngineStore, ?>> next = isPunctual() ? waiting.subList(0, 1) : waiting;
                List<Change<EngineStore, ?>> group = new ArrayList<>(next);
                next.clear();
                grouping.commit(group);
                group.forEach(change -> change.acknowledged()
                        .handle((result, error) -> {
                            if (error != null && !(error instanceof LostRace) && !(error instanceof RunRefused)) {
                                throw (Broken) new Broken("a change failed: " + error).initCause(error);
                            }
                            return null;
                        })
                        .join());
                rememberAcknowledged();
            }
        }

        private void claim() {
            claim(work -> !(isPunctual() && work.command() instanceof Command.SetTimer), 1 + random.nextInt(4));
        }

        private void timers() {
            claim(work -> work.command() instanceof Command.SetTimer, Integer.MAX_VALUE);
            while (!inHand.isEmpty()) {
                carryOut();
            }
            tellResults();
        }

        private void claim(Predicate<Work> which, int most) {
            List<Work> due = store.all(Work.class).stream()
                    .filter(which)
                    .filter(work -> work.stage() == Stage.PENDING
                            || mutation == Mutation.TAKEN_TWICE && work.stage() == Stage.TAKEN)
                    .filter(work -> !work.due().isAfter(now))
                    .sorted(Comparator.comparing(Work::due))
                    .limit(most)
                    .toList();
            if (!due.isEmpty()) {
                due.forEach(work -> since.put(work.id(), elapsed));
                if (mutation == Mutation.HANDED_OUT_BEFORE_COMMIT) {
                    submit(books -> inHand.addAll(claims.take(books, due)));
                } else {
                    submit(books -> claims.take(
                                    mutation == Mutation.TAKEN_TWICE ? Mutations.givingTwice(books) : books, due))
                            .thenAccept(inHand::addAll);
                }
                commit();
            }
        }

        private void carryOut() {
            if (!inHand.isEmpty()) {
                Work work = inHand.remove(random.nextInt(inHand.size()));
                if (!claims.mayBeSent(elapsed.minus(since.get(work.id())))
                        && mutation != Mutation.SENT_AFTER_THE_LEASE) {
                    return;
                }
                if (!world.calm && !nested && happens(60)) {
                    results.add(() -> submit(books -> {
                        claims.broke(books, work, "broken by chance");
                        return null;
                    }));
                    return;
                }
                RunState run = store.all(KeptRun.class).stream()
                        .map(KeptRun::state)
                        .filter(one -> one.id().equals(work.run()))
                        .findFirst()
                        .orElseThrow();
                if (engine.stopping().heldBy(stops(), work, run).isPresent()) {
                    results.add(() -> submit(books -> {
                        claims.holdBack(books, work);
                        return null;
                    }));
                    return;
                }
                Outcome outcome = outcome(work);
                results.add(() -> submit(books -> {
                    claims.settle(
                            mutation == Mutation.LIMITS_FORGOTTEN ? Mutations.forgettingLimits(books) : books,
                            work,
                            outcome);
                    return null;
                }));
            }
        }

        private void tellResults() {
            results.forEach(Runnable::run);
            results.clear();
            commit();
        }

        private void recover() {
            store.all(Work.class).stream()
                    .filter(work ->
                            work.stage() == Stage.TAKEN && work.leaseUntil().isBefore(now))
                    .forEach(work -> submit(books -> {
                        claims.takeUp(books, work);
                        return null;
                    }));
            commit();
        }

        private void expire() {
            store.all(KeptApproval.class).stream()
                    .filter(kept -> kept.state() == ApprovalState.OPEN
                            && kept.due() != null
                            && !kept.due().isAfter(now))
                    .forEach(kept -> submit(books -> {
                        answering.expire(books, kept.id());
                        return null;
                    }));
            store.all(MemoryBooks.Reminder.class).stream()
                    .filter(reminder -> reminder.at() != null && !reminder.at().isAfter(now))
                    .forEach(reminder -> submit(books -> {
                        answering.remind(books, reminder.approval(), 0);
                        return null;
                    }));
            commit();
        }
    }

    /** What a worker meets when it carries out work: a system outside, a model, or the clock. */
    private Outcome outcome(Work work) {
        if (work.command() instanceof Command.SetTimer) {
            return new Outcome.Done(new RunInput.TimeUp(work.id()));
        } else if (work.command() instanceof Command.AskModel ask) {
            if (!world.calm && happens(8)) {
                return happens(2)
                        ? new Outcome.TryAgain(Problem.UNAVAILABLE, "the model is away", false)
                        : new Outcome.Done(new RunInput.ModelFailed(ask.id(), Problem.INVALID, "by chance", 5));
            }
            return new Outcome.Done(new RunInput.ModelAnswered(
                    ask.id(),
                    "m",
                    SchemaValues.value(ask.prompt().contract().schema(), "Some words of a machine, made up.", random),
                    10));
        }
        ProposedCall call = ((Command.CallTool) work.command()).call();
        mustBeOnTheTrail(work.key());
        Tool tool = edition.handbook().tools().get(call.tool());
        if (tool.binding() instanceof Binding.BuiltIn) {
            return new Outcome.Done(new RunInput.ToolAnswered(work.id(), Json.object()));
        }
        Tool seen = mutation == Mutation.UNKNOWN_IS_TRIED_AGAIN ? Mutations.repeatable(tool) : tool;
        boolean talks = work.attempts() % 2 == 1;
        return Outcome.of(
                seen,
                work.id(),
                call.args(),
                talks ? world.talk(tool, call, work.key()) : world.call(tool, call, work.key()));
    }

    /** Nothing leaves a process before that it is sent is durably on the trail, after a verdict that lets it. */
    private void mustBeOnTheTrail(String key) {
        boolean there = store.trail.stream()
                .anyMatch(entry -> entry.entry().what().equals("call-sent")
                        && entry.data().path("key").asString().equals(key));
        if (!there) {
            throw new Broken("the call " + key + " left before it was on the trail");
        }
    }

    /** Plays the whole history and checks it; throws {@link Broken} when something doesn't hold. */
    public void play() {
        for (int i = 0; i < STORMY; i++) {
            int at = random.nextInt(PROCESSES);
            try {
                something(at);
            } catch (Crash e) {
                processes.set(at, new Process());
            }
        }
        world.calm = true;
        if (cases == 0) {
            openCase(processes.get(0));
        }
        for (int i = 0; i < CALM && !everythingHasEnded(); i++) {
            calmly(processes.get(i % PROCESSES));
        }
        acknowledged.forEach(Runnable::run);
        new Invariants(store, world, edition).check(acknowledgedEntries);
        mirror.check(store.trail.size());
    }

    private void something(int at) {
        Process process = processes.get(at);
        if (cases == 0) {
            openCase(process);
            return;
        }
        switch (random.nextInt(17)) {
            case 0 -> {
                if (cases < 2) {
                    openCase(process);
                }
            }
            case 1, 2 -> process.claim();
            case 3, 4 -> process.carryOut();
            case 5, 6 -> process.tellResults();
            case 7, 8 -> { // one process gets on without anybody in between
                process.claim();
                process.carryOut();
                process.tellResults();
            }
            case 9, 10, 11 -> answerSomething(process);
            case 12 -> timePasses();
            case 13 -> process.recover();
            case 14 -> {
                process.expire();
                mend(process);
            }
            case 15 -> {
                if (!isPunctual()) { // what is stopped is late
                    stopOrLetGoOn(process);
                }
            }
            default -> somethingComes(process);
        }
    }

    private List<Stop> stops() {
        return store.all(MemoryBooks.KeptStop.class).stream()
                .filter(kept -> !kept.lifted())
                .map(MemoryBooks.KeptStop::stop)
                .toList();
    }

    /** Somebody stops a tool, the agent, the page or the connection at once, or lets it go on. */
    private void stopOrLetGoOn(Process process) {
        Stopping stopping = engine.stopping();
        List<Stop> stops = stops();
        process.submit(books -> {
            if (stops.isEmpty()) {
                Stop.What what = Stop.What.values()[random.nextInt(4)];
                String name = List.of("clerk", "shop.pay", "shop", "main").get(what.ordinal());
                stopping.stop(books, new Stop(what, name, "by chance", "sunniva", books.now()));
            } else {
                stopping.lift(books, stops.get(0), "sunniva", "by chance");
            }
            return null;
        });
        process.commit();
    }

    private void calmly(Process process) {
        if (!stops().isEmpty()) {
            stopOrLetGoOn(process);
        }
        process.recover();
        process.expire();
        process.claim();
        while (!process.inHand.isEmpty()) {
            process.carryOut();
        }
        process.tellResults();
        for (KeptRun kept : store.all(KeptRun.class)) {
            if (kept.state().status() == RunStatus.IN_DOUBT) {
                settleDoubt(process, kept.state());
            }
        }
        for (KeptRun kept : store.all(KeptRun.class)) {
            if (kept.state().isPaused()) {
                process.submit(books -> {
                    steering.resume(books, kept.state().id(), "sunniva");
                    return null;
                });
                process.commit();
            }
        }
        answerSomething(process);
        somethingComes(process);
        mend(process);
        pass(Duration.ofMinutes(20));
    }

    /** Time passes. Where everything happens in time, what is due on the way happens when it is due. */
    private void pass(Duration by) {
        Instant until = now.plus(by);
        if (isPunctual()) {
            passing = true;
            nested = true; // nobody comes in between, and nothing crashes
            Process prompt = new Process();
            Set<String> seen = new HashSet<>();
            for (Due due = firstDue(seen); due != null && !due.at().isAfter(until); due = firstDue(seen)) {
                seen.add(due.id()); // what a paused run holds back stays where it is
                now = due.at().isAfter(now) ? due.at() : now;
                prompt.timers();
                prompt.expire();
            }
            nested = false;
            passing = false;
        }
        now = until.isAfter(now) || !isPunctual() ? until : now;
        elapsed = by.isNegative() ? elapsed : elapsed.plus(by);
    }

    private record Due(String id, Instant at) {}

    private Due firstDue(Set<String> but) {
        Stream<Due> timers = store.all(Work.class).stream()
                .filter(work -> work.stage() == Stage.PENDING && work.command() instanceof Command.SetTimer)
                .map(work -> new Due(work.id(), work.due()));
        Stream<Due> approvals = store.all(KeptApproval.class).stream()
                .filter(kept -> kept.state() == ApprovalState.OPEN && kept.due() != null)
                .map(kept -> new Due(kept.id(), kept.due()));
        return Stream.concat(timers, approvals)
                .filter(due -> !but.contains(due.id()))
                .min(Comparator.comparing(Due::at))
                .orElse(null);
    }

    private void timePasses() {
        if (isPunctual() && nested) {
            return; // a commit is on its way, and takes no time
        }
        Duration by = switch (random.nextInt(5)) {
            case 0 -> Duration.ofMinutes(4);
            case 1 -> Duration.ofHours(3);
            case 2 -> Duration.ofMinutes(manner == Manner.ADRIFT ? -2 : 2);
            case 3 -> Duration.ofDays(1);
            default -> Duration.ofSeconds(20);
        };
        pass(by);
    }

    private void openCase(Process process) {
        String id = "C-" + ++cases;
        var fields = Json.object().put("amount", 100.0).put("ref", "thing " + cases);
        process.submit(books -> {
                    store.openCase(books, id, "request", fields);
                    return engine.open(books, id, "request");
                })
                .thenAccept(run -> acknowledged.add(() -> {
                    if (!store.things.containsKey("KeptRun " + run.orElseThrow())) {
                        throw new Broken("the run of " + id + " was acknowledged and is lost");
                    }
                }));
        process.commit();
    }

    private void answerSomething(Process process) {
        List<KeptApproval> all = store.all(KeptApproval.class).stream()
                .filter(kept -> kept.state() == ApprovalState.OPEN || !world.calm)
                .toList();
        if (all.isEmpty()) {
            return;
        }
        KeptApproval kept = all.get(random.nextInt(all.size()));
        Says says = happens(4) ? Says.DECLINE : happens(5) ? Says.FEEDBACK : Says.APPROVE;
        Map<String, String> texts = new HashMap<>();
        if (says == Says.APPROVE && happens(4)) {
            kept.request().texts().keySet().forEach(key -> texts.put(key, "Edited by a person."));
        }
        String digest = !world.calm && happens(10) ? "stale" : kept.request().digest();
        Answer answer = new Answer(
                PEOPLE.get(random.nextInt(PEOPLE.size())),
                Set.of("leads", "seniors", "desk"),
                Set.of(),
                says,
                digest,
                "because",
                texts,
                null,
                Via.CONSOLE);
        int times = happens(6) ? 2 : 1;
        for (int i = 0; i < times; i++) {
            process.submit(books -> answering.answer(books, kept.id(), answer));
        }
        process.commit();
    }

    /** What comes stands on the trail of its case. */
    private static TrailEvent told(String what) {
        boolean reply = what.equals("reply");
        return new TrailEvent(
                "person:ines",
                reply ? TrailWord.NOTE_ADDED : TrailWord.EVENT_REPORTED,
                "",
                reply
                        ? Json.object().put("audience", "requester").put("text", "Yes.")
                        : Json.object().put("name", "come").set("data", Json.object()));
    }

    private void somethingComes(Process process) {
        store.all(KeptRun.class).stream()
                .map(KeptRun::state)
                .filter(run -> run.pending() != null && run.pending().kind() == RunState.Pending.Kind.ARRIVAL)
                .findAny()
                .ifPresent(run -> {
                    TracedValue value = TracedValue.of(
                            Json.object()
                                    .put("text", "Yes.")
                                    .put("by", "Ines")
                                    .put("name", "come")
                                    .put("at", now.toString()),
                            Origin.REQUESTER);
                    String what = String.valueOf(run.pending().what());
                    process.submit(books -> {
                        books.trail(run.caseId(), "", told(what));
                        return engine.arrived(books, run.caseId(), what, "come", value);
                    });
                    process.commit();
                });
        if (!world.calm && happens(4)) {
            List<KeptRun> runs = store.all(KeptRun.class);
            if (!runs.isEmpty()) {
                steer(process, runs.get(random.nextInt(runs.size())).state());
            }
        }
    }

    private void steer(Process process, RunState run) {
        if (run.status() == RunStatus.IN_DOUBT) {
            settleDoubt(process, run);
        } else if (happens(3)) {
            process.submit(books -> {
                if (run.isPaused()) {
                    steering.resume(books, run.id(), "sunniva");
                } else {
                    steering.pause(books, run.id(), "sunniva", "wait a moment");
                }
                return null;
            });
            process.commit();
        } else if (happens(6)) {
            process.submit(books -> {
                steering.advise(books, run.id(), "sunniva", "Be kind.");
                return null;
            });
            process.commit();
        } else if (happens(10)) {
            process.submit(books -> {
                steering.stop(books, run.id(), "sunniva", "enough");
                return null;
            });
            process.commit();
        }
    }

    /** Somebody sees to something that went wrong. */
    private void mend(Process process) {
        List<MemoryBooks.KeptTrouble> all = store.all(MemoryBooks.KeptTrouble.class).stream()
                .filter(kept -> kept.by() == null)
                .toList();
        if (all.isEmpty()) {
            return;
        }
        Trouble trouble = all.get(random.nextInt(all.size())).trouble();
        String id = trouble.id();
        int how = random.nextInt(world.calm ? 7 : 4);
        process.submit(books -> {
            if (how == 0) {
                steering.retry(books, id, "sunniva", "once more");
            } else if (how == 1) {
                steering.skip(books, id, "sunniva", "not needed", null);
            } else if (how == 2) {
                String note = "N-" + id + "-" + store.trail.size();
                steering.resolve(
                        books,
                        trouble.caseId(),
                        "sunniva",
                        new EngineStore.Note(note, "person:sunniva", "staff", false, "done by hand"));
            } else {
                steering.takeOver(books, id, "sunniva", "I do it myself");
            }
            return null;
        });
        process.commit();
    }

    /** A person looks into the system outside and says what is true there. */
    private void settleDoubt(Process process, RunState run) {
        String key = run.key(run.pending().id());
        boolean happened = world.wasDone(key);
        process.submit(books -> {
            steering.settle(
                    books, run.id(), "sunniva", happened, happened ? world.answerOf(key) : Json.object(), "I looked.");
            return null;
        });
        process.commit();
    }

    private boolean everythingHasEnded() {
        return store.all(KeptRun.class).stream()
                        .allMatch(kept -> kept.state().status().ended())
                && store.all(MemoryBooks.KeptTrouble.class).stream().allMatch(kept -> kept.by() != null)
                && processes.stream().allMatch(process -> process.inHand.isEmpty());
    }

    /** Its cases, in the order in which they were opened, as somebody finds them who looks back. */
    public List<LookBack.Past> pasts() {
        List<String> opened = store.trail.stream()
                .filter(entry -> entry.entry().what().equals(TrailWord.CASE_OPENED.word()))
                .map(entry -> entry.entry().caseId())
                .toList();
        return opened.stream().map(this::past).toList();
    }

    private LookBack.Past past(String id) {
        List<RecordedEntry> trail = store.trail.stream()
                .filter(entry -> entry.entry().caseId().equals(id))
                .toList();
        Situation is = MemoryStore.aCase(id, "request", trail.get(0).data().get("fields"));
        Situation.CaseView view = is.view();
        Situation.Requester ines = is.requester();
        About about = new About(
                view.kind(),
                null,
                view.subject(),
                view.text(),
                view.language(),
                view.channel(),
                view.priority(),
                view.fields(),
                List.of(),
                new Rehearsal.Requester(
                        ines.id(), ines.name(), ines.account(), ines.manager(), ines.groups(), ines.proof()),
                List.of(),
                trail.get(0).entry().at());
        return new LookBack.Past(id, about, edition.handbook(), trail, "", name -> null, store.ledger.texts()::get);
    }

    private void rememberAcknowledged() {
        for (int i = acknowledgedEntries.size(); i < store.trail.size(); i++) {
            acknowledgedEntries.add(store.trail.get(i).entry().hash());
        }
    }

    /** What happened, for people who look for a fault. */
    String story() {
        return store.trail.stream()
                .map(entry -> entry.entry().at() + " " + entry.entry().runId() + " ‘"
                        + entry.entry().step() + "’ " + entry.entry().what() + " " + entry.data())
                .map(line -> line.length() > 240 ? line.substring(0, 240) + "…" : line)
                .collect(java.util.stream.Collectors.joining("\n"));
    }

    /** Plays the history of a seed on another store as well. */
    static void playOn(Mirror mirror, long seed) {
        new History(seed, RandomHandbook.edition(seed % 10), Mutation.NONE, mirror, Manner.ADRIFT).play();
    }
}

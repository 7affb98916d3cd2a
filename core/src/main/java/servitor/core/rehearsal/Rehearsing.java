package servitor.core.rehearsal;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.ApprovalState;
import servitor.core.engine.Engine;
import servitor.core.engine.EngineStore.KeptRun;
import servitor.core.engine.KeptApproval;
import servitor.core.engine.MemoryBooks;
import servitor.core.engine.MemoryLedger;
import servitor.core.engine.Outcome;
import servitor.core.engine.PublishedEditions;
import servitor.core.engine.Reply;
import servitor.core.engine.RunRefused;
import servitor.core.engine.Trouble;
import servitor.core.engine.Work;
import servitor.core.engine.Work.Stage;
import servitor.core.engine.WorkLeases;
import servitor.core.handbook.CaseChange;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Opening;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.About;
import servitor.core.handbook.Rehearsal.Comes;
import servitor.core.handbook.Rehearsal.Cue;
import servitor.core.handbook.Rehearsal.PeopleSay;
import servitor.core.handbook.Rehearsal.Unasked;
import servitor.core.handbook.Step;
import servitor.core.json.Json;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.Command;
import servitor.core.run.RunState;
import servitor.core.run.Situation;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Plays one rehearsal: the engine and the machine are those of real runs; the books are in memory, time is passed at once, and whatever
 * would leave the house is answered from the script. Nothing here can reach anything outside.
 */
public final class Rehearsing {
    private static final int MOST_TURNS = 2_000;

    private final Rehearsal rehearsal;
    private final Names names;
    private final Pace pace;
    private final Handbook handbook;
    private final Script script;
    private final MemoryLedger ledger;
    private final Engine engine;
    private final ScriptedPeople people;
    private final WorkLeases leases;
    private final List<String> faults = new ArrayList<>();
    private final Map<String, Instant> waitingSince = new HashMap<>();
    private final @Nullable List<String> asked;
    private final Set<String> strangers = new HashSet<>();
    private final Set<Unasked> missed = new HashSet<>();
    private final ScriptedWorld world;
    private final int number;
    private Instant now;
    private final List<Next> underWay = new ArrayList<>();
    private final @Nullable Set<String> silent;
    private TryOut.@Nullable Open open;
    private int opened;
    private int turns;
    private @Nullable Next coming;

    private Rehearsing(
            Edition edition,
            Rehearsal rehearsal,
            Names names,
            @Nullable Set<String> silent,
            MemoryLedger.Counters counters) {
        this.silent = silent;
        this.ledger = new MemoryLedger(groups -> 3, counters);
        this.pace = new Pace(names.trail(), ledger.trail());
        this.rehearsal = rehearsal;
        this.names = names;
        this.number = edition.number();
        this.asked = names.asked() == null ? null : new ArrayList<>(names.asked());
        ledger.callRuns(names.runs());
        this.handbook = edition.handbook();
        this.script = new Script(rehearsal);
        this.engine = new Engine(new Only(edition));
        this.people = new ScriptedPeople(engine);
        this.leases = new WorkLeases(engine, "rehearsal", WorkLeases.LEASE, WorkLeases.LONGEST_CALL, new Random(1));
        this.world = new ScriptedWorld(handbook, script, rehearsal.about().documents(), this::opened);
        this.now = rehearsal.about().at();
    }

    /** The edition that is rehearsed is the only one there is. */
    private record Only(Edition edition) implements PublishedEditions {
        @Override
        public Edition get(int number) {
            return edition;
        }

        @Override
        public Optional<Edition> current() {
            return Optional.of(edition);
        }
    }

    /** Plays it to where nothing happens any more by itself. */
    public static Played play(Edition edition, Rehearsal rehearsal) {
        return new Rehearsing(edition, rehearsal, Names.MADE_UP, null, new MemoryLedger.Counters()).play();
    }

    /** One that stops at what nobody has answered, but for what is in {@code silent}. */
    static Rehearsing asking(Edition edition, Rehearsal rehearsal, Set<String> silent) {
        return new Rehearsing(edition, rehearsal, Names.MADE_UP, silent, new MemoryLedger.Counters());
    }

    /** What it stopped at; null when it didn't. */
    TryOut.@Nullable Open open() {
        return open;
    }

    /** One that plays again what was, under the names it had, and counts with others what limits count. It has begun. */
    static Rehearsing again(
            Edition edition,
            Rehearsal rehearsal,
            Names names,
            MemoryLedger.Counters counters,
            @Nullable Reasking reasking) {
        Rehearsing rehearsing = new Rehearsing(edition, rehearsal, names, null, counters);
        rehearsing.world.reask(reasking);
        rehearsing.begin();
        return rehearsing;
    }

    Played play() {
        begin();
        while (when().isPresent()) {
            turn();
        }
        return played();
    }

    /** When something happens next; empty when nothing does any more. */
    Optional<Instant> when() {
        if (coming == null && faults.isEmpty() && open == null) {
            coming = pending()
                    .filter(work -> !work.due().isAfter(now))
                    .map(work -> next(now, work.run(), () -> carryOut(work)))
                    .or(this::next)
                    .orElse(null);
        }
        return Optional.ofNullable(coming).map(one -> one.at().isAfter(now) ? one.at() : now);
    }

    /** Where on the trail was what happens next. */
    long place() {
        return coming == null ? Long.MAX_VALUE : place(coming);
    }

    private long place(Next next) {
        return pace.place(next.run(), next.at());
    }

    /** What happens next happens. */
    void turn() {
        now = when().orElseThrow();
        Next next = Objects.requireNonNull(coming);
        coming = null;
        underWay.remove(next);
        next.happens().run();
        if (++turns > MOST_TURNS) {
            faults.add("it went on and on: after " + MOST_TURNS + " turns it hadn't ended");
        }
    }

    /** Where the counters stood that it looked at. */
    MemoryLedger.Counters metFirst() {
        return ledger.metFirst();
    }

    /** What came of it so far. */
    Played played() {
        String state = ledger.trail().isEmpty() ? "" : read(books -> books.caseState(names.caseId()));
        return new Played(rehearsal, state, ledger.trail(), faults, script.unsaid(), ledger.texts());
    }

    private <R> R read(java.util.function.Function<MemoryBooks, R> look) {
        return look.apply(new MemoryBooks(ledger, now));
    }

    private void write(Consumer<MemoryBooks> work) {
        MemoryBooks books = new MemoryBooks(ledger, now);
        work.accept(books);
        ledger.commit(books);
    }

    private void begin() {
        About about = rehearsal.about();
        write(books -> {
            Situation situation = situation();
            books.openCase(situation);
            books.trail(
                    names.caseId(),
                    "",
                    new TrailEvent(
                            TrailEvent.person(about.requester().id()),
                            TrailWord.CASE_OPENED,
                            "",
                            Json.object().put("kind", about.kind()).put("subject", about.subject())));
            if (about.page() != null) {
                engine.start(books, names.caseId(), engineEdition(), handbook.page(about.page()));
            } else if (engine.open(books, names.caseId(), about.kind()).isEmpty()) {
                faults.add("no page starts on a case of the kind ‘" + about.kind() + "’");
            }
        });
    }

    private Edition engineEdition() {
        return new Edition(number, handbook);
    }

    private Situation situation() {
        About about = rehearsal.about();
        Rehearsal.Requester requester = about.requester();
        Kind kind = handbook.kinds().get(about.kind());
        return new Situation(
                now,
                new Situation.CaseView(
                        names.caseId(),
                        about.kind(),
                        kind == null ? "" : kind.desk(),
                        about.subject(),
                        about.text(),
                        about.language(),
                        about.fields(),
                        world.documents(),
                        Json.of(about.labels()),
                        about.priority(),
                        about.channel(),
                        "open"),
                new Situation.Requester(
                        requester.id(),
                        requester.name(),
                        requester.account(),
                        requester.manager(),
                        requester.groups(),
                        requester.proof()),
                requester.id());
    }

    private Optional<Work> pending() {
        return ledger.all(Work.class).stream()
                .filter(work -> work.stage() == Stage.PENDING && late(work).isEmpty())
                .min(Comparator.comparing(Work::due));
    }

    /** When the house sees that a time is up; empty when it does so at once. */
    private Optional<Next> late(Work timer) {
        return timer.command() instanceof Command.SetTimer
                ? pace.next(timer.run())
                        .filter(moment -> moment.at().isAfter(timer.due()))
                        .flatMap(moment -> late(timer, run(timer.run()), moment))
                : Optional.empty();
    }

    private Optional<Next> late(Work timer, RunState run, Pace.Moment moment) {
        RunState.Pending pending = run.pending();
        boolean own = pending != null && timer.id().equals(pending.timer());
        boolean looks = own && run.betweenLooks(); // which stand nowhere
        boolean meant = own ? moment.waitIsOver() : moment.pageIsUp();
        boolean seen = meant && !own && !run.merelyWaits(); // and kept until its call was answered
        Turn turn = meant ? Turn.FIRST : Turn.LAST;
        return looks || seen
                ? Optional.empty()
                : Optional.of(new Next(moment.at(), run.id(), turn, () -> carryOut(timer)));
    }

    /** Which of what happens to a run at the same time is first. */
    private enum Turn {
        FIRST,
        AS_IT_COMES,
        LAST
    }

    /**
     * Something that will happen, and when.
     *
     * @param run to which it does; empty for none
     */
    private record Next(Instant at, String run, Turn turn, Runnable happens) {
        /** Whether it comes before what would be at this time. */
        boolean isBefore(Instant time) {
            return turn == Turn.LAST ? at.isBefore(time) : !at.isAfter(time);
        }
    }

    private static Next next(Instant at, Runnable happens) {
        return next(at, "", happens);
    }

    private static Next next(Instant at, String run, Runnable happens) {
        return new Next(at, run, Turn.AS_IT_COMES, happens);
    }

    private Optional<Next> next() {
        List<Next> coming = new ArrayList<>(); // of those at the same time the first
        ledger.all(KeptApproval.class).stream()
                .filter(kept -> kept.state() == ApprovalState.OPEN)
                .forEach(kept -> ofApproval(kept).ifPresent(coming::add));
        ledger.all(KeptRun.class).forEach(kept -> ofRun(kept.state()).ifPresent(coming::add));
        script.unasked().stream()
                .filter(one -> !missed.contains(one))
                .forEach(one -> coming.add(next(rehearsal.about().at().plus(one.after()), () -> unasked(one))));
        script.unawaited()
                .forEach(one -> coming.add(next(rehearsal.about().at().plus(one.after()), () -> arrive(one))));
        coming.addAll(underWay);
        pending().ifPresent(work -> coming.add(next(work.due(), work.run(), () -> {})));
        ledger.all(Work.class).stream()
                .filter(work -> work.stage() == Stage.PENDING)
                .forEach(work -> late(work).ifPresent(coming::add));
        return coming.stream()
                .min(Comparator.comparing(Next::at).thenComparing(this::place).thenComparing(Next::turn));
    }

    private Optional<Next> ofRun(RunState run) {
        return switch (run.status()) {
            case HELD -> ofHeld(run);
            case IN_DOUBT -> ofDoubt(run);
            case FAILED -> run.parent() == null ? ofFailed(run) : Optional.empty();
            default -> run.status().ended() ? Optional.empty() : ofWait(run);
        };
    }

    private Optional<Next> ofApproval(KeptApproval kept) {
        Instant since = askedSince(kept);
        Instant due = kept.held() ? null : kept.due();
        Optional<PeopleSay> say = script.toPeople(kept.id(), kept.request().step(), PeopleSay::answers);
        Runnable expires = () -> {
            say.filter(PeopleSay::keepsSilent).ifPresent(script::said);
            write(books -> people.expire(books, kept));
        };
        Optional<Next> end = Optional.ofNullable(due).map(at -> end(kept.run(), at, expires));
        if (say.isPresent()
                && !say.get().keepsSilent()
                && end.filter(one -> one.isBefore(since.plus(say.get().after())))
                        .isEmpty()) {
            return Optional.of(next(
                    since.plus(say.get().after()),
                    kept.run(),
                    () -> does(
                            say.get(),
                            books -> people.answer(books, kept, say.get()).ifPresent(why -> refused(say.get(), why)))));
        }
        if (say.isPresent() && say.get().keepsSilent() && !say.get().after().isZero()) {
            return Optional.of(next(
                    since.plus(say.get().after()),
                    kept.run(),
                    () -> does(say.get(), books -> people.withdrawUnlessValid(books, kept))));
        }
        if (say.isEmpty() && asks(kept.id())) {
            return stop(TryOut.Open.people(kept, run(kept.run()), handbook));
        }
        if (say.isEmpty() && strangers.contains(kept.id())) {
            return Optional.of(next(
                    now,
                    () -> faults.add("at ‘" + kept.request().step()
                            + "’ people are asked who weren't asked then, and what they would say isn't known")));
        }
        return end;
    }

    /** When the house sees that people haven't answered in time. */
    private Next end(String run, Instant due, Runnable expires) {
        return pace.next(run)
                .filter(moment -> moment.at().isAfter(due))
                .map(moment -> new Next(moment.at(), run, moment.expires() ? Turn.FIRST : Turn.LAST, expires))
                .orElseGet(() -> new Next(due, run, Turn.FIRST, expires));
    }

    /** Remembers since when people are asked, and whether they were then, too. */
    private Instant askedSince(KeptApproval kept) {
        return waitingSince.computeIfAbsent(kept.id(), id -> {
            if (asked != null && !asked.remove(kept.request().step())) {
                strangers.add(id);
            }
            return now;
        });
    }

    /** What is held in shadow is done by hand as the script says of such a call, or stays undone as people say who would be asked. */
    private Optional<Next> ofHeld(RunState run) {
        RunState.Pending held = Objects.requireNonNull(run.pending());
        ProposedCall call = held.callOf();
        Optional<PeopleSay> say = script.toPeople(held.id(), run.step(), says -> says.answers() && !says.keepsSilent());
        if (say.isPresent() && !say.get().says().equals("approve")) {
            return Optional.of(next(now.plus(say.get().after()), () -> {
                Rehearsal.Result declined =
                        new Rehearsal.Fails(Problem.DECLINED.word(), say.get().reason());
                does(say.get(), books -> people.doByHand(books, run, declined));
            }));
        }
        if (silent != null && !world.knowsByHand(call)) {
            return stop(TryOut.Open.call(TryOut.Sort.HAND, held.id(), call, run, handbook, scope(run)));
        }
        return world.knowsByHand(call)
                ? Optional.of(next(now, () -> {
                    say.ifPresent(script::said);
                    Rehearsal.Result result = world.byHand(call);
                    write(books -> people.doByHand(books, run, result));
                }))
                : Optional.empty();
    }

    /** What is in doubt is as the script says people find it; where it says nothing it stays in doubt. */
    private Optional<Next> ofDoubt(RunState run) {
        String doubted = Objects.requireNonNull(run.pending()).id();
        Instant since = waitingSince.computeIfAbsent(doubted + " in doubt", id -> now);
        return script.toPeople(doubted, run.step(), PeopleSay::settles)
                .map(say -> next(
                        since.plus(say.after()), run.id(), () -> does(say, books -> people.settle(books, run, say))));
    }

    /** What failed is mended as the script says; where it says nothing people have it. */
    private Optional<Next> ofFailed(RunState run) {
        String trouble = Trouble.ofFailed(run);
        Instant since = waitingSince.computeIfAbsent(trouble, id -> now);
        return script.toPeople(trouble, run.step(), PeopleSay::mends)
                .map(say -> next(
                        since.plus(say.after()), run.id(), () -> does(say, books -> people.mend(books, trouble, say))));
    }

    /** Somebody does something with nobody asking them; where no run is at that step, they have missed it. */
    private void unasked(Unasked one) {
        if (one.closes()) {
            does(one, books -> people.close(books, names.caseId(), one));
            return;
        }
        ledger.all(KeptRun.class).stream()
                .map(KeptRun::state)
                .filter(run -> !run.status().ended() && run.step().equals(Step.address(one.at())))
                .skip(one.which() - 1)
                .findFirst()
                .ifPresentOrElse(run -> does(one, books -> people.steer(books, run, one)), () -> missed.add(one));
    }

    private void does(Cue cue, Consumer<MemoryBooks> what) {
        script.said(cue);
        try {
            write(what);
        } catch (RunRefused | IllegalArgumentException e) {
            refused(cue, String.valueOf(e.getMessage()));
        }
    }

    private void refused(Cue cue, String why) {
        faults.add("what is said by " + cue.words() + " doesn't count: " + why);
    }

    private Optional<Next> ofWait(RunState run) {
        RunState.Pending wait = run.pending();
        if (wait == null || wait.kind() != RunState.Pending.Kind.ARRIVAL) {
            return Optional.empty();
        }
        String what = wait.what() == null ? "" : wait.what();
        Instant since = waitingSince.computeIfAbsent(wait.id(), id -> now);
        Optional<Comes> coming = script.toWait(what, wait.named() == null ? "" : wait.named());
        if (coming.isEmpty() && asks(wait.id())) {
            return stop(TryOut.Open.wait(wait, run, handbook));
        }
        return coming.map(comes -> next(
                since.plus(comes.after()),
                run.id(),
                what.equals("case") ? () -> settle(comes, String.valueOf(wait.named())) : () -> arrive(comes)));
    }

    private boolean asks(String id) {
        return silent != null && !silent.contains(id);
    }

    private Optional<Next> stop(TryOut.Open at) {
        return Optional.of(next(now, () -> open = at));
    }

    private Map<String, JsonNode> scope(RunState run) {
        return read(books -> books.situation(run.caseId())).plainScope(run);
    }

    /** People are done with a case that was opened for this one. */
    private void settle(Comes comes, String caseId) {
        script.said(comes);
        String state = comes.named().isEmpty() ? CaseState.RESOLVED.word() : comes.named();
        write(books -> {
            books.show(caseId, state, null);
            note(books, caseId, TrailWord.CASE_RESOLVED, Json.object().put("how", state));
            engine.changed(books, caseId, CaseChange.What.RESOLVED);
        });
    }

    private void arrive(Comes comes) {
        script.said(comes);
        ObjectNode value = (ObjectNode) comes.value().deepCopy();
        Origin origin = comes.what().equals("event") ? Origin.PERSON : Origin.REQUESTER;
        switch (comes.what()) {
            case "reply" ->
                value.put("by", rehearsal.about().requester().name()).put("at", now.toString());
            case "event" -> {
                JsonNode data = value.deepCopy();
                value = Json.object().put("name", comes.named()).put("at", now.toString());
                value.set("data", data);
            }
            default -> {
                world.add(Objects.requireNonNull(comes.paper()));
                ArrayNode documents = world.documents();
                value = (ObjectNode) documents.get(documents.size() - 1);
            }
        }
        JsonNode come = value;
        write(books -> {
            if (comes.paper() != null) {
                books.attach(names.caseId(), come);
                note(
                        books,
                        names.caseId(),
                        TrailWord.DOCUMENT_ADDED,
                        Json.object().put("name", comes.paper().name()));
            } else if (comes.what().equals("event")) {
                note(
                        books,
                        names.caseId(),
                        TrailWord.EVENT_REPORTED,
                        Json.object().put("name", comes.named()).set("data", comes.value()));
            } else {
                note(
                        books,
                        names.caseId(),
                        TrailWord.NOTE_ADDED,
                        Json.object()
                                .put("audience", "requester")
                                .put("text", come.path("text").asString("")));
            }
            engine.arrived(
                    books, names.caseId(), comes.what(), come.path("name").asString(""), TracedValue.of(come, origin));
        });
    }

    /** What comes stands on the trail as it does when it comes to a real case. */
    private void note(MemoryBooks books, String caseId, TrailWord what, JsonNode data) {
        String by = TrailEvent.person(rehearsal.about().requester().id());
        books.trail(caseId, "", new TrailEvent(by, what, "", data));
    }

    private void carryOut(Work work) {
        write(books -> leases.take(books, List.of(work)));
        Work taken = ledger.all(Work.class).stream()
                .filter(one -> one.id().equals(work.id()))
                .findFirst()
                .orElseThrow();
        ScriptedWorld.Said said = world.to(taken, run(work.run()));
        Outcome outcome = said.outcome();
        if (said.never()) {
            return;
        } else if (outcome == null && silent != null) {
            RunState run = run(work.run());
            open = taken.command() instanceof Command.CallTool call
                    ? TryOut.Open.call(TryOut.Sort.TOOL, call.id(), call.call(), run, handbook, scope(run))
                    : TryOut.Open.model((Command.AskModel) taken.command(), run, handbook);
            return;
        } else if (outcome == null) {
            faults.add(said.fault());
            return;
        }
        Runnable comes = () -> write(books -> leases.settle(books, taken, outcome));
        if (said.took().isZero()) {
            comes.run();
        } else {
            underWay.add(next(work.due().plus(said.took()), work.run(), comes));
        }
    }

    private RunState run(String id) {
        return read(books -> books.run(id)).map(KeptRun::state).orElseThrow();
    }

    /** Another case, which its own page works on. */
    private Reply opened(Command.CallTool call, RunState run) {
        JsonNode args = call.call().args();
        String kind = args.path(Opening.KIND).asString("");
        Kind of = handbook.kinds().get(kind);
        String id = names.openedCase(opened++);
        write(books -> {
            Situation asker = books.situation(run.caseId());
            Situation.CaseView view = asker.view();
            books.openCaseFor(
                    run.caseId(),
                    new Situation(
                            now,
                            new Situation.CaseView(
                                    id,
                                    kind,
                                    of == null ? view.desk() : of.desk(),
                                    args.path("subject").asString(""),
                                    args.path("text").asString(""),
                                    view.language(),
                                    args.path("fields").isObject() ? args.get("fields") : Json.object(),
                                    Json.mapper().createArrayNode(),
                                    Json.mapper().createArrayNode(),
                                    "normal",
                                    "note",
                                    "open"),
                            asker.requester(),
                            asker.openedBy()));
            engine.open(books, id, kind);
        });
        return new Reply.Answered(201, Json.object().put("id", id).put(Opening.KIND, kind));
    }
}

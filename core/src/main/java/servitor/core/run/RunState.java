package servitor.core.run;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.math.BigDecimal;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.CaseChange;
import servitor.core.handbook.CaseState;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Verb.Awaited;
import servitor.core.json.Json;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;

/**
 * Everything a run is between two inputs. Immutable, and small: it is written with every transition.
 *
 * @param parent the run that follows this one's page; null when nobody does
 * @param takes what it was given
 * @param allowance how much it may use
 * @param epoch of the installation, when the run began: sets its calls' keys apart from those of every other; empty in earlier versions
 * @param saved values by the name a step saved them under
 * @param startedOn the change of its case that started it; empty for anything else
 * @param written every text a machine wrote in this run, and whether a person approved exactly that text
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record RunState(
        String id,
        String caseId,
        int edition,
        String page,
        @Nullable Parent parent,
        TracedValue takes,
        Allowance allowance,
        String epoch,
        Standing standing,
        Used used,
        Map<String, TracedValue> saved,
        List<WrittenText> written,
        StepProgress memory,
        String startedOn) {
    /** How much of a call's digest stands in its key, in hexadecimal digits. */
    private static final int KEY_DIGITS = 16;

    private static final Set<Pending.Kind> WAITS =
            Set.of(Pending.Kind.APPROVAL, Pending.Kind.ARRIVAL, Pending.Kind.HAND, Pending.Kind.PAGES);

    /** The most characters of texts that are remembered as a machine's. */
    private static final int MOST_WRITTEN = 200_000;

    public RunState {
        epoch = epoch == null ? "" : epoch;
        startedOn = startedOn == null ? "" : startedOn; // states of earlier versions have none
        saved = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(saved));
        written = List.copyOf(written);
    }

    /** A run that hasn't begun. */
    public static RunState ready(String id, String caseId, int edition, Runbook page) {
        return new RunState(
                id,
                caseId,
                edition,
                page.name(),
                null,
                TracedValue.of(Json.object(), Origin.HANDBOOK),
                new Allowance(page.limits().calls(), page.limits().modelTokens()),
                "",
                Standing.READY,
                Used.NOTHING,
                Map.of(),
                List.of(),
                StepProgress.EMPTY,
                "");
    }

    /** The same run, started by a change of its case. */
    public RunState on(CaseChange.What change) {
        return new RunState(
                id,
                caseId,
                edition,
                page,
                parent,
                takes,
                allowance,
                epoch,
                standing,
                used,
                saved,
                written,
                memory,
                change.word());
    }

    /** A run that another run asked for; it is paused when that one is. */
    public static RunState followed(String id, RunState by, Command.StartPage start) {
        return new RunState(
                id,
                by.caseId(),
                by.edition(),
                start.page(),
                new Parent(by.id(), start.id(), start.chain(), start.inShadow() ? true : null),
                start.takes(),
                start.allowance(),
                by.epoch(),
                Standing.READY.paused(by.standing()),
                Used.NOTHING,
                Map.of(),
                start.written(),
                StepProgress.EMPTY.conceals(by.memory().concealed()),
                by.startedOn());
    }

    /**
     * The run that waits for this one, and the command by which it asked for it.
     *
     * @param chain the agents whose models had this page started, outermost first
     * @param inShadow true when whoever follows works in shadow, so that nothing leaves here either
     */
    public record Parent(
            String run,
            String command,
            List<String> chain,
            @Nullable Boolean inShadow) {
        public Parent {
            chain = chain == null ? List.of() : List.copyOf(chain); // states of earlier versions have none
        }
    }

    /** How many calls a run may make and how many model tokens it may use, those of pages it follows included. */
    public record Allowance(int calls, int tokens) {}

    /**
     * Where a run stands.
     *
     * @param step the address of the step it is at
     * @param pending what it is waiting for; null when nothing
     * @param problem the last problem a step met
     * @param outcome the state the case is left in, once ended
     * @param waitingFor what is waited for, in words for people
     * @param shown the state a step has set the case to; null for what the run's own standing says
     * @param overdue whether its time ran out while a call was under way
     * @param paused why people have paused it; null while they haven't
     * @param pausedAt since when; null while they haven't
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Standing(
            RunStatus status,
            String step,
            @Nullable Pending pending,
            @Nullable ProblemMet problem,
            @Nullable String outcome,
            @Nullable String waitingFor,
            @Nullable String shown,
            boolean overdue,
            @Nullable String paused,
            @Nullable Instant pausedAt) {
        static final Standing READY =
                new Standing(RunStatus.READY, "", null, null, null, null, null, false, null, null);

        /** The same, paused if {@code other} is. */
        Standing paused(Standing other) {
            return new Standing(
                    status,
                    step,
                    pending,
                    problem,
                    outcome,
                    waitingFor,
                    shown,
                    overdue,
                    other.paused(),
                    other.pausedAt());
        }
    }

    /**
     * What a run has used.
     *
     * @param visits how many steps it has entered
     * @param commands how many commands it has given; names the next one
     * @param calls how many tool calls it has sent
     * @param tokens how many model tokens it has used
     * @param troubled whether the page's way out of trouble has been taken
     * @param at how often it has entered steps that count their visits
     * @param heard how many steps it had entered when it last heard from outside; null when it hasn't
     * @param cost what its models cost, pages it follows not included; null where nobody knows
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Used(
            int visits,
            int commands,
            int calls,
            int tokens,
            boolean troubled,
            Map<String, Integer> at,
            @Nullable BigDecimal cost,
            @Nullable Integer heard) {
        static final Used NOTHING = new Used(0, 0, 0, 0, false, Map.of(), null, null);

        public Used {
            at = Map.copyOf(at);
        }
    }

    /**
     * A text a machine wrote.
     *
     * @param reviewed whether a person approved exactly this text
     * @param by the person who wrote it after a machine's draft; null when it is the machine's as it was
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record WrittenText(
            String text, boolean reviewed, @Nullable String by) {}

    /**
     * A named problem, the step it came up at, and what is known of it.
     *
     * @param detail may hold anybody's words, a model's among them
     * @param says what whoever asked may be told of it, in words of the house and their own; empty for most problems
     */
    public record ProblemMet(String name, String step, String detail, String says) {
        public ProblemMet {
            says = says == null ? "" : says; // states of earlier versions say nothing
        }

        ProblemMet(String name, String step, String detail) {
            this(name, step, detail, "");
        }
    }

    /**
     * What the run waits for.
     *
     * @param id the id of the command, approval or wait
     * @param call the call concerned; null when it isn't about one
     * @param answered groups that have approved the call
     * @param timer the timer that ends the wait; null when nothing does
     * @param what for a wait: {@code reply}, {@code document}, {@code event} or {@code time}
     * @param named for a wait: which one; empty for any
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Pending(
            Kind kind,
            String id,
            @Nullable ProposedCall call,
            Set<String> answered,
            @Nullable String timer,
            @Nullable String what,
            @Nullable String named) {
        /** The call it is about, when it is about one. */
        public ProposedCall callOf() {
            return Objects.requireNonNull(call, "a call is waited for");
        }

        public enum Kind {
            VERDICT,
            TOOL,
            MODEL,
            DOCUMENT,
            APPROVAL,
            ARRIVAL,
            PAGES,
            /** Something that people do by hand. */
            HAND
        }

        public Pending {
            answered = Set.copyOf(answered);
        }

        Pending(Kind kind, String id, @Nullable ProposedCall call, Set<String> answered) {
            this(kind, id, call, answered, null, null, null);
        }
    }

    public RunStatus status() {
        return standing.status();
    }

    public String step() {
        return standing.step();
    }

    public int calls() {
        return used.calls();
    }

    public int tokens() {
        return used.tokens();
    }

    public @Nullable Pending pending() {
        return standing.pending();
    }

    public @Nullable ProblemMet problem() {
        return standing.problem();
    }

    public @Nullable String outcome() {
        return standing.outcome();
    }

    public @Nullable String waitingFor() {
        return isPaused() ? "somebody to resume it; paused: " + standing.paused() : standing.waitingFor();
    }

    /** Whether people have paused it: nothing leaves for it until they resume it. */
    public boolean isPaused() {
        return standing.paused() != null && !status().ended();
    }

    /** Whether the run waits for what an outside system is at work on since the call {@code id}, and isn't just looking. */
    public boolean waitsForWork(String id) {
        return betweenLooks() && Objects.requireNonNull(memory().job()).id().equals(id);
    }

    /** Whether an outside system is at work for it, and the run isn't just looking how far that is. */
    public boolean betweenLooks() {
        Pending pending = pending();
        return memory().job() != null && pending != null && pending.id().equals(pending.timer());
    }

    /** Whether it merely waits: nothing is under way that must be awaited before it is given up. */
    public boolean merelyWaits() {
        Pending pending = pending();
        return pending == null || WAITS.contains(pending.kind()) || betweenLooks();
    }

    /** Whether the run waits for such a thing to come; {@code name} is the event's or document's, or the case's id. */
    public boolean waitsFor(String what, String name) {
        Pending pending = pending();
        if (pending == null || pending.kind() != Pending.Kind.ARRIVAL || !what.equals(pending.what())) {
            return false;
        }
        String named = pending.named() == null ? "" : pending.named();
        return Awaited.CASE.word().equals(what)
                ? named.equals(name)
                : name.toLowerCase(Locale.ROOT).contains(named.toLowerCase(Locale.ROOT));
    }

    /** The state the case is in while the run is as it is. */
    public String caseState() {
        if (outcome() != null) {
            return outcome();
        }
        if (isPaused() && !status().needsWord()) {
            return CaseState.WAITING.word();
        }
        if (standing.shown() != null && !status().needsWord()) {
            return standing.shown();
        }
        return switch (status()) {
            case READY, WORKING -> CaseState.WORKING.word();
            case WAITING -> CaseState.WAITING.word();
            default -> CaseState.WITH_PEOPLE.word();
        };
    }

    /** What stays of a run that has ended when everything it knew moves elsewhere: where and how it ended. */
    public RunState slim() {
        return new RunState(
                id,
                caseId,
                edition,
                page,
                parent,
                TracedValue.of(Json.object(), Origin.HANDBOOK),
                allowance,
                epoch,
                standing,
                used,
                Map.of(),
                List.of(),
                StepProgress.EMPTY,
                startedOn);
    }

    /** The same run on another edition. */
    RunState on(int newer) {
        return new RunState(
                id, caseId, newer, page, parent, takes, allowance, epoch, standing, used, saved, written, memory,
                startedOn);
    }

    /** The same run in an epoch of the installation. */
    public RunState in(String now) {
        return new RunState(
                id, caseId, edition, page, parent, takes, allowance, now, standing, used, saved, written, memory,
                startedOn);
    }

    /** What an outside system knows the call {@code command} of this run by: as it was sent, where that is kept. */
    public String key(String command) {
        StepProgress.Sent sent = memory.sent();
        return sent != null && sent.id().equals(command) ? sent.key() : within(command);
    }

    /** The key that a call goes out under: its content belongs to it, so that no key ever names two calls. */
    String keyFor(String command, ProposedCall call) {
        return within(command) + "-" + call.digest().substring(0, KEY_DIGITS);
    }

    private String within(String command) {
        return epoch.isEmpty() ? command : epoch + "-" + command;
    }

    /** Who wrote {@code text} after a machine's draft; empty when nobody did. */
    public Optional<String> writerOf(String text) {
        return written.stream()
                .filter(one -> one.text().equals(text) && one.by() != null)
                .map(WrittenText::by)
                .findFirst();
    }

    /** Everything the run knows, by name. */
    public Map<String, TracedValue> known() {
        Map<String, TracedValue> known = new LinkedHashMap<>();
        takes.value().propertyNames().forEach(name -> known.put("takes." + name, takes.at(List.of(name))));
        known.putAll(saved);
        return known;
    }

    /** The texts written so far with one more; one that is there already stays reviewed, and its writer's. */
    static List<WrittenText> writtenWith(List<WrittenText> written, WrittenText more) {
        List<WrittenText> all = new ArrayList<>();
        boolean known = false;
        for (WrittenText one : written) {
            boolean same = one.text().equals(more.text());
            all.add(
                    same
                            ? new WrittenText(
                                    one.text(),
                                    one.reviewed() || more.reviewed(),
                                    more.by() != null ? more.by() : one.by())
                            : one);
            known |= same;
        }
        if (!known) {
            all.add(more);
        }
        int length = all.stream().mapToInt(one -> one.text().length()).sum();
        while (length > MOST_WRITTEN) { // the marks of values stay, so that nothing unread gets through by this
            length -= all.remove(0).text().length();
        }
        return all;
    }
}

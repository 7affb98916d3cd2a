package servitor.core.engine;

import java.math.BigDecimal;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.Answer;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalRules.Given;
import servitor.core.approval.ApprovalState;
import servitor.core.handbook.Channel;
import servitor.core.mandate.Charge;
import servitor.core.run.RunInput;
import servitor.core.run.RunState;
import servitor.core.run.Situation;
import servitor.core.trail.TrailEvent;
import tools.jackson.databind.JsonNode;

/**
 * What the engine reads and writes within one transaction. Everything done to the books of one transaction is kept
 * together or not at all, and they are worthless once it has ended. A write over something that has changed since it was
 * read throws {@link LostRace}.
 */
public interface EngineStore {
    /** The time of this transaction. */
    Instant now();

    /** A run with the version that fences writes to it. */
    record KeptRun(RunState state, int version) {}

    Optional<KeptRun> run(String id);

    /** What sets the keys of calls apart from those of other installations, and of this one before it was last restored. */
    String epoch();

    /** The emergency stops that stand. */
    List<Stop> stops();

    /** Begins a stop; one of the same thing takes its place. */
    void stop(Stop stop);

    /** Ends a stop; throws {@link LostRace} when it doesn't stand. */
    void lift(Stop stop);

    /** All work in a stage; {@code run} is empty for that of every run. */
    List<Work> workIn(Work.Stage stage, String run);

    /** Moves work from one stage to another; false when it isn't there any more. */
    boolean move(String id, Work.Stage from, Work.Stage to);

    /** Keeps what came of work that its run couldn't take in, until somebody lets it try again. */
    void setAside(String work, RunInput input);

    /** What was set aside of a piece of work. */
    Optional<RunInput> setAside(String work);

    /** The runs of a case that haven't ended. */
    List<RunState> activeRuns(String caseId);

    /** The runs that follow pages for {@code run} and haven't ended. */
    List<RunState> followers(String run);

    String newRunId();

    void insert(RunState ready);

    void update(KeptRun read, RunState next);

    /** A case and its requester as they are now. */
    Situation situation(String caseId);

    /** The case that this one was opened for by a step; empty for any other. */
    Optional<String> openedFor(String caseId);

    /** Keeps what the page of a case gave, in place of what it gave before. */
    void gave(String caseId, RunInput.Gave gave);

    /** What the page of a case gave last; nothing when there is none. */
    RunInput.Gave gave(String caseId);

    /** What is shown of where a case stands. */
    void show(String caseId, String state, @Nullable String waitingFor);

    /** Changes priority, labels, fields or relations of a case. */
    void change(String caseId, JsonNode changes);

    /**
     * A note on a case; one that is there already is left as it is.
     *
     * @param audience {@code requester} or {@code staff}
     * @param written whether a machine wrote it
     * @param channel the way it came or went out
     * @param to whom it was told, as {@code tell} says it; empty for everybody who may read it
     */
    record Note(String id, String author, String audience, boolean written, String text, Channel channel, String to) {
        public Note(String id, String author, String audience, boolean written, String text) {
            this(id, author, audience, written, text, Channel.NOTE, "");
        }
    }

    void note(String caseId, Note note);

    /** Puts something on the trail; {@code run} is empty when it belongs to none. */
    void trail(String caseId, String run, TrailEvent event);

    /** Keeps a long text under its digest and returns that. */
    String keep(String text);

    /** What calls that nobody was asked about have added to a counter; zero for one that isn't there. */
    BigDecimal alone(String counter);

    /**
     * Counts a call that is about to be sent.
     *
     * @param alone whether nobody was asked about it; what people approved is counted beside
     */
    void charge(String work, List<Charge> charges, boolean alone);

    /** The call was never made, so that what it was counted for is free again. */
    void refund(String work);

    void put(Work pending);

    /** Takes pending work; false when somebody else was faster. */
    boolean take(String id, String owner, Instant until);

    /** Gives taken work back in another stage; false when it isn't this owner's any more. */
    boolean release(String id, String owner, Work.Stage stage, Instant due);

    /** A try of this work may have reached the outside system. */
    void sent(String id);

    /** Work in doubt is done with; throws {@link LostRace} when it wasn't in doubt. */
    void settle(String id);

    Optional<Work> work(String id);

    /** Pending work of a run is held back, and the time of its timers and open approvals stands still. */
    void hold(String run);

    /** Held work of a run is let go; what falls due later does so by {@code stood} later. */
    void letGo(String run, Duration stood);

    /** Stuck work is pending again, as though it had never been tried. */
    void free(String id);

    /** Something went wrong that people see to. */
    void report(Trouble trouble);

    /** Trouble that nobody has seen to yet. */
    Optional<Trouble> trouble(String id);

    /** Trouble of a case that nobody has seen to yet, the oldest first. */
    List<Trouble> troublesOf(String caseId);

    /** Somebody has seen to it; throws {@link LostRace} when somebody else had. */
    void mended(String trouble, String by, String how);

    /** Pending work of a run that has ended isn't carried out any more. */
    void drop(String run);

    Optional<KeptApproval> approval(String id);

    /**
     * Keeps a new approval.
     *
     * @param remindAt null when nobody is reminded
     * @param evidence what is shown beside it, as it is now
     */
    void open(KeptApproval approval, @Nullable Instant remindAt, Evidence evidence);

    /** Another state of an open approval. */
    void close(KeptApproval read, ApprovalState state);

    /** Shows an open approval with changed content; answers given to the old content no longer count. */
    void showAnew(KeptApproval read, ApprovalRequest changed, Set<String> authors);

    void reminded(KeptApproval read, @Nullable Instant next);

    void answer(String approval, Answer answer, Set<String> forGroups);

    /** The answers that count, in the order given. */
    List<Given> given(String approval);

    /** How many people could answer for any of {@code groups} by today's membership, and whom none of {@code not} means. */
    int eligible(Set<String> groups, Set<String> not);
}

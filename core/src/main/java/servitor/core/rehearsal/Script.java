package servitor.core.rehearsal;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.Comes;
import servitor.core.handbook.Rehearsal.Cue;
import servitor.core.handbook.Rehearsal.ModelSays;
import servitor.core.handbook.Rehearsal.PeopleSay;
import servitor.core.handbook.Rehearsal.ToolSays;
import servitor.core.handbook.Rehearsal.Unasked;
import servitor.core.handbook.Step;
import servitor.core.json.Json;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.NormalForm;
import tools.jackson.databind.JsonNode;

/** What the world outside has yet to say: each cue counts once, the first that fits. */
final class Script {
    private final List<Cue> left;
    private final Map<String, PeopleSay> theirs = new HashMap<>();

    Script(Rehearsal rehearsal) {
        this.left = new ArrayList<>(rehearsal.cues());
    }

    Optional<ToolSays> toCall(ProposedCall call) {
        return take(ToolSays.class, says -> fits(says, call), ToolSays::again);
    }

    /** Whether there is an answer to a call. */
    boolean answers(ProposedCall call) {
        return find(ToolSays.class, says -> fits(says, call)).isPresent();
    }

    private static boolean fits(ToolSays says, ProposedCall call) {
        return says.tool().equals(call.tool()) && holds(call.args(), says.with());
    }

    /** What a model answers at a step, by its address. */
    Optional<ModelSays> toModel(String step) {
        return take(ModelSays.class, says -> Step.address(says.step()).equals(step), says -> false);
    }

    /**
     * What people answer who are asked at a step, by the id of what they are asked; it stays theirs until {@link #said}. Of several who are asked at
     * the same time each hears what is said to them, in the order in which they were asked.
     *
     * @param sort what they can say there
     */
    Optional<PeopleSay> toPeople(String id, String step, Predicate<PeopleSay> sort) {
        PeopleSay own = theirs.get(id);
        if (own != null && left.stream().anyMatch(one -> one == own)) {
            return Optional.of(own);
        }
        Optional<PeopleSay> found = find(
                PeopleSay.class, says -> Step.address(says.step()).equals(step) && !isTheirs(says) && sort.test(says));
        found.ifPresent(says -> theirs.put(id, says));
        return found;
    }

    private boolean isTheirs(PeopleSay says) {
        return theirs.values().stream().anyMatch(taken -> taken == says);
    }

    /** What people do with nobody asking them; it stays until {@link #said}. */
    List<Unasked> unasked() {
        return left.stream()
                .filter(Unasked.class::isInstance)
                .map(Unasked.class::cast)
                .toList();
    }

    /** What comes with nobody waiting for it; it stays until {@link #said}. */
    List<Comes> unawaited() {
        return left.stream()
                .filter(Comes.class::isInstance)
                .map(Comes.class::cast)
                .filter(Comes::unawaited)
                .toList();
    }

    /** What comes to somebody who waits for it; it stays until {@link #said}. */
    Optional<Comes> toWait(String what, String named) {
        return find(
                Comes.class,
                comes -> !comes.unawaited()
                        && comes.what().equals(what)
                        && (!what.equals("event") || named.isEmpty() || named.equals(comes.named())));
    }

    void said(Cue cue) {
        left.removeIf(one -> one == cue);
    }

    /** What was never needed. */
    List<Cue> unsaid() {
        return left.stream()
                .filter(cue -> !(cue instanceof ToolSays says && says.again()))
                .filter(cue -> !(cue instanceof PeopleSay say && say.keepsSilent() && isTheirs(say)))
                .toList();
    }

    private <C extends Cue> Optional<C> find(Class<C> type, Predicate<C> fits) {
        return left.stream()
                .filter(type::isInstance)
                .map(type::cast)
                .filter(fits)
                .findFirst();
    }

    private <C extends Cue> Optional<C> take(Class<C> type, Predicate<C> fits, Predicate<C> stays) {
        Optional<C> found = find(type, fits);
        found.filter(stays.negate()).ifPresent(left::remove);
        return found;
    }

    /** Whether {@code value} has everything that {@code wanted} names, amounts and dates by what they mean. */
    static boolean holds(JsonNode value, JsonNode wanted) {
        if (wanted.isObject()) {
            return wanted.properties().stream()
                    .allMatch(e -> value.has(e.getKey()) && holds(value.get(e.getKey()), e.getValue()));
        }
        return wanted.isArray() || value.isContainer()
                ? value.equals(wanted)
                : NormalForm.of(value).equals(NormalForm.of(wanted));
    }

    /** The answer of a tool of the house that a rehearsal needs to say nothing of: what is told arrives. */
    static JsonNode ofTheHouse(Handbook handbook, ProposedCall call) {
        return handbook.tool(call.tool()).outputs().path("properties").has("found")
                ? Json.object().put("found", false)
                : Json.object();
    }
}

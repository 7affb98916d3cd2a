package servitor.core.rehearsal;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.CallOf;
import servitor.core.handbook.Rehearsal.Cue;
import servitor.core.handbook.Rehearsal.Must;
import servitor.core.handbook.Step;
import servitor.core.handbook.Telling;
import servitor.core.json.Json;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;

/**
 * A rehearsal that was played.
 *
 * @param state the case was left in
 * @param trail of everything that happened
 * @param faults why it broke off, in words; empty when it came to its end
 * @param unsaid answers that were never needed
 * @param texts long texts that the trail refers to, by their digests
 */
public record Played(
        Rehearsal rehearsal,
        String state,
        List<RecordedEntry> trail,
        List<String> faults,
        List<Cue> unsaid,
        Map<String, String> texts) {
    public Played {
        trail = List.copyOf(trail);
        faults = List.copyOf(faults);
        unsaid = List.copyOf(unsaid);
        texts = Map.copyOf(texts);
    }

    /** Whether all is as it must be. */
    public boolean passed() {
        return differences().isEmpty();
    }

    /** What isn't as it must be, in sentences without their ends; empty when all is. */
    public List<String> differences() {
        if (!faults.isEmpty()) {
            return faults;
        }
        Must must = rehearsal.must();
        List<String> found = new ArrayList<>();
        if (must.end() != null && !must.end().equals(state)) {
            found.add("the case ends ‘" + state + "’, not ‘" + must.end() + "’" + lastWords());
        }
        must.verdicts().forEach((tool, verdict) -> verdict(tool, verdict, found));
        steps(must.steps(), found);
        must.calls().stream()
                .filter(wanted -> calls().stream().noneMatch(call -> fits(call, wanted)))
                .forEach(wanted -> found.add("‘" + wanted.tool() + "’ isn't called"
                        + (wanted.with().isEmpty() ? "" : " with " + Json.write(wanted.with()))
                        + instead(wanted.tool())));
        must.never()
                .forEach(tool -> calls().stream()
                        .filter(call -> call.tool().equals(tool))
                        .findFirst()
                        .ifPresent(call -> found.add("‘" + tool + "’ is called, with " + Json.write(call.with()))));
        String told = String.join("\n", told());
        must.told().stream()
                .filter(words -> !told.contains(words))
                .forEach(words -> found.add("nobody is told ‘" + words + "’"
                        + (told.isEmpty() ? "; nothing is told at all" : "; what is told is: " + told)));
        must.asked().stream()
                .filter(name -> !asked().contains(name))
                .forEach(name -> found.add(
                        "‘" + name + "’ isn't asked; asked " + (asked().isEmpty() ? "is nobody" : "are " + asked())));
        must.most().forEach((what, most) -> {
            int used = used(what);
            if (used > most) {
                found.add("it takes " + used + " " + what + ", more than " + most);
            }
        });
        if (!unsaid.isEmpty()) {
            found.add(
                    unsaid.stream().map(Cue::words).distinct().collect(Collectors.joining(", ", "never needed: ", "")));
        }
        return found;
    }

    private String lastWords() {
        return Stream.concat(
                        entries(TrailWord.HANDED_OVER)
                                .map(data ->
                                        "; it says why: " + data.path("why").asString("")),
                        entries(TrailWord.CALL_HELD)
                                .map(data -> "; ‘" + data.path("tool").asString("") + "’ was held, in shadow"))
                .reduce("", (one, next) -> next);
    }

    private void steps(List<String> wanted, List<String> found) {
        List<String> passed = passedSteps();
        int at = 0;
        for (String step : wanted) {
            int next = passed.subList(at, passed.size()).indexOf(Step.address(step));
            if (next < 0) {
                found.add("it doesn't come to ‘" + step + "’; it goes " + String.join(" → ", passed));
                return;
            }
            at += next + 1;
        }
    }

    private void verdict(String tool, String wanted, List<String> found) {
        List<String> said = verdicts().getOrDefault(tool, List.of());
        if (said.isEmpty()) {
            found.add("‘" + tool + "’ is never judged");
        } else if (!said.get(0).equals(wanted)) {
            found.add("the mandate says ‘" + said.get(0) + "’ of ‘" + tool + "’, not ‘" + wanted + "’");
        }
    }

    private String instead(String tool) {
        List<String> others = calls().stream()
                .filter(call -> call.tool().equals(tool))
                .map(call -> Json.write(call.with()))
                .toList();
        return others.isEmpty() ? "" : "; it is called with " + String.join(" and ", others);
    }

    private static boolean fits(CallOf call, CallOf wanted) {
        return call.tool().equals(wanted.tool()) && Script.holds(call.with(), wanted.with());
    }

    private Stream<JsonNode> entries(TrailWord what) {
        return trail.stream()
                .filter(entry -> entry.entry().what().equals(what.word()))
                .map(entry -> Objects.requireNonNull(entry.data()));
    }

    /** The addresses of the steps that were entered, in order. */
    public List<String> passedSteps() {
        return trail.stream()
                .filter(entry -> entry.entry().what().equals(TrailWord.STEP.word()))
                .map(entry -> entry.entry().step())
                .toList();
    }

    /** Whether a call was sent for the first time, or done by hand where it was held. */
    private static boolean isMade(String what, JsonNode data) {
        return what.equals(TrailWord.CALL_SENT.word()) && data.path("try").asInt(1) == 1
                || what.equals(TrailWord.DONE_BY_HAND.word())
                        && !data.path("did").asString("").equals("nothing");
    }

    /** The calls that were sent, or done by hand in shadow, with their inputs. */
    public List<CallOf> calls() {
        Map<String, JsonNode> proposed = new LinkedHashMap<>(); // by run: one call is under way at a time
        List<CallOf> sent = new ArrayList<>();
        for (RecordedEntry entry : trail) {
            JsonNode data = entry.data();
            if (data != null && entry.entry().what().equals(TrailWord.CALL_PROPOSED.word())) {
                proposed.put(entry.entry().runId() + " " + data.path("tool").asString(""), data.path("inputs"));
            } else if (data != null && isMade(entry.entry().what(), data)) {
                String tool = data.path("tool").asString("");
                sent.add(new CallOf(
                        tool,
                        proposed.getOrDefault(entry.entry().runId() + " " + tool, Json.object()),
                        rehearsal.place()));
            }
        }
        return sent;
    }

    /** What the mandate said, by tool, in order. */
    public Map<String, List<String>> verdicts() {
        Map<String, List<String>> said = new LinkedHashMap<>();
        entries(TrailWord.VERDICT)
                .forEach(data -> said.computeIfAbsent(data.path("tool").asString(""), tool -> new ArrayList<>())
                        .add(data.path("verdict").asString("")));
        return said;
    }

    /** The texts that were told somebody. */
    public List<String> told() {
        return calls().stream()
                .filter(call -> Telling.tells(call.tool()))
                .map(call -> call.with().path("text").asString(""))
                .toList();
    }

    /** Who was asked, or would have been where a call was held. */
    public List<String> asked() {
        TreeSet<String> names = new TreeSet<>();
        Stream.concat(entries(TrailWord.APPROVAL_OPENED), entries(TrailWord.CALL_HELD))
                .forEach(data -> data.path("of").forEach(name -> names.add(name.asString(""))));
        return List.copyOf(names);
    }

    private int used(String what) {
        return switch (what) {
            case "calls" -> calls().size();
            case "approvals" -> (int) entries(TrailWord.APPROVAL_OPENED).count();
            default ->
                trail.stream()
                        .map(RecordedEntry::data)
                        .filter(Objects::nonNull)
                        .mapToInt(data -> data.path("tokens").asInt(0))
                        .sum();
        };
    }
}

package servitor.core.approval;

import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Quorum;
import servitor.core.json.Json;
import servitor.core.mandate.CallWords;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A question to people that a run waits for.
 *
 * @param of who may answer: groups, desks, and people as {@code person:id}
 * @param quorum how many have to approve
 * @param not who may not answer, even as a member of those asked
 * @param rounds how many times it may still be sent back with feedback; 0 when it can't
 * @param sheet everything the approvers are shown: {@code call}, {@code edits}, {@code form}, {@code plan}, {@code show}
 * @param within how long they have; null for no limit
 * @param remind shares of that time (0 to 1) after which they are reminded
 * @param validWhile the condition without which it isn't asked any more; null for none
 * @param lapses whether its time is over at once when nobody can answer; null in requests of earlier versions
 */
public record ApprovalRequest(
        String id,
        String step,
        String question,
        Set<String> of,
        Quorum quorum,
        Set<String> not,
        int rounds,
        JsonNode sheet,
        @Nullable Duration within,
        List<Double> remind,
        @Nullable String validWhile,
        @Nullable Boolean lapses) {
    private static final int LONGEST_BEGINNING = 80;

    public ApprovalRequest {
        of = Set.copyOf(of);
        not = Set.copyOf(not);
        remind = List.copyOf(remind);
        if (of.isEmpty()) {
            throw new IllegalArgumentException("an approval must ask somebody");
        }
    }

    /** One that is asked whatever comes. */
    public ApprovalRequest(
            String id,
            String step,
            String question,
            Set<String> of,
            Quorum quorum,
            Set<String> not,
            int rounds,
            JsonNode sheet,
            @Nullable Duration within,
            List<Double> remind) {
        this(id, step, question, of, quorum, not, rounds, sheet, within, remind, null, null);
    }

    /** What an answer binds to: the question and everything shown with it. */
    public String digest() {
        return Json.digest(Json.object().put("question", question).set("sheet", sheet));
    }

    /** What happens after a yes, in one line: what the call does; else the question, with the first words of the text it is about. */
    public String headline() {
        String says = sheet.path("call").path("says").asString("");
        return says.isEmpty()
                ? texts().values().stream()
                        .findFirst()
                        .map(text -> question + " ‘" + CallWords.beginning(text, LONGEST_BEGINNING) + "’")
                        .orElse(question)
                : says;
    }

    /** When people are reminded after {@code given} reminders; null when there is none left. */
    public @Nullable Instant reminder(Instant opened, int given) {
        List<Double> shares = remind.stream().sorted().toList();
        return within == null || given >= shares.size()
                ? null
                : opened.plusMillis((long) (within.toMillis() * shares.get(given)));
    }

    /** The texts that may be edited, by their key. */
    public Map<String, String> texts() {
        Map<String, String> texts = new LinkedHashMap<>();
        sheet.path("edits")
                .forEach(edit -> texts.put(
                        edit.path("key").asString(""), edit.path("text").asString("")));
        return texts;
    }

    /** Whether its time is over at once when nobody can answer. */
    public boolean lapsesWhenNobody() {
        return Boolean.TRUE.equals(lapses);
    }

    /** Whether it may be answered with words of what should be different: a text, a plan, or a question of an agent. */
    boolean takesWords() {
        return !texts().isEmpty() || sheet.path("feedback").path("left").asInt(0) > 0;
    }

    /** The same question about texts as somebody has changed them. */
    public ApprovalRequest showing(Map<String, String> changed) {
        ObjectNode copy = (ObjectNode) sheet.deepCopy();
        copy.path("edits").forEach(edit -> {
            String text = changed.get(edit.path("key").asString(""));
            if (text != null) {
                ((ObjectNode) edit).put("text", text);
            }
        });
        return new ApprovalRequest(
                id, step, question, of, quorum, not, rounds, copy, within, remind, validWhile, lapses);
    }
}

package servitor.service.api;

import servitor.core.run.Steering;
import servitor.core.run.Steering.Said;
import tools.jackson.databind.JsonNode;

/**
 * What somebody's words about a sheet are read as; nothing is answered by reading.
 *
 * @param said {@code go}, {@code change}, {@code skip}, {@code stop} or {@code unclear}
 * @param decision {@code approve}, {@code decline}, {@code feedback} or {@code nothing}
 * @param reason what would be the reason, or the feedback
 * @param words all of it in a sentence
 */
record AnswerReading(String said, String decision, String reason, String words) {
    /** What words come to on a sheet. */
    static AnswerReading of(String words, JsonNode sheet) {
        int rounds = sheet.path("feedback").path("left").asInt(0);
        Steering read = Steering.read(words);
        return switch (read.said()) {
            case GO -> new AnswerReading(Said.GO.word(), "approve", "", "Say yes to this sheet, as it stands here.");
            case CHANGE ->
                rounds > 0
                        ? new AnswerReading(
                                Said.CHANGE.word(),
                                "feedback",
                                read.text(),
                                sentBack(sheet) + ": ‘" + read.text() + "’")
                        : no(read, "Say no, and why: ‘" + read.text() + "’");
            case SKIP -> no(read, "Say no: this isn’t done.");
            case STOP -> no(read, "Say no. The run itself is stopped on its case.");
            case UNCLEAR ->
                new AnswerReading(
                        Said.UNCLEAR.word(),
                        "nothing",
                        read.text(),
                        "That isn’t clear, so nothing is answered. Say ‘go ahead’, ‘skip that’, ‘stop’, or what should be different.");
        };
    }

    /** What becomes of words of what should be different: another text or plan, or the answer to an agent's question. */
    private static String sentBack(JsonNode sheet) {
        if (!sheet.path("edits").isEmpty()) {
            return "Send it back to be written again";
        }
        return sheet.has("plan") ? "Ask for another plan" : "Give this as the answer";
    }

    private static AnswerReading no(Steering read, String words) {
        return new AnswerReading(read.said().word(), "decline", read.text(), words);
    }
}

package servitor.core.handbook.read;

import java.util.List;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.finding.Findings;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Parts of a rehearsal that come on their own, in the form they have in its file. */
public final class RehearsalAnswers {
    private static final String WHERE = "answers";

    private RehearsalAnswers() {}

    /**
     * What the world says, from {@code answers}.
     *
     * @throws IllegalArgumentException when something isn't an answer, with what is wrong
     */
    public static List<Rehearsal.Cue> cues(List<JsonNode> answers) {
        ObjectNode file = Json.object().put("title", WHERE);
        file.putObject("case").put("kind", WHERE);
        file.set("answers", Json.of(answers));
        return read(file).cues();
    }

    /**
     * A case, from {@code case}.
     *
     * @throws IllegalArgumentException when it isn't one, with what is wrong
     */
    public static Rehearsal of(String title, JsonNode about) {
        ObjectNode file = Json.object().put("title", title);
        file.set("case", about);
        return read(file);
    }

    private static Rehearsal read(ObjectNode file) {
        file.putObject("must");
        Findings findings = new Findings();
        Rehearsal read = RehearsalFile.read(WHERE, Yaml.read(WHERE, 1, Json.write(file), findings), findings);
        findings.sorted().stream().findFirst().ifPresent(finding -> {
            throw new IllegalArgumentException(finding.what() + " " + finding.remedy());
        });
        return read;
    }
}

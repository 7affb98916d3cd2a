package servitor.core.engine;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import java.util.Map;
import servitor.core.document.FoundAt;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunState;
import servitor.core.run.Situation;
import tools.jackson.databind.JsonNode;

/**
 * What people are shown beside what an approval asks: the request, who is behind it, and what the run knew. Kept with the approval
 * as it was when they were asked, so that a decision can be held against what it rested on.
 */
@JsonInclude(JsonInclude.Include.ALWAYS)
public record Evidence(
        String subject, String text, JsonNode fields, String requester, String name, String proof, List<Known> known) {

    /**
     * One value that the run knew.
     *
     * @param found where in a document parts of it were found, by their dotted paths
     */
    public record Known(
            String name, JsonNode value, List<String> origins, boolean written, Map<String, FoundAt> found) {
        public Known {
            found = found == null ? Map.of() : Map.copyOf(found); // what earlier versions kept has none
        }
    }

    static Evidence of(RunState run, Situation situation) {
        return new Evidence(
                situation.view().subject(),
                situation.view().text(),
                situation.view().fields(),
                situation.requester().id(),
                situation.requester().name(),
                situation.requester().proof(),
                known(run));
    }

    /** Everything a run knows, as it is shown. */
    public static List<Known> known(RunState run) {
        return run.known().entrySet().stream()
                .map(one -> new Known(
                        one.getKey(),
                        one.getValue().value(),
                        TracedValue.words(one.getValue().originsAt("")),
                        one.getValue().written(),
                        one.getValue().found()))
                .toList();
    }
}

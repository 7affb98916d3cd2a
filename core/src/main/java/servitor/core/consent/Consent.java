package servitor.core.consent;

import com.fasterxml.jackson.annotation.JsonCreator;
import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.Via;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/**
 * That people said yes to something, kept under the digest of exactly what they were shown.
 *
 * @param groups for whom they answered
 * @param by who they were, and how each saw it; empty where earlier versions didn't keep that
 * @param until when it ends; null where it holds as long as the run does
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Consent(
        Set<String> groups, List<Given> by, @Nullable Instant until) {
    public Consent {
        groups = Set.copyOf(groups);
        by = List.copyOf(by);
    }

    /** One person's yes. */
    public record Given(String person, Via via) {}

    /** Reads what was kept; earlier versions kept the groups alone. */
    @JsonCreator
    static Consent kept(JsonNode kept) {
        JsonNode groups = kept.isArray() ? kept : kept.path("groups");
        return new Consent(
                groups.valueStream().map(group -> group.asString("")).collect(Collectors.toSet()),
                kept.path("by")
                        .valueStream()
                        .map(given -> Json.read(Json.write(given), Given.class))
                        .toList(),
                kept.has("until") ? Instant.parse(kept.path("until").asString("")) : null);
    }

    /** Whether it lets a call go that {@code asked} have to say yes to: all of them did, signed in, and its time isn't over. */
    public boolean covers(Set<String> asked, Instant now) {
        return groups.containsAll(asked)
                && by.stream().noneMatch(given -> given.via().isByMail())
                && (until == null || now.isBefore(until));
    }
}

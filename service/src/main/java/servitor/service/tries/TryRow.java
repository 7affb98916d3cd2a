package servitor.service.tries;

import java.time.Instant;

/**
 * A page that somebody tries out.
 *
 * @param source {@code rehearsal}, {@code case} or {@code request}
 * @param named the rehearsal or the case; empty for a request
 * @param request the request as it was typed, as JSON; empty for anything else
 * @param answers what was answered, as a JSON list; one that is {@code silent} names what nobody answers
 * @param forReal how often a tool or a model was asked for it
 */
public record TryRow(
        String id,
        String person,
        String source,
        String named,
        String title,
        String request,
        String answers,
        int forReal,
        Instant updated) {
    /** The same with other answers, and so many more that were asked for real. */
    TryRow with(String otherAnswers, int moreForReal) {
        return new TryRow(id, person, source, named, title, request, otherAnswers, forReal + moreForReal, updated);
    }

    /** The same as it is kept. */
    TryRow kept(String called, Instant now) {
        return new TryRow(id, person, source, named, called, request, answers, forReal, now);
    }
}

package servitor.core.run;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.document.FileType;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Verb.Await;
import servitor.core.handbook.Verb.Awaited;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunInput.Arrived;
import servitor.core.run.RunInput.CaseSettled;
import servitor.core.run.RunInput.TimeUp;
import servitor.core.run.RunState.Pending;
import servitor.core.trail.TrailWord;

/** {@code await}: waits for a reply, a document, an event or a time; nothing is held meanwhile. */
final class AwaitHandler implements VerbHandler<Await> {
    private static final String DAY = "2026-12-24";

    @Override
    public void enter(TransitionBuilder turn, Await verb) {
        String named = verb.what() == Awaited.CASE ? opened(turn, verb) : verb.named();
        Instant end = verb.within() == null ? null : turn.situation().now().plus(verb.within());
        if (verb.until() != null) {
            TracedValue until = turn.fill(verb.until());
            if (until == null) {
                return;
            }
            end = time(
                    until.value().asString(""),
                    turn.edition().handbook().house().timeZone());
            if (end == null) {
                turn.problem(Problem.INVALID, "‘" + until.value() + "’ is no time to wait for");
                return;
            }
        }
        String id = turn.usage().nextId();
        String timer = null;
        if (end != null) {
            timer = id + "-timer";
            turn.command(new Command.SetTimer(timer, end));
        }
        turn.log(
                TrailWord.WAITING,
                Json.object()
                        .put("for", verb.what().word())
                        .put("named", named)
                        .put("until", end == null ? "" : end.toString()));
        turn.awaitLong(
                new Pending(
                        Pending.Kind.ARRIVAL,
                        id,
                        null,
                        Set.of(),
                        timer,
                        verb.what().word(),
                        named),
                words(verb, named, end));
        if (verb.what() == Awaited.CASE) {
            turn.command(new Command.AwaitCase(named));
        }
    }

    /** The case that a step has opened. */
    private static String opened(TransitionBuilder turn, Await verb) {
        TracedValue saved = turn.known().saved().get(verb.named());
        return saved == null ? "" : saved.value().path("id").asString("");
    }

    private static String words(Await verb, String named, @Nullable Instant end) {
        return switch (verb.what()) {
            case REPLY -> "a reply of the requester";
            case DOCUMENT -> verb.named().isEmpty() ? "a document" : "a document named like ‘" + verb.named() + "’";
            case EVENT -> "the event ‘" + verb.named() + "’";
            case CASE -> "the case " + named;
            case TIME -> "the time " + end;
        };
    }

    /** A document of another type than is waited for doesn't end the wait. */
    private static boolean isMeant(Await verb, Arrived arrived) {
        String type = arrived.value().value().path("type").asString("");
        return verb.types().isEmpty() || verb.types().stream().anyMatch(word -> FileType.fits(word, type));
    }

    static @Nullable Instant time(String text, ZoneId zone) {
        try {
            return text.length() == DAY.length()
                    ? LocalDate.parse(text).atStartOfDay(zone).toInstant()
                    : text.matches("[^T]*T[0-9:.]*")
                            ? LocalDateTime.parse(text).atZone(zone).toInstant()
                            : OffsetDateTime.parse(text).toInstant();
        } catch (DateTimeException e) {
            return null;
        }
    }

    @Override
    public void resume(TransitionBuilder turn, Await verb, RunInput input) {
        if (input instanceof Arrived arrived && !isMeant(verb, arrived)) {
            turn.log(
                    TrailWord.ARRIVED,
                    Json.object()
                            .put("what", verb.what().word())
                            .put("instead", arrived.value().value().path("type").asString("")));
        } else if (input instanceof Arrived arrived) {
            turn.usage().hear();
            turn.log(TrailWord.ARRIVED, Json.object().put("what", verb.what().word()));
            turn.known().save(verb.save(), arrived.value());
            if (verb.what() == Awaited.REPLY) {
                Conversation.remember(
                        turn, "requester", arrived.value().value().path("text").asString(""));
            }
            turn.goOn(verb.ways(), Await.ARRIVED);
        } else if (input instanceof CaseSettled settled) {
            turn.log(
                    TrailWord.ARRIVED,
                    Json.object().put("what", verb.what().word()).put("case", settled.caseId()));
            turn.known().writtenElsewhere(settled.gave().written());
            turn.concealedElsewhere(settled.gave().concealed());
            turn.known().save(verb.save(), settled.value());
            turn.goOn(verb.ways(), Await.ARRIVED);
        } else if (input instanceof TimeUp && verb.what() == Awaited.TIME) {
            turn.log(TrailWord.ARRIVED, Json.object().put("what", "time"));
            turn.known()
                    .save(
                            verb.save(),
                            TracedValue.of(
                                    Json.object()
                                            .put("at", turn.situation().now().toString()),
                                    Origin.HANDBOOK));
            turn.goOn(verb.ways(), Await.ARRIVED);
        } else if (input instanceof TimeUp) {
            turn.log(
                    TrailWord.PROBLEM,
                    Json.object().put("problem", Problem.EXPIRED.word()).put("detail", "nothing came in time"));
            turn.noteProblem(Problem.EXPIRED, "no " + verb.what().word() + " came within " + verb.within());
            turn.goTo(verb.ways().getOrDefault(Await.EXPIRED, servitor.core.handbook.Step.HAND_OVER));
        }
    }
}

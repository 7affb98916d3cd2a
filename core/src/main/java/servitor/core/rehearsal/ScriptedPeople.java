package servitor.core.rehearsal;

import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import servitor.core.approval.Answer;
import servitor.core.approval.ApprovalRules.Refused;
import servitor.core.approval.Via;
import servitor.core.engine.ApprovalAnswers;
import servitor.core.engine.Engine;
import servitor.core.engine.EngineStore;
import servitor.core.engine.KeptApproval;
import servitor.core.engine.MemoryBooks;
import servitor.core.engine.RunControl;
import servitor.core.engine.RunRefused;
import servitor.core.handbook.Audience;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.PeopleSay;
import servitor.core.handbook.Rehearsal.Unasked;
import servitor.core.json.Json;
import servitor.core.run.RunInput;
import servitor.core.run.RunState;
import servitor.core.trail.TrailEvent;
import tools.jackson.databind.JsonNode;

/** What people say and do in a rehearsal, as they would in the house. What wouldn't count there is {@link RunRefused}. */
final class ScriptedPeople {
    private final Engine engine;
    private final ApprovalAnswers answers;
    private final RunControl control;

    ScriptedPeople(Engine engine) {
        this.engine = engine;
        this.answers = new ApprovalAnswers(engine);
        this.control = new RunControl(engine);
    }

    /** They answer what they are asked; gives why that doesn't count, if it doesn't. */
    Optional<String> answer(MemoryBooks books, KeptApproval kept, PeopleSay say) {
        Map<String, String> texts = new HashMap<>(say.texts());
        String only = texts.remove("");
        if (only != null) {
            kept.request().texts().keySet().stream().findFirst().ifPresent(key -> texts.put(key, only));
        }
        var ruling = answers.answer(
                books,
                kept.id(),
                new Answer(
                        say.by(),
                        kept.request().of(),
                        Set.of(),
                        Answer.Says.valueOf(say.says().toUpperCase(Locale.ROOT)),
                        kept.request().digest(),
                        say.reason(),
                        texts,
                        say.form(),
                        Via.CONSOLE));
        return ruling instanceof Refused refused ? Optional.of(refused.message()) : Optional.empty();
    }

    /** Their time is up. */
    void expire(MemoryBooks books, KeptApproval kept) {
        answers.expire(books, kept.id());
    }

    /** It is looked at whether they still have to be asked. */
    void withdrawUnlessValid(MemoryBooks books, KeptApproval kept) {
        answers.withdrawUnlessValid(books, kept.id());
    }

    /** They say what came of a call in doubt. */
    void settle(MemoryBooks books, RunState run, PeopleSay say) {
        boolean happened = say.says().equals(PeopleSay.HAPPENED);
        JsonNode gave = happened && say.form() != null ? say.form() : Json.object();
        control.settle(books, run.id(), say.by(), happened, gave, say.reason());
    }

    /** They see to a step that failed. */
    void mend(MemoryBooks books, String trouble, PeopleSay say) {
        switch (say.says()) {
            case "retry" -> control.retry(books, trouble, say.by(), say.reason());
            case PeopleSay.SKIP -> control.skip(books, trouble, say.by(), say.reason(), say.form());
            default -> control.takeOver(books, trouble, say.by(), say.reason());
        }
    }

    /** They do by hand what is held in shadow. */
    void doByHand(MemoryBooks books, RunState run, Rehearsal.Result result) {
        RunState.Pending held = Objects.requireNonNull(run.pending());
        String why = result instanceof Rehearsal.Fails fails ? fails.detail() : "as rehearsed";
        JsonNode gave = result instanceof Rehearsal.Gives gives ? gives.value() : Json.object();
        engine.feed(
                books,
                run.id(),
                new RunInput.DoneByHand(
                        held.id(),
                        TrailEvent.SYSTEM,
                        result instanceof Rehearsal.Fails,
                        held.callOf().args(),
                        gave,
                        why));
    }

    /** They are done with a case, or take it back. */
    void close(MemoryBooks books, String caseId, Unasked one) {
        if (one.does().equals(Unasked.WITHDRAW)) {
            control.withdraw(books, caseId, one.by(), one.says());
        } else {
            String person = TrailEvent.person(one.by());
            control.resolve(
                    books,
                    caseId,
                    one.by(),
                    new EngineStore.Note("done", person, Audience.STAFF.word(), false, one.says()));
        }
    }

    /** They steer a run. What is paused already, or goes on already with the page that follows it, stays so. */
    void steer(MemoryBooks books, RunState run, Unasked one) {
        switch (one.does()) {
            case "pause" -> {
                if (!run.isPaused()) {
                    control.pause(books, run.id(), one.by(), one.says());
                }
            }
            case "resume" -> {
                if (run.isPaused()) {
                    control.resume(books, run.id(), one.by());
                }
            }
            case "advise" -> control.advise(books, run.id(), one.by(), one.says());
            default -> control.stop(books, run.id(), one.by(), one.says());
        }
    }
}

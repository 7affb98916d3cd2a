package servitor.core.engine;

import servitor.core.engine.EngineStore.Note;
import servitor.core.handbook.Audience;
import servitor.core.handbook.Channel;
import servitor.core.handbook.Telling;
import servitor.core.mandate.ProposedCall;
import servitor.core.origin.TracedValue;
import servitor.core.run.Command;
import servitor.core.run.RunState;
import servitor.core.trail.TrailEvent;

/** What was told stands on the case, whichever way it went: it is written once it is known to have happened, however that came to be known. */
final class ToldNote {
    private ToldNote() {}

    /** Writes the note of work that happened, if it told somebody something; one that is there stays as it is. */
    static void write(EngineStore store, Work work) {
        if (!(work.command() instanceof Command.CallTool command)
                || !Telling.tells(command.call().tool())) {
            return;
        }
        ProposedCall call = command.call();
        RunState run = store.run(work.run()).orElseThrow().state();
        TracedValue text = call.input("text");
        String words = call.args().path("text").asString("");
        String to = call.args().path("to").asString(Telling.REQUESTER);
        store.note(
                run.caseId(),
                new Note(
                        work.id(),
                        run.writerOf(words).map(TrailEvent::person).orElse(TrailEvent.agent(call.agent())),
                        (to.equals(Telling.REQUESTER) ? Audience.REQUESTER : Audience.STAFF).word(),
                        text != null && text.written(),
                        words,
                        switch (call.tool()) {
                            case Telling.MAIL -> Channel.MAIL;
                            case Telling.CHAT -> Channel.CHAT;
                            default -> Channel.NOTE;
                        },
                        to.equals(Telling.REQUESTER) ? "" : to));
    }
}

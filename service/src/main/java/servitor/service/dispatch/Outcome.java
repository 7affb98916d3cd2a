package servitor.service.dispatch;

import servitor.core.run.RunInput;

/** What came of carrying out a command. */
sealed interface Outcome {

    /** The run goes on with this input. */
    record Done(RunInput input) implements Outcome {}

    /** Nothing happened outside that can't be repeated: try again later, with the same key. */
    record TryAgain(String problem, String detail) implements Outcome {}

    /** The answer is a note on the case, to be written in the same transaction as the run's next state. */
    record WriteReply(String id, String text) implements Outcome {}
}

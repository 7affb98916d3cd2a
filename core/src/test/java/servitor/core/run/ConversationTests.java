package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static servitor.core.run.Scripted.play;
import static servitor.core.run.Scripted.step;

import org.junit.jupiter.api.Test;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;

/** What a step that speaks with the requester remembers of it. */
class ConversationTests {
    private static final String TALK = step("Answer", """
            draft: text
            REMEMBER
            max-words: 60
            save: answer
            at-most: 1000
            on: { exhausted: hand over }
            """)
            + step(
                    "Read it",
                    "approve: Send it?\nof: passengers\nedit: answer\ngo: { approved: send it, declined: hand over }")
            + step("Send it", "tell: requester\nby: note\ntext: \"${answer}\"")
            + step("Wait", "await: reply\nsave: reply\ngo: { arrived: answer }");

    private static Play talk(String remember) {
        return play(
                        "starts: []\nlimits: { calls: 5000, model-tokens: 9000000 }\n",
                        TALK.replace("REMEMBER\n", remember))
                .start();
    }

    private static void turn(Play play, int number) {
        play.write("Answer " + number + ". And more of it.").approve().answerTool("{\"told\":\"requester\"}");
        play.give(new RunInput.Arrived(
                play.state.pending().id(),
                TracedValue.of(Json.object().put("text", "Reply " + number + "."), Origin.REQUESTER)));
    }

    private static String asked(Play play) {
        return play.only(Command.AskModel.class).prompt().user();
    }

    @Test
    void theLastTurnsAreToldWordForWordAndEarlierOnesInShort() {
        Play play = talk("remember: 3\n");
        turn(play, 1);
        assertThat(asked(play))
                .contains(
                        "{\"by\":\"us\",\"text\":\"Answer 1. And more of it.\"},{\"by\":\"requester\",\"text\":\"Reply 1.\"}");
        turn(play, 2);
        assertThat(asked(play))
                .contains("\"before, in short\":[{\"by\":\"us\",\"text\":\"Answer 1.\"}]")
                .contains(
                        "\"turns\":[{\"by\":\"requester\",\"text\":\"Reply 1.\"},{\"by\":\"us\",\"text\":\"Answer 2. And more of it.\"}");
    }

    @Test
    void aStepThatRemembersNothingIsToldNothingOfIt() {
        Play play = talk("");
        turn(play, 1);
        assertThat(asked(play)).doesNotContain("Answer 1.", "conversation");
        assertThat(play.state.memory().conversation()).isEqualTo(Conversation.NONE);
    }

    @Test
    void itStaysAsSmallHoweverLongTheySpeak() {
        Play play = talk("remember: 6\n");
        int atHundred = 0;
        int promptAtHundred = 0;
        for (int number = 1; number <= 500; number++) {
            turn(play, 1_000 + number);
            assertThat(play.state.status().ended()).as("turn " + number).isFalse();
            if (number == 100) {
                atHundred = Json.write(play.state.memory()).length();
                promptAtHundred = asked(play).length();
            }
        }
        assertThat(Json.write(play.state.memory()).length()).isLessThan(atHundred + 50);
        assertThat(asked(play).length()).isLessThan(promptAtHundred + 50);
        assertThat(asked(play)).contains("\"turns before\":974", "Reply 1500.");
    }

    @Test
    void aPageThatNobodySpeaksWithStillEndsWhenItGoesRound() {
        Play play = play(
                        "starts: []\n",
                        step("One", "set: { priority: high }\ngo: two\nat-most: 9000\non: { exhausted: hand over }")
                                + step("Two", "set: { priority: low }\ngo: one"))
                .start();
        assertThat(play.state.status()).isEqualTo(RunStatus.FAILED);
    }
}

package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What people write in the box of a run, and what it is read as. */
class SteeringTests {
    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            Go ahead.                         | GO
            yes, please go ahead!             | GO
            ok                                | GO
            mach bitte weiter                 | GO
            Vas-y !                           | GO
            Ja, mach weiter!                  | GO
            ok, do it                         | GO
            yes, stop                         | UNCLEAR
            skip that                         | SKIP
            Lass das weg, danke.              | SKIP
            STOP!                             | STOP
            Stop it now, please               | STOP
            Arrêtez                           | STOP
            no, stop                          | STOP
            nein, hör auf                     | STOP
            no                                | UNCLEAR
            no, go ahead                      | UNCLEAR
            don't stop                        | UNCLEAR
            should I skip that?               | UNCLEAR
            stop or go on                     | UNCLEAR
            maybe skip                        | UNCLEAR
            …                                 | UNCLEAR
            What does it cost?                | UNCLEAR
            She travels with a dog.           | CHANGE
            no, use the spare key             | CHANGE
            Do it this way: ask the harbour   | CHANGE
            nein, nimm den anderen Scanner    | CHANGE
            """)
    void wordsAreReadAsWhatTheySayOrAsUnclear(String words, Steering.Said said) {
        assertThat(Steering.read(words).said()).isEqualTo(said);
    }

    @Test
    void aChangeIsToldWithoutWhatLeadsToIt() {
        assertThat(Steering.read("No, do it this way: ask the harbour first.").text())
                .isEqualTo("ask the harbour first.");
        assertThat(Steering.read(" Use the spare key. ").text()).isEqualTo("Use the spare key.");
    }

    @Test
    void theLongestTextsAreReadInNoTime() {
        assertThat(Steering.read("no ".repeat(100_000)).said()).isNotEqualTo(Steering.Said.STOP);
        assertThat(Steering.read("stop ".repeat(100_000)).said()).isEqualTo(Steering.Said.CHANGE);
    }
}

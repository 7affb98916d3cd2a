package servitor.core.mail;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.mail.PlainAnswer.Says;

class PlainAnswerTests {
    private static final PlainAnswer.Known KNOWN = new PlainAnswer.Known(
            "Osei Brandt",
            List.of("Sent from my telephone"),
            "Pay 310.00 EUR back\n\nThe request of Ines Halloran: my sailing was cancelled.\nno\n");

    @ParameterizedTest
    @ValueSource(
            strings = {
                "Yes",
                "yes.",
                "OK, thanks!",
                "Ja",
                "Genehmigt.",
                "Oui, merci",
                "D’accord",
                "Approved\n\n-- \nOsei",
                "Yes\n\nBest regards\nOsei Brandt",
                "yes\n\nOn 30 Nov 2026 at 09:02, the desk wrote:\n> Pay 310.00 EUR\n> no\n",
                "Ja.\n\nSent from my telephone",
                "Yes\nThanks, Osei",
                "OK\nMit freundlichen Grüßen\nBrandt",
                "yes\n\nFrom: The desk <desk@skerryline.example>\nSent: 30 Nov 2026\nSubject: Pay\n\nPay 310.00 EUR back\n\nThe request of Ines Halloran: my\nsailing was cancelled.",
                "yes\n\nOn 30 Nov 2026 at 09:02, the desk\nwrote:\n> Pay 310.00 EUR",
            })
    void aPlainYesIsOne(String text) {
        assertThat(PlainAnswer.of(text, KNOWN).says()).isEqualTo(Says.YES);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "ok\nplease wait",
                "Yes\nstop",
                "yes\ndecline please",
                "Yes\n\nstop\nOsei",
                "Yes\nwait for Lucja",
                "Yes\nBut change the date",
                "Yes\n\nif the boat sails",
                "Yes\nSent from my telephone: stop",
                "Yes\nSent from my watch",
                "Yes\nLucja",
                "yes\nOn 30 Nov 2026 the desk wrote:\nstop",
                "yes\n_______________\nFrom: me\nSent: now\nstop",
                "yes\nNote: stop",
                "yes\n\nConfidential. wait\nThe recipient should delete this.",
                "yes\nnein",
            })
    void aYesWithAnythingElseIsAskedAbout(String text) {
        assertThat(PlainAnswer.of(text, KNOWN).says()).isEqualTo(Says.YES_AND_MORE);
    }

    @Test
    void whatElseWasWrittenIsToldBack() {
        assertThat(PlainAnswer.of("ok\nplease wait\n-- \nOsei", KNOWN))
                .isEqualTo(new PlainAnswer(Says.YES_AND_MORE, "please wait"));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            nullValues = "-",
            value = {
                "No | ''",
                "no. | ''",
                "No, the amount is wrong | the amount is wrong",
                "Nein: zu viel | zu viel",
                "Non – le montant est faux | le montant est faux",
                "declined; not ours | not ours",
            })
    void aPlainNoIsOneWithItsReason(String text, String reason) {
        assertThat(PlainAnswer.of(text, KNOWN)).isEqualTo(new PlainAnswer(Says.NO, reason));
    }

    @Test
    void theReasonMayFollowInTheNextLines() {
        assertThat(PlainAnswer.of("No.\nIt was paid already.\n\nOn 30 Nov the desk wrote:\n> x\n", KNOWN)
                        .words())
                .isEqualTo("It was paid already.");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "Yes and no",
                "Yes, but only half of it",
                "No idea, ask Lucja",
                "Not sure",
                "I approve of the sea",
                "> yes\n> approve",
                "On 30 Nov 2026 the desk wrote:\n> yes",
                "-----Original Message-----\nFrom: desk\nyes",
                "FYI\n\nyes",
                "Sí",
                "Yes to the question of yesterday; this one I have to think about",
            })
    void whatIsntPlainIsUnclear(String text) {
        assertThat(PlainAnswer.of(text, KNOWN).says()).isEqualTo(Says.UNCLEAR);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "I am out of the office until Monday.",
                "Hello,\n\nI am on annual leave until 4 January. Yes.",
                "Ich bin bis Montag abwesend.",
                "Je suis absent jusqu'à lundi.",
            })
    void whoIsAwayAnswersNothing(String text) {
        assertThat(PlainAnswer.of(text, KNOWN).says()).isEqualTo(Says.AWAY);
    }
}

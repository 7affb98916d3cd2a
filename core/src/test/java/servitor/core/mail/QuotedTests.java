package servitor.core.mail;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class QuotedTests {
    /** {@code /} parts lines. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "It is SK-1.//On Fri, 27 Nov 2026 at 10:00, Purser <help@x.example> wrote:/> Which one?/> Thanks | It is SK-1.",
                "It is SK-1.//On Fri, 27 Nov 2026 at 10:00, Purser/<help@x.example> wrote:/> Which one? | It is SK-1.",
                "Ja.//Am 27.11.2026 um 10:00 schrieb Purser:/> Welche? | Ja.",
                "Oui.//Le 27/11/2026 à 10:00, Purser a écrit :/> Laquelle ? | Oui.",
                "Yes.//-----Original Message-----/From: Purser/Sent: Friday/Which? | Yes.",
                "Yes.//________________________________/From: Purser/Sent: Friday/Which? | Yes.",
                "Yes.//From: Purser/Date: Friday/To: Ines//Which? | Yes.",
                "Thank you./-- /Ines Halloran/Aldermouth | Thank you.",
                "Thank you.//Sent from my telephone | Thank you.",
                "No.//This e-mail is confidential. If you are not the recipient, delete it. | No.",
                "It broke on deck.//> Which part? | It broke on deck.",
            })
    void whatWasWrittenBeforeOrBelowEveryMailGoes(String text, String left) {
        assertThat(Quoted.without(text.replace("/", "\n").replace("27\n11\n2026", "27/11/2026")))
                .isEqualTo(left);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "Good day,//From: Aldermouth/we went to Varra.",
                "On Friday the clerk wrote:/pay at the desk.",
                "On Friday you wrote:/> Which sailing?/S-214./> Which seat?/12./> And the name?/Ines.",
                "> only quoted",
                "The list is confidential between us.",
                "See -- this is no signature",
            })
    void whatThePersonWroteStays(String text) {
        String written = text.replace("/", "\n");
        assertThat(Quoted.without(written)).isEqualTo(written);
    }
}

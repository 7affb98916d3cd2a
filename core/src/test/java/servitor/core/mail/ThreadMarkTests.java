package servitor.core.mail;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import servitor.core.json.Json;

class ThreadMarkTests {
    private final ThreadMark mark = new ThreadMark(new ThreadMark.Signer() {
        @Override
        public String sign(String text) {
            return Json.digest("key " + text);
        }

        @Override
        public boolean hasSigned(String text, String beginning) {
            return sign(text).startsWith(beginning);
        }
    });

    private static Mail answering(String subject, String... references) {
        return Mails.of(subject, List.of(references));
    }

    @Test
    void anAnswerBelongsToTheCaseOfTheMailItAnswers() {
        String first = mark.messageId("r-1001-4", "C-1001", "skerryline.example");
        String second = mark.messageId("r-1002-9", "C-1002", "skerryline.example");
        assertThat(mark.messageId("r-1001-4", "C-1001", "skerryline.example"))
                .as("made once")
                .isEqualTo(first);
        assertThat(mark.caseOf(answering("Re: Refund", "theirs@mail.example", first, second)))
                .as("the newest counts")
                .contains("C-1002");
        assertThat(mark.caseOf(answering("Re: Refund", "theirs@mail.example"))).isEmpty();
    }

    @Test
    void aTagInTheSubjectIsTheSecondWay() {
        String tagged = "AW: Refund " + mark.tag("C-1001");
        assertThat(mark.caseOf(answering(tagged))).contains("C-1001");
        assertThat(mark.caseOf(answering(tagged, mark.messageId("k", "C-1002", "x.example"))))
                .as("what is answered is surer than what is written")
                .contains("C-1002");
    }

    @Test
    void aGuessIsNoThread() {
        String real = mark.messageId("r-1001-4", "C-1001", "skerryline.example");
        for (String guess : List.of(
                real.replace("C-1001", "C-1002"),
                real.replace("r-1001-4", "r-1001-5"),
                "r-1001-4.C-1001.0000000000000000@skerryline.example",
                "C-1001@skerryline.example")) {
            assertThat(mark.caseOf(answering("Re: x", guess))).as(guess).isEmpty();
        }
        assertThat(mark.caseOf(answering("Re: [C-1001.0000000000000000] [C-1001]")))
                .isEmpty();
        assertThat(mark.caseOf(answering("Re: " + mark.tag("C-1001").replace("C-1001", "C-1003"))))
                .isEmpty();
    }

    @Test
    void aPlainSubjectHasNoTagsAndNoMarksOfAnswers() {
        assertThat(ThreadMark.plain("Re: AW: Fwd: Refund " + mark.tag("C-1001")))
                .isEqualTo("Refund");
        assertThat(ThreadMark.plain("Re: [C-1.AAAAAAAAAAAAAAAA] Two\r\nBcc: lines"))
                .isEqualTo("Two Bcc: lines");
        assertThat(ThreadMark.plain("Region: north")).isEqualTo("Region: north");
    }
}

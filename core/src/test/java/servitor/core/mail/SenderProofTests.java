package servitor.core.mail;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.handbook.Proof;

class SenderProofTests {
    private static final SenderProof PROOF = new SenderProof("mx.skerryline.example", Set.of("skerryline.example"));
    private static final String RESULTS =
            "Authentication-Results: mx.skerryline.example; dmarc=pass header.from=skerryline.example";
    private static final String RECEIVED =
            "Received: from out.example (out.example [192.0.2.7]) by mx.skerryline.example with ESMTPS id 7; now";

    @Test
    void whatOurServerWroteAboveItsOwnLineIsBelieved() {
        assertThat(PROOF.of(Mails.with("Return-Path: <ines@skerryline.example>", RESULTS, RECEIVED, "Subject: x")))
                .isEqualTo(Proof.VERIFIED);
        assertThat(PROOF.of(Mails.with(
                        "Authentication-Results: mx.skerryline.example 1; spf=fail; (a comment) dkim=pass (good; key) "
                                + "header.d=skerryline.example header.s=s1",
                        RECEIVED)))
                .as("signed by the very domain")
                .isEqualTo(Proof.VERIFIED);
    }

    /** {@code §} parts headers; R is our line of receipt, A our results. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "R | nothing is said",
                "R§A | what stands below our line came with the mail",
                "A§A§R | a second one of ours",
                "A§R§A | a second one of ours, buried",
                "Authentication-Results: other.example; dmarc=pass header.from=skerryline.example§A§R | another stands above",
                "Authentication-Results: other.example; dmarc=pass header.from=skerryline.example§R | another's word",
                "A§Received: from us by other.example; now | somebody else received it",
                "A | nobody received it",
                "Authentication-Results: mx.skerryline.example; dmarc=fail header.from=skerryline.example§R | it failed",
                "Authentication-Results: mx.skerryline.example; dmarc=pass header.from=evil.example§R | another domain passed",
                "Authentication-Results: mx.skerryline.example; dkim=pass header.d=evil.example§R | another domain signed",
                "Authentication-Results: mx.skerryline.example; spf=pass smtp.mailfrom=skerryline.example§R | an envelope proves nothing",
                "Authentication-Results: mx.skerryline.example; x=y (dmarc=pass header.from=skerryline.example)§R | a comment",
                "Authentication-Results: mx.skerryline.example; x=y (a (b) c; dmarc=pass header.from=skerryline.example)§R | nested comments",
                "Authentication-Results: mx.skerryline.example; spf=pass smtp.mailfrom=\"a; dmarc=pass header.from=skerryline.example \"@evil.example§R | a quoted sender",
                "Authentication-Results: mx.skerryline.example; spf=pass smtp.mailfrom=\"(\"@evil.example (; dmarc=pass header.from=skerryline.example)§R | a quoted parenthesis",
                "Authentication-Results: mx.skerryline.example; x=\"a\\\\\"; dmarc=pass header.from=skerryline.example\"§R | an escaped quote",
                "Authentication-Results: mx.skerryline.example; dmarc=passed header.from=skerryline.example§R | no such word",
                "Authentication-Results: mx.skerryline.example.evil.example; dmarc=pass header.from=skerryline.example§R | looks like us",
                "A§R§From: ines@skerryline.example§From: edda@skerryline.example | two senders",
                "A§R§From: ines@skerryline.example.evil.example | another domain",
                "Authentication-Results: mx.skerryline.example; dmarc=pass header.from=guest.example§R§From: ines@guest.example | vouches for nobody",
            })
    void everythingElseProvesNothing(String headers, String why) {
        String[] written = headers.split("§");
        for (int i = 0; i < written.length; i++) {
            written[i] = written[i].equals("R") ? RECEIVED : written[i].equals("A") ? RESULTS : written[i];
        }
        assertThat(PROOF.of(Mails.with(written))).as(why).isEqualTo(Proof.CLAIMED);
    }

    @Test
    void withoutAServerThatIsNamedNothingIsProven() {
        assertThat(SenderProof.NONE.of(Mails.with(RESULTS, RECEIVED))).isEqualTo(Proof.CLAIMED);
    }
}

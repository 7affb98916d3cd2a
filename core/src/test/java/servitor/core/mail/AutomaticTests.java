package servitor.core.mail;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Set;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class AutomaticTests {
    private static final Set<String> OWN = Set.of("help@skerryline.example");

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "From: Help@skerryline.example | an address of ours",
                "Auto-Submitted: auto-replied; why=holiday | a program sent it (Auto-Submitted: auto-replied)",
                "Auto-Submitted: auto-generated | a program sent it",
                "List-Id: Crew <crew.lists.example> | mailing list",
                "List-Unsubscribe: <mailto:no@lists.example> | mailing list",
                "Precedence: Bulk | Precedence: bulk",
                "X-Autoreply: yes | a responder",
                "Content-Type: multipart/report; report-type=delivery-status | a report",
                "Return-Path: <> | a report",
            })
    void whatNoPersonWroteIsTold(String header, String why) {
        assertThat(Automatic.reason(Mails.with(header), OWN))
                .hasValueSatisfying(said -> assertThat(said).contains(why));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "Auto-Submitted: no",
                "Precedence: first-class",
                "Return-Path: <ines@skerryline.example>",
                "Subject: Auto-Submitted: auto-replied",
                "Content-Type: multipart/mixed; boundary=report",
            })
    void aPersonsMailIsNoneOfThese(String header) {
        assertThat(Automatic.reason(Mails.with(header), OWN)).isEmpty();
    }
}

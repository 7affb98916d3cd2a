package servitor.core.mail;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.Test;

class DeliveryReportTests {
    private static Mail with(String type, String content) {
        Mail plain = Mails.of("Undelivered", List.of());
        return new Mail(
                plain.messageId(),
                plain.references(),
                plain.from(),
                plain.to(),
                plain.cc(),
                plain.subject(),
                plain.text(),
                plain.headers(),
                List.of(new Mail.Attachment("x", type, content.getBytes(StandardCharsets.UTF_8))),
                1);
    }

    @Test
    void aReportIsAboutTheMailThatCameWithIt() {
        String header = "Subject: x\r\nMessage-ID: <a.C-1.b@line.example>\r\n\r\nwords";
        assertThat(DeliveryReport.about(with("message/rfc822", header))).containsExactly("a.C-1.b@line.example");
        assertThat(DeliveryReport.about(with("text/rfc822-headers", header))).hasSize(1);
        assertThat(DeliveryReport.about(with("text/plain", header)))
                .as("what merely names one")
                .isEmpty();
        assertThat(DeliveryReport.about(with("message/rfc822", "x".repeat(200_000) + "\nMessage-ID: <late@x>")))
                .isEmpty();
    }
}

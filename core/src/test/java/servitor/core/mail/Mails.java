package servitor.core.mail;

import java.util.ArrayList;
import java.util.List;
import servitor.core.mail.Mail.Address;
import servitor.core.mail.Mail.Header;

/** Mails for tests, from Ines and of her own domain unless told otherwise. */
final class Mails {
    private Mails() {}

    static Mail with(String... headers) {
        return of("Refund please", List.of(), headers);
    }

    /** {@code headers} are written as {@code Name: value}, the topmost first. */
    static Mail of(String subject, List<String> references, String... headers) {
        List<Header> all = new ArrayList<>();
        List<Address> from = new ArrayList<>();
        for (String header : headers) {
            String[] parts = header.split(": ", 2);
            all.add(new Header(parts[0], parts[1]));
            if (parts[0].equals("From")) {
                from.add(new Address("", parts[1]));
            }
        }
        if (from.isEmpty()) {
            from.add(new Address("Ines", "ines@skerryline.example"));
        }
        return new Mail(
                "m1@skerryline.example", references, from, List.of(), List.of(), subject, "", all, List.of(), 100);
    }
}

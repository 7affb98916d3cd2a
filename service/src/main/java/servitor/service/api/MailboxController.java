package servitor.service.api;

import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.service.intake.Mailboxes;
import servitor.service.people.Access;
import servitor.service.people.Person;

/** How mailboxes are, for whoever sees to connections. */
@RestController
class MailboxController {
    private final Mailboxes mailboxes;

    MailboxController(Mailboxes mailboxes) {
        this.mailboxes = mailboxes;
    }

    @GetMapping("/api/mailboxes")
    List<Mailboxes.State> all(Person person) {
        Access.SEE_CONNECTIONS.require(person);
        return mailboxes.all();
    }
}

package servitor.service.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.json.Json;
import servitor.service.intake.Intakes;
import servitor.service.intake.MailIntake;
import servitor.service.intake.MailRow;
import servitor.service.intake.Mailboxes;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;

/** Where outside systems send what becomes a case. */
@RestController
@RequestMapping("/api/intake")
class IntakeController {
    private final Intakes intakes;
    private final MailIntake mailIntake;
    private final Mailboxes mailboxes;

    IntakeController(Intakes intakes, MailIntake mailIntake, Mailboxes mailboxes) {
        this.intakes = intakes;
        this.mailIntake = mailIntake;
        this.mailboxes = mailboxes;
    }

    record IntakeView(
            String name,
            String title,
            String from,
            String kind,
            String desk,
            JsonNode message,
            Mailboxes.@Nullable State mailbox) {}

    /** {@code id} names the mail; {@code sender} is whom it says it is from, {@code proof} what is known of that, {@code became} what became of it. */
    record MailView(
            String id, Instant received, String sender, String subject, String proof, String reason, String became) {
        static MailView of(MailRow row) {
            return new MailView(
                    row.id(), row.received(), row.sender(), row.subject(), row.proof(), row.reason(), row.became());
        }
    }

    record For(@Nullable String requester) {}

    /** Mails that became no case, each with the reason. */
    @GetMapping("/{name}/left-out")
    List<MailView> leftOut(Person person, @PathVariable String name) {
        return mailIntake.leftOut(person, name).orElseThrow(() -> new NotFound("mailbox", name)).stream()
                .map(MailView::of)
                .toList();
    }

    /** Has a mail taken in that was left out, for somebody who is named. */
    @PostMapping("/{name}/left-out/{mail}")
    ResponseEntity<TakenView> takeIn(
            Person person, @PathVariable String name, @PathVariable String mail, @RequestBody For body) {
        String id = mailIntake
                .takeInByHand(person, name, mail, String.valueOf(body.requester()))
                .orElseThrow(() -> new NotFound("mail", mail))
                .id();
        return Made.at("/api/cases/" + id, new TakenView("opened", id, null, null));
    }

    /** {@code outcome} is {@code opened}, {@code joined}, {@code known}, {@code left-out} or {@code tried}. */
    record TakenView(
            String outcome,
            @Nullable String id,
            @Nullable String why,
            @Nullable JsonNode would) {}

    /** Takes a mail in from a file. */
    @PostMapping(value = "/{name}/mails", consumes = "message/rfc822")
    ResponseEntity<TakenView> takeMail(
            Person person,
            @PathVariable String name,
            @RequestBody byte[] mail,
            @RequestParam(name = "try", defaultValue = "false") boolean dry) {
        MailIntake.Given given =
                mailIntake.takeGiven(person, name, mail, dry).orElseThrow(() -> new NotFound("mailbox", name));
        String id = given.caseId().isEmpty() ? null : given.caseId();
        TakenView view = new TakenView(given.outcome(), id, given.why().isEmpty() ? null : given.why(), given.would());
        return id == null
                ? ResponseEntity.ok(view)
                : Made.at("/api/cases/" + id, given.outcome().equals("opened"), view);
    }

    @GetMapping
    List<IntakeView> list(Person person) {
        return intakes.seenBy(person).stream()
                .map(known -> new IntakeView(
                        known.intake().name(),
                        known.intake().title(),
                        known.intake().from(),
                        known.kind().name(),
                        known.kind().desk(),
                        known.intake().message().schema(),
                        mailboxes.of(known.intake())))
                .toList();
    }

    @PostMapping("/{name}")
    ResponseEntity<TakenView> take(
            Person person,
            @PathVariable String name,
            @RequestBody JsonNode message,
            @RequestParam(name = "try", defaultValue = "false") boolean dry) {
        Intakes.Taken taken = intakes.take(person, name, message, dry).orElseThrow(() -> new NotFound("intake", name));
        if (taken instanceof Intakes.Opened opened) {
            String id = opened.row().id();
            return Made.at(
                    "/api/cases/" + id,
                    opened.isNew(),
                    new TakenView(opened.isNew() ? "opened" : "known", id, null, null));
        } else if (taken instanceof Intakes.LeftOut left) {
            return ResponseEntity.ok(new TakenView("left-out", null, left.why(), null));
        }
        Intakes.Tried tried = (Intakes.Tried) taken;
        var would = Json.object()
                .put("kind", tried.kind())
                .put("requester", tried.requester())
                .put("subject", tried.asked().subject())
                .put("text", tried.asked().text());
        would.set("fields", Json.of(tried.asked().fields()));
        return ResponseEntity.ok(new TakenView("tried", null, null, would));
    }
}

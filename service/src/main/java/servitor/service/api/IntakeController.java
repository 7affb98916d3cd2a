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
import servitor.core.handbook.Intake;
import servitor.core.intake.OutsideEvent;
import servitor.core.json.Json;
import servitor.service.cases.InvalidCase;
import servitor.service.intake.EventIntake;
import servitor.service.intake.EventRow;
import servitor.service.intake.FollowedFiles;
import servitor.service.intake.Hooks;
import servitor.service.intake.Intakes;
import servitor.service.intake.MailIntake;
import servitor.service.intake.MailRow;
import servitor.service.intake.Mailboxes;
import servitor.service.intake.ScheduledIntake;
import servitor.service.intake.Taken;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;

/** Where outside systems send what becomes a case. */
@RestController
@RequestMapping("/api/intake")
class IntakeController {
    private final Intakes intakes;
    private final Hooks hooks;
    private final EventIntake events;
    private final ScheduledIntake scheduled;
    private final MailIntake mailIntake;
    private final Mailboxes mailboxes;
    private final FollowedFiles followed;

    IntakeController(
            Intakes intakes,
            Hooks hooks,
            EventIntake events,
            ScheduledIntake scheduled,
            MailIntake mailIntake,
            Mailboxes mailboxes,
            FollowedFiles followed) {
        this.followed = followed;
        this.intakes = intakes;
        this.hooks = hooks;
        this.events = events;
        this.scheduled = scheduled;
        this.mailIntake = mailIntake;
        this.mailboxes = mailboxes;
    }

    /** {@code next} is null when it never fires again. */
    record ScheduleView(String cron, @Nullable Instant next) {}

    record IntakeView(
            String name,
            String title,
            String from,
            String kind,
            String desk,
            JsonNode message,
            @Nullable String signedBy,
            @Nullable ScheduleView schedule,
            @Nullable FileView file,
            Mailboxes.@Nullable State mailbox) {}

    /** A file that is followed, and how far: {@code read} is in bytes, {@code looked} when it got there, {@code trouble} empty when nothing is wrong. */
    record FileView(String path, long read, Instant looked, String trouble) {}

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

    /** {@code outcome} is {@code opened}, {@code joined}, {@code counted}, {@code known}, {@code left-out} or {@code tried}. */
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
                        known.intake().hook(),
                        schedule(known.intake()),
                        followed.of(known.intake())
                                .map(row -> new FileView(row.path(), row.readTo(), row.looked(), row.trouble()))
                                .orElse(null),
                        mailboxes.of(known.intake())))
                .toList();
    }

    @PostMapping("/{name}")
    ResponseEntity<TakenView> take(
            Person person,
            @PathVariable String name,
            @RequestBody JsonNode message,
            @RequestParam(name = "try", defaultValue = "false") boolean dry) {
        OutsideEvent event = OutsideEvent.plain("", message);
        if (dry) {
            return ResponseEntity.ok(tried(intakes.attempt(person, name, event).orElseThrow(() -> notFound(name))));
        }
        Taken taken = hooks.take(person, name, event).orElseThrow(() -> notFound(name));
        return switch (taken.outcome()) {
            case INVALID -> throw new InvalidCase(List.of(taken.why().split("; ")));
            case LEFT_OUT -> ResponseEntity.ok(new TakenView("left-out", null, taken.why(), null));
            default ->
                Made.at(
                        "/api/cases/" + taken.caseId(),
                        taken.outcome() == Taken.Outcome.OPENED,
                        new TakenView(taken.outcome().word(), taken.caseId(), null, null));
        };
    }

    private @Nullable ScheduleView schedule(Intake intake) {
        return intake.schedule() == null
                ? null
                : new ScheduleView(
                        intake.schedule().text(), scheduled.next(intake).orElse(null));
    }

    private static NotFound notFound(String name) {
        return new NotFound("intake", name);
    }

    private static TakenView tried(Intakes.Tried tried) {
        if (tried instanceof Intakes.LeftOut left) {
            return new TakenView("left-out", null, left.why(), null);
        }
        Intakes.Would found = (Intakes.Would) tried;
        var would = Json.object()
                .put("kind", found.kind())
                .put("requester", found.requester())
                .put("subject", found.asked().subject())
                .put("text", found.asked().text());
        if (!found.joins().isEmpty()) {
            would.put("joins", found.joins());
        }
        would.set("fields", Json.of(found.asked().fields()));
        would.set("read", found.asked().message());
        would.set("ignored", Json.of(found.ignored()));
        return new TakenView("tried", null, null, would);
    }

    /**
     * What came to an intake last, and what was refused within a day.
     *
     * @param refused messages that weren't from whom they had to be, by the hour
     */
    record EventsView(List<EventView> events, List<RefusalView> refused) {}

    /** {@code sender} is the person or connection it came from; {@code named} its id there; {@code caseId} is empty when it became none. */
    record EventView(
            String id,
            Instant received,
            String sender,
            String source,
            String named,
            String became,
            String caseId,
            String reason,
            int size) {
        static EventView of(EventRow row) {
            return new EventView(
                    row.id(),
                    row.received(),
                    row.sender(),
                    row.source(),
                    row.named(),
                    row.became(),
                    row.caseId(),
                    row.reason(),
                    row.size());
        }
    }

    record RefusalView(Instant since, Instant latest, long times, String reason) {}

    /** {@code payload} is null once it is forgotten, and for what couldn't be read. */
    record EventPayload(EventView event, @Nullable JsonNode payload) {}

    @GetMapping("/{name}/events")
    EventsView events(Person person, @PathVariable String name) {
        EventIntake.Latest latest = events.latest(person, name).orElseThrow(() -> notFound(name));
        return new EventsView(
                latest.events().stream().map(EventView::of).toList(),
                latest.refused().stream()
                        .map(row -> new RefusalView(row.since(), row.latest(), row.times(), row.reason()))
                        .toList());
    }

    @GetMapping("/{name}/events/{event}")
    EventPayload event(Person person, @PathVariable String name, @PathVariable String event) {
        EventIntake.Kept kept = events.find(person, name, event).orElseThrow(() -> new NotFound("message", event));
        return new EventPayload(EventView.of(kept.row()), kept.payload().orElse(null));
    }
}

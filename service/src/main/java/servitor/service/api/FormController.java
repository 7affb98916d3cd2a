package servitor.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.handbook.Audience;
import servitor.core.handbook.Kind;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.cases.Cases;
import servitor.service.cases.Cases.NewCase;
import servitor.service.cases.Documents;
import servitor.service.cases.Documents.NewDocument;
import servitor.service.cases.NoteRow;
import servitor.service.editions.Editions;
import servitor.service.forms.GuestCases;
import servitor.service.forms.GuestCases.Guest;
import servitor.service.forms.PublicForms;
import servitor.service.forms.PublicForms.Filled;
import servitor.service.forms.PublicForms.Shown;
import tools.jackson.databind.JsonNode;

/**
 * Forms for people who can't sign in, and their cases. What opens a link's thing stands in a header, which no page of another site can
 * have a browser send, and which stands in no address.
 */
@RestController
@RequestMapping("/api/public")
class FormController {
    static final String LINK = "Form-Link";
    /** How many characters of a link are looked at. */
    private static final int LONGEST_LINK = 120;

    private final PublicForms forms;
    private final GuestCases guests;
    private final Cases cases;
    private final Documents documents;
    private final CaseStore caseStore;
    private final Editions editions;
    private final ViewMapper describe;

    FormController(
            PublicForms forms,
            GuestCases guests,
            Cases cases,
            Documents documents,
            CaseStore caseStore,
            Editions editions,
            ViewMapper describe) {
        this.forms = forms;
        this.guests = guests;
        this.cases = cases;
        this.documents = documents;
        this.caseStore = caseStore;
        this.editions = editions;
        this.describe = describe;
    }

    /** A form: {@code house} is whose it is. */
    record FormView(String house, String kind, String title, List<Kind.Field> fields) {}

    @GetMapping("/forms/{kind}")
    FormView form(@PathVariable String kind) {
        return forms.kind(kind)
                .map(one -> new FormView(
                        house(),
                        one.name(),
                        one.title(),
                        List.copyOf(one.fields().values())))
                .orElseThrow(() -> new NotFound("form", kind));
    }

    private String house() {
        return editions.current()
                .map(edition -> edition.handbook().house().title())
                .orElse("");
    }

    record FilledForm(
            String name,
            String address,
            String subject,
            @Nullable String text,
            @Nullable String language,
            @Nullable Map<String, JsonNode> fields) {}

    /** Where whoever filled in a form is asked whether it is theirs. */
    record Asked(String address) {}

    @PostMapping("/forms/{kind}")
    @ResponseStatus(HttpStatus.ACCEPTED)
    Asked fill(@PathVariable String kind, @RequestBody FilledForm body, HttpServletRequest request) {
        forms.kind(kind).orElseThrow(() -> new NotFound("form", kind));
        NewCase wanted = new NewCase(
                kind,
                body.subject(),
                body.text() == null ? "" : body.text(),
                body.language(),
                null,
                body.fields() == null ? Map.of() : body.fields());
        forms.take(new Filled(body.name(), body.address(), wanted), request.getRemoteAddr());
        return new Asked(body.address().strip());
    }

    /** A field that was filled in, by its title. */
    record Given(String title, JsonNode value) {}

    /** {@code state} is {@code open}, {@code confirmed} or {@code forgotten}; all else is there while it is open only. */
    record ToConfirm(
            String state,
            String house,
            @Nullable String title,
            @Nullable String name,
            @Nullable String address,
            @Nullable String subject,
            @Nullable String text,
            @Nullable List<Given> fields) {}

    /** Shows what a link confirms, and does nothing else. */
    @GetMapping("/confirmation")
    ToConfirm confirmation(@RequestHeader(LINK) String link) {
        return view(forms.shown(bounded(link)));
    }

    /** Opens the case that a link confirms. */
    @PostMapping("/confirmation")
    ToConfirm confirm(@RequestHeader(LINK) String link) {
        return view(forms.confirm(bounded(link)));
    }

    private ToConfirm view(Optional<Shown> found) {
        Shown shown = found.orElseThrow(() -> new NotFound("question behind this link; it may have run out", "link"));
        Optional<Kind> kind = forms.kind(shown.row().kind());
        if (shown.asked().isEmpty() || kind.isEmpty()) {
            String state = shown.row().caseId() != null ? "confirmed" : "forgotten";
            return new ToConfirm(state, house(), null, null, null, null, null, null);
        }
        NewCase asked = shown.asked().get();
        return new ToConfirm(
                "open",
                house(),
                kind.get().title(),
                shown.row().name(),
                shown.row().address(),
                asked.subject(),
                asked.text(),
                given(kind.get(), Json.of(asked.fields())));
    }

    private static List<Given> given(Kind kind, JsonNode fields) {
        return kind.fields().values().stream()
                .filter(field -> fields.has(field.name()))
                .map(field -> new Given(field.title(), fields.get(field.name())))
                .toList();
    }

    /** What was said in a case: {@code mine} by whoever asked; {@code text} is null of what isn't shown by a link. */
    record Said(Instant at, boolean mine, @Nullable String text) {}

    record MyFile(String name, int size) {}

    /** A case as whoever asked it sees it by a link: what they wrote, and what the desk wrote to them. */
    record MyCase(
            String id,
            String house,
            String title,
            String subject,
            String state,
            @Nullable String waitingFor,
            String text,
            List<Given> fields,
            List<Said> said,
            List<MyFile> files,
            boolean done) {}

    @GetMapping("/case")
    MyCase show(@RequestHeader(LINK) String link) {
        return view(guest(link));
    }

    record Words(String text) {}

    @PostMapping("/case/notes")
    MyCase note(@RequestHeader(LINK) String link, @RequestBody Words body) {
        Guest guest = guest(link);
        cases.note(guest.person(), guest.row().id(), body.text(), false);
        return view(guest(link));
    }

    @PostMapping("/case/documents")
    MyCase attach(@RequestHeader(LINK) String link, @RequestBody CaseController.NewDocumentBody body) {
        Guest guest = guest(link);
        byte[] content;
        try {
            content = Base64.getDecoder().decode(body.content() == null ? "" : body.content());
        } catch (IllegalArgumentException e) {
            throw new IllegalArgumentException("‘content’ isn't Base64: " + e.getMessage());
        }
        documents.attach(guest.person(), guest.row().id(), new NewDocument(body.name(), body.type(), content));
        return view(guest(link));
    }

    @PostMapping("/case/withdrawal")
    MyCase withdraw(@RequestHeader(LINK) String link) {
        Guest guest = guest(link);
        cases.withdraw(guest.person(), guest.row().id(), "");
        return view(guest(link));
    }

    private Guest guest(String link) {
        return guests.of(bounded(link))
                .orElseThrow(() -> new NotFound("case behind this link; it may have run out", "link"));
    }

    private static String bounded(String link) {
        return link.length() <= LONGEST_LINK ? link : "";
    }

    private MyCase view(Guest guest) {
        CaseRow row = guest.row();
        Optional<Kind> kind =
                editions.current().map(edition -> edition.handbook().kinds().get(row.kind()));
        boolean personal = kind.map(Kind::personal).orElse(true);
        String me = TrailEvent.person(guest.person().id());
        var summary = describe.summary(guest.person(), row);
        return new MyCase(
                row.id(),
                house(),
                summary.kindTitle(),
                row.subject(),
                row.state(),
                summary.waitingFor(),
                row.text(),
                kind.map(one -> given(one, Json.read(row.fields(), JsonNode.class)))
                        .orElse(List.of()),
                caseStore.notes(row.id()).stream()
                        .filter(note -> Audience.REQUESTER.is(note.audience()))
                        .map(note -> said(note, me, personal))
                        .toList(),
                caseStore.documents(row.id()).stream()
                        .filter(file -> file.author().equals(me))
                        .map(file -> new MyFile(file.name(), file.size()))
                        .toList(),
                row.isDone());
    }

    /** What is personal isn't shown by a link, which may be in other hands; their own words they know. */
    private static Said said(NoteRow note, String me, boolean personal) {
        boolean mine = note.author().equals(me);
        return new Said(note.at(), mine, personal && !mine ? null : note.text());
    }
}

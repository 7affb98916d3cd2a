package servitor.service.api;

import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.http.CacheControl;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.approval.ApprovalState;
import servitor.core.document.ReadDocument;
import servitor.core.handbook.Audience;
import servitor.core.handbook.CaseState;
import servitor.core.json.Json;
import servitor.core.trail.Lane;
import servitor.service.api.Views.AskedOf;
import servitor.service.api.Views.CaseDetail;
import servitor.service.api.Views.CaseSummary;
import servitor.service.api.Views.DocumentView;
import servitor.service.api.Views.LanesView;
import servitor.service.api.Views.NoteView;
import servitor.service.api.Views.RunView;
import servitor.service.approvals.ApprovalStore;
import servitor.service.approvals.Approvals;
import servitor.service.cases.CaseFilter;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseSearch;
import servitor.service.cases.CaseStore;
import servitor.service.cases.Cases;
import servitor.service.cases.Cases.NewCase;
import servitor.service.cases.DocumentRow;
import servitor.service.cases.Documents;
import servitor.service.cases.Documents.NewDocument;
import servitor.service.cases.Events;
import servitor.service.cases.RelatedCases;
import servitor.service.intake.EventStore;
import servitor.service.intake.MailRow;
import servitor.service.intake.MailStore;
import servitor.service.ledger.TrailStore;
import servitor.service.people.Access;
import servitor.service.people.Person;
import servitor.service.runs.RunStore;
import tools.jackson.databind.JsonNode;

/** Cases: open, find, read, add notes, see the lanes. */
@RestController
@RequestMapping("/api/cases")
class CaseController {
    private static final int MOST_MARKS = 2_000;

    private final CaseStore caseStore;
    private final TrailStore trailStore;
    private final RunStore runStore;
    private final ApprovalStore approvalStore;
    private final Cases cases;
    private final CaseSearch search;
    private final Documents documents;
    private final Approvals approvals;
    private final Events events;
    private final RelatedCases related;
    private final MailStore mails;
    private final EventStore eventStore;
    private final ViewMapper describe;
    private final Clock clock;

    CaseController(
            CaseStore caseStore,
            TrailStore trailStore,
            RunStore runStore,
            ApprovalStore approvalStore,
            Cases cases,
            CaseSearch search,
            Documents documents,
            Approvals approvals,
            Events events,
            RelatedCases related,
            MailStore mails,
            EventStore eventStore,
            ViewMapper describe,
            Clock clock) {
        this.caseStore = caseStore;
        this.trailStore = trailStore;
        this.runStore = runStore;
        this.approvalStore = approvalStore;
        this.cases = cases;
        this.search = search;
        this.documents = documents;
        this.approvals = approvals;
        this.events = events;
        this.related = related;
        this.mails = mails;
        this.eventStore = eventStore;
        this.describe = describe;
        this.clock = clock;
    }

    record OpenCase(
            String kind,
            String subject,
            @Nullable String text,
            @Nullable String language,
            @Nullable String requester,
            @Nullable Map<String, JsonNode> fields) {}

    record NewNote(String text, @Nullable Boolean staff) {}

    @GetMapping
    Page<CaseSummary> list(
            Person person,
            ListQuery query,
            @RequestParam Optional<String> state,
            @RequestParam Optional<String> q,
            @RequestParam(defaultValue = "false") boolean late,
            @RequestParam Optional<String> owner) {
        CaseFilter any = query.about(state.orElse(null), describe.newest());
        CaseFilter owned = owner.filter(name -> !name.isBlank())
                .map(name -> any.ownedBy(owners(person, name)))
                .orElse(any);
        CaseFilter about = late ? owned.lateAt(clock.instant()) : owned;
        long below = Page.cursor(query.cursor(), Long.MAX_VALUE);
        int most = query.most();
        List<CaseRow> rows = q.isEmpty() || q.get().isBlank()
                ? caseStore.list(person.id(), person.staffDesks(), about, below, most + 1)
                : search.list(person.id(), person.staffDesks(), about, q.get(), below, most + 1);
        return Page.of(rows, most, row -> describe.summary(person, row), CaseRow::number);
    }

    /** {@code me} means the person and their groups. */
    private static Set<String> owners(Person person, String name) {
        return name.equals("me") ? person.called() : Set.of(name);
    }

    @PostMapping
    ResponseEntity<CaseDetail> open(
            Person person, @RequestBody OpenCase body, @RequestHeader("Idempotency-Key") Optional<String> key) {
        if (key.isPresent() && (key.get().isBlank() || key.get().length() > 100)) {
            throw new IllegalArgumentException("‘Idempotency-Key’ must have from 1 to 100 characters.");
        }
        NewCase wanted = new NewCase(
                required("kind", body.kind()),
                body.subject(),
                body.text() == null ? "" : body.text(),
                body.language(),
                body.requester(),
                body.fields() == null ? Map.of() : body.fields());
        CaseDetail opened = detail(person, cases.open(person, wanted, key.orElse(null)));
        return Made.at("/api/cases/" + opened.summary().id(), opened);
    }

    private static String required(String name, @Nullable String value) {
        if (value == null || value.isBlank()) {
            throw new IllegalArgumentException("‘" + name + "’ is missing.");
        }
        return value;
    }

    @GetMapping("/{id}")
    CaseDetail show(Person person, @PathVariable String id) {
        return detail(person, find(person, id));
    }

    @PostMapping("/{id}/notes")
    ResponseEntity<NoteView> note(Person person, @PathVariable String id, @RequestBody NewNote body) {
        return Made.at(
                "/api/cases/" + id,
                describe.note(cases.note(person, id, body.text(), Boolean.TRUE.equals(body.staff()))));
    }

    /** {@code owner} is a group, or {@code person:ID}; empty for nobody in particular. */
    record Owner(String owner) {}

    /** Says who is to see to a case. */
    @PutMapping("/{id}/owner")
    CaseDetail own(Person person, @PathVariable String id, @RequestBody Owner body) {
        return detail(
                person,
                related.own(person, id, body.owner() == null ? "" : body.owner().strip()));
    }

    record Resolution(String how) {}

    @PostMapping("/{id}/resolution")
    CaseDetail resolve(Person person, @PathVariable String id, @RequestBody Resolution body) {
        return detail(person, cases.resolve(person, id, body.how()));
    }

    record Withdrawal(@Nullable String why) {}

    /** Whoever asked takes it back. */
    @PostMapping("/{id}/withdrawal")
    CaseDetail withdraw(Person person, @PathVariable String id, @RequestBody Withdrawal body) {
        return detail(person, cases.withdraw(person, id, body.why()));
    }

    /** {@code content} is the file in Base64 (RFC 4648, section 4). */
    record NewDocumentBody(String name, String type, String content) {}

    record NewEvent(String name, @Nullable JsonNode data) {}

    record Heard(boolean awaited) {}

    record NewRun(String page) {}

    @PostMapping("/{id}/documents")
    ResponseEntity<DocumentView> attach(Person person, @PathVariable String id, @RequestBody NewDocumentBody body) {
        byte[] content;
        try {
            content = Base64.getDecoder().decode(required("content", body.content()));
        } catch (IllegalArgumentException e) {
            throw new IllegalArgumentException("‘content’ isn't Base64: " + e.getMessage());
        }
        DocumentView attached =
                describe.document(documents.attach(person, id, new NewDocument(body.name(), body.type(), content)));
        return Made.at("/api/cases/" + id + "/documents/" + attached.id(), attached);
    }

    /** What was read of a document: {@code says} is the outcome in plain words. */
    record ReadView(
            String name,
            String outcome,
            String says,
            String detail,
            String type,
            List<ReadDocument.Page> pages,
            List<ReadDocument.Table> tables) {}

    @GetMapping("/{id}/documents/{document}/reading")
    ReadView reading(Person person, @PathVariable String id, @PathVariable String document) {
        DocumentRow row = found(person, id, document);
        ReadDocument read = documents.reading(row);
        return new ReadView(
                row.name(),
                read.outcome().word(),
                read.outcome().words(),
                read.detail(),
                read.type(),
                read.pages(),
                read.tables());
    }

    /** A page of a document as a picture, made by what reads documents and with nothing else in it; a photo has one page. */
    @GetMapping("/{id}/documents/{document}/pages/{page}")
    ResponseEntity<byte[]> picture(
            Person person, @PathVariable String id, @PathVariable String document, @PathVariable int page) {
        DocumentRow row = found(person, id, document);
        return ResponseEntity.ok()
                .header("X-Content-Type-Options", "nosniff")
                .header("Content-Security-Policy", "sandbox; default-src 'none'")
                .cacheControl(CacheControl.maxAge(Duration.ofHours(1)).cachePrivate())
                .contentType(MediaType.IMAGE_PNG)
                .body(documents
                        .picture(row, page)
                        .orElseThrow(() -> new NotFound("picture of the document", document + ", page " + page)));
    }

    private DocumentRow found(Person person, String id, String document) {
        CaseRow row = caseStore
                .find(id)
                .filter(about -> approvals.sees(person, about))
                .orElseThrow(() -> new NotFound("case", id));
        return approvals.shownDocuments(person, row).stream()
                .filter(one -> one.id().equals(document))
                .findFirst()
                .flatMap(one -> caseStore.document(one.id()))
                .orElseThrow(() -> new NotFound("document", document));
    }

    /** A document as it was attached; always as a download, never as a page of ours. */
    @GetMapping("/{id}/documents/{document}")
    ResponseEntity<byte[]> download(Person person, @PathVariable String id, @PathVariable String document) {
        DocumentRow found = found(person, id, document);
        return ResponseEntity.ok()
                .header(
                        HttpHeaders.CONTENT_DISPOSITION,
                        ContentDisposition.attachment()
                                .filename(found.name(), StandardCharsets.UTF_8)
                                .build()
                                .toString())
                .header("X-Content-Type-Options", "nosniff")
                .contentType(MediaType.APPLICATION_OCTET_STREAM)
                .body(found.content());
    }

    /** The mails that the case was opened by, and those that came to it. */
    @GetMapping("/{id}/mails")
    List<IntakeController.MailView> mails(Person person, @PathVariable String id) {
        return mails(person, find(person, id))
                .map(IntakeController.MailView::of)
                .toList();
    }

    /** What strangers, the desk and mail servers wrote is for the people of the desk. */
    private Stream<MailRow> mails(Person person, CaseRow row) {
        return mails.ofCase(row.id()).stream().filter(one -> person.seesAsStaff(row) || one.isOfWhoAsked());
    }

    /** Names somebody as taking part, so that their mails are no stranger's. */
    @PutMapping("/{id}/people/{person}")
    CaseDetail name(Person person, @PathVariable String id, @PathVariable("person") String named) {
        cases.name(person, id, named, true);
        return detail(person, find(person, id));
    }

    /** Takes that back. */
    @DeleteMapping("/{id}/people/{person}")
    CaseDetail unname(Person person, @PathVariable String id, @PathVariable("person") String named) {
        cases.name(person, id, named, false);
        return detail(person, find(person, id));
    }

    /** A mail as it came, with all of its headers; always as a download. */
    @GetMapping("/{id}/mails/{mail}")
    ResponseEntity<byte[]> mail(Person person, @PathVariable String id, @PathVariable String mail) {
        CaseRow row = find(person, id);
        byte[] content = mails(person, row)
                .filter(one -> one.id().equals(mail))
                .findFirst()
                .flatMap(one -> mails.content(one.id()))
                .orElseThrow(() -> new NotFound("mail", mail));
        return ResponseEntity.ok()
                .header(
                        HttpHeaders.CONTENT_DISPOSITION,
                        ContentDisposition.attachment()
                                .filename(row.id() + ".eml")
                                .build()
                                .toString())
                .header("X-Content-Type-Options", "nosniff")
                .contentType(MediaType.APPLICATION_OCTET_STREAM)
                .body(content);
    }

    /** Something has happened that a run of the case may wait for. */
    @PostMapping("/{id}/events")
    @ResponseStatus(HttpStatus.ACCEPTED)
    Heard event(Person person, @PathVariable String id, @RequestBody NewEvent body) {
        return new Heard(events.happened(person, id, body.name(), body.data() == null ? Json.object() : body.data()));
    }

    /** Starts a page by hand. */
    @PostMapping("/{id}/runs")
    ResponseEntity<CaseDetail> start(Person person, @PathVariable String id, @RequestBody NewRun body) {
        cases.startPage(person, id, required("page", body.page()));
        return Made.at("/api/cases/" + id, detail(person, find(person, id)));
    }

    /** Who did what, in time; for staff of the desk. */
    @GetMapping("/{id}/lanes")
    LanesView lanes(Person person, @PathVariable String id) {
        CaseRow row = find(person, id);
        Access.SEE_LANES.require(person, row);
        return new LanesView(
                List.of(Lane.values()),
                trailStore.ofCase(id, 0, MOST_MARKS).stream()
                        .flatMap(entry -> Lanes.mark(entry, row.requester(), describe).stream())
                        .toList());
    }

    private CaseRow find(Person person, String id) {
        return caseStore.seenBy(person, id);
    }

    /** A case that waits for nothing in particular waits for what its run has asked for: a model, a tool. */
    private static CaseSummary waiting(CaseSummary summary, List<RunView> runs) {
        return summary.waitingFor() != null
                ? summary
                : runs.stream()
                        .map(RunView::waitingFor)
                        .filter(Objects::nonNull)
                        .findFirst()
                        .map(summary::waitingFor)
                        .orElse(summary);
    }

    /** Staff are told who is asked; whoever the case is for is told of groups and desks, and of nobody by name. */
    private @Nullable AskedOf askedOf(CaseRow row, boolean staff) {
        return approvalStore.ofCase(row.id()).stream()
                .filter(one -> ApprovalState.OPEN.word().equals(one.state()))
                .findFirst()
                .map(one -> new AskedOf(
                        Approvals.request(one).of().stream()
                                .sorted()
                                .map(name -> staff || !name.startsWith("person:") ? describe.whom(name) : "a colleague")
                                .distinct()
                                .toList(),
                        one.opened(),
                        one.due()))
                .orElse(null);
    }

    private CaseDetail detail(Person person, CaseRow row) {
        boolean staff = person.seesAsStaff(row);
        List<RunView> runs =
                staff ? runStore.ofCase(row.id()).stream().map(describe::run).toList() : List.of();
        return new CaseDetail(
                waiting(describe.summary(person, row), runs),
                row.text(),
                row.language(),
                describe.fields(row),
                describe.person(row.openedBy()),
                staff,
                Access.ADD_TO_CASE.allows(person, row),
                describe.labels(row),
                caseStore.documents(row.id()).stream().map(describe::document).toList(),
                CaseState.DONE.contains(row.state()) ? List.of() : documents.missing(row),
                staff ? describe.relations(person, row) : List.of(),
                staff
                        ? eventStore.repeats(row.id()).stream()
                                .map(describe::repeat)
                                .toList()
                        : List.of(),
                staff ? caseStore.named(row.id()).stream().map(describe::person).toList() : List.of(),
                caseStore.notes(row.id()).stream()
                        .filter(note -> staff || Audience.REQUESTER.is(note.audience()))
                        .map(describe::note)
                        .toList(),
                runs,
                staff
                        ? approvalStore.ofCase(row.id()).stream()
                                .map(approval -> describe.approval(person, approval))
                                .toList()
                        : List.of(),
                askedOf(row, staff),
                staff && !runs.isEmpty() ? describe.modelUse(runs) : null);
    }
}

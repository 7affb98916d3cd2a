package servitor.service.api;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.StreamingResponseBody;
import servitor.core.trail.ExportFrame;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEntry;
import servitor.core.trail.TrailWord;
import servitor.core.trail.Verifier;
import servitor.service.api.Views.TrailView;
import servitor.service.cases.CaseStore;
import servitor.service.cases.NoSuchCase;
import servitor.service.ledger.TrailStore;
import servitor.service.people.Access;
import servitor.service.people.Person;

/** The trail: read, verify, export. */
@RestController
@RequestMapping("/api/trail")
class TrailController {
    private static final int BATCH = 1_000;

    private final CaseStore caseStore;
    private final TrailStore trailStore;
    private final ViewMapper describe;

    TrailController(CaseStore caseStore, TrailStore trailStore, ViewMapper describe) {
        this.caseStore = caseStore;
        this.trailStore = trailStore;
        this.describe = describe;
    }

    /** Of one case, oldest first, for staff of its desk; else the newest of one's desks, for auditors and engineers. */
    @GetMapping
    Page<TrailView> list(
            Person person,
            @RequestParam("case") Optional<String> caseId,
            @RequestParam Optional<String> what,
            @RequestParam Optional<String> cursor,
            @RequestParam(defaultValue = "100") int limit) {
        int most = Page.limit(limit) + 1;
        if (caseId.isPresent()) {
            caseStore.find(caseId.get()).filter(person::seesAsStaff).orElseThrow(() -> new NoSuchCase(caseId.get()));
            return Page.of(
                    trailStore.ofCase(caseId.get(), what.orElse(null), Page.cursor(cursor.orElse(null), 0), most),
                    limit,
                    this::view,
                    entry -> entry.entry().seq());
        }
        Access.SEE_THE_TRAIL.require(person);
        long below = Page.cursor(cursor.orElse(null), Long.MAX_VALUE);
        return Page.of(
                trailStore.newest(person.desks(), what.orElse(null), below, most),
                limit,
                this::view,
                entry -> entry.entry().seq());
    }

    /** What happened in plain words; empty where the data is withheld, or the word isn't known any more. */
    private String says(RecordedEntry recorded) {
        return recorded.data() == null
                ? ""
                : TrailWord.of(recorded.entry().what())
                        .map(word -> describe.named(word.says(Objects.requireNonNull(recorded.data()))))
                        .orElse("");
    }

    private TrailView view(RecordedEntry recorded) {
        var entry = recorded.entry();
        return new TrailView(
                entry.seq(),
                entry.at(),
                describe.actor(entry.actor()),
                entry.caseId(),
                entry.runId(),
                entry.step(),
                entry.what(),
                says(recorded),
                entry.hash(),
                recorded.data());
    }

    record Verification(
            boolean holds,
            long verified,
            String head,
            Verifier.@Nullable Break fault,
            @Nullable String message) {}

    @GetMapping("/verification")
    Verification verify(Person person) {
        Access.SEE_THE_TRAIL.require(person);
        Verifier verifier = new Verifier();
        for (List<RecordedEntry> batch = trailStore.after(0, BATCH);
                !batch.isEmpty();
                batch = trailStore.after(verifier.verified(), BATCH)) {
            for (RecordedEntry entry : batch) {
                Optional<Verifier.Break> fault = verifier.next(entry);
                if (fault.isPresent()) {
                    return new Verification(
                            false,
                            verifier.verified(),
                            verifier.head(),
                            fault.get(),
                            fault.get().toString());
                }
            }
        }
        return verifier.complete()
                .map(fault -> new Verification(false, fault.seq() - 1, verifier.head(), fault, fault.toString()))
                .orElseGet(() -> new Verification(true, verifier.verified(), verifier.head(), null, null));
    }

    /**
     * The whole trail as JSON Lines, between a first and a last line of its own (docs/trail.md). Data of cases at other desks is
     * withheld; the chain can be verified all the same.
     */
    @GetMapping("/export")
    ResponseEntity<StreamingResponseBody> export(Person person) {
        Access.EXPORT_THE_TRAIL.require(person);
        return ResponseEntity.ok()
                .contentType(MediaType.parseMediaType("application/jsonl"))
                .header("Content-Disposition", "attachment; filename=\"trail.jsonl\"")
                .body(out -> {
                    long after = 0;
                    String head = TrailEntry.GENESIS;
                    write(out, ExportFrame.opening());
                    for (List<RecordedEntry> batch = trailStore.after(0, BATCH);
                            !batch.isEmpty();
                            batch = trailStore.after(after, BATCH)) {
                        for (RecordedEntry entry : batch) {
                            write(
                                    out,
                                    (maySee(person, entry) ? entry : new RecordedEntry(entry.entry(), null, null))
                                            .toLine());
                            after = entry.entry().seq();
                            head = entry.entry().hash();
                        }
                    }
                    write(out, ExportFrame.closing(after, head));
                });
    }

    /** A long text that an entry refers to, such as a prompt or the transcript of a dialogue. */
    record Material(long seq, String digest, String text) {}

    /** For whoever may read the entry itself; a text is never reached by its digest alone. */
    @GetMapping("/{seq}/material")
    Material material(Person person, @PathVariable long seq) {
        RecordedEntry entry = trailStore.after(seq - 1, 1).stream()
                .filter(next -> next.entry().seq() == seq && mayRead(person, next))
                .findFirst()
                .orElseThrow(() -> new NotFound("entry", String.valueOf(seq)));
        String digest =
                entry.data() == null ? "" : entry.data().path("material").asString("");
        if (digest.isEmpty()) {
            throw new NotFound("Entry " + seq + " refers to no text beside it.");
        }
        return trailStore
                .material(digest)
                .map(text -> new Material(seq, digest, text))
                .orElseThrow(() -> new NotFound("The text " + digest + " of entry " + seq
                        + " has moved out of the database; an admin finds it in the archive of the data folder."));
    }

    private boolean mayRead(Person person, RecordedEntry entry) {
        return entry.entry().caseId().isEmpty() ? Access.SEE_THE_TRAIL.allows(person) : maySee(person, entry);
    }

    private boolean maySee(Person person, RecordedEntry entry) {
        String caseId = entry.entry().caseId();
        return caseId.isEmpty()
                || caseStore.find(caseId).filter(person::seesAsStaff).isPresent();
    }

    private static void write(java.io.OutputStream out, String line) throws IOException {
        out.write((line + "\n").getBytes(StandardCharsets.UTF_8));
    }
}

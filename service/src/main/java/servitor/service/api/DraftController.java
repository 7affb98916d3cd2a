package servitor.service.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.catalogue.Catalogue;
import servitor.core.compare.Comparison;
import servitor.core.explain.Outline;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Finding;
import servitor.service.Precondition;
import servitor.service.api.HandbookController.PublishedView;
import servitor.service.editions.Drafts;
import servitor.service.editions.Drafts.Draft;
import servitor.service.people.Access;
import servitor.service.people.Person;

/** What an engineer is working on in the handbook: kept per person, checked as it is written, published as a whole. */
@RestController
@RequestMapping("/api/handbook/draft")
class DraftController {
    private final Drafts drafts;
    private final HandbookController handbooks;
    private final ViewMapper describe;

    DraftController(Drafts drafts, HandbookController handbooks, ViewMapper describe) {
        this.drafts = drafts;
        this.handbooks = handbooks;
        this.describe = describe;
    }

    /** {@code change} is {@code same}, {@code changed}, {@code added} or {@code removed}. */
    record FileView(
            String path,
            String change,
            boolean conflict,
            List<String> others,
            @Nullable Instant updated) {}

    record DraftView(int edition, List<FileView> files, int changes) {}

    record FileText(String path, String text, @Nullable String published) {}

    record Text(@Nullable String text) {}

    /** What checking says of the whole draft, and of the file in hand. */
    record Assessment(
            boolean sound, List<Finding> findings, @Nullable PageView page, Outline outline) {}

    record Start(String entry, @Nullable Map<String, String> names) {}

    record Started(List<String> files) {}

    @GetMapping
    DraftView show(Person person) {
        Access.WRITE_HANDBOOKS.require(person);
        Draft draft = drafts.of(person.id());
        TreeMap<String, FileView> files = new TreeMap<>();
        draft.files().keySet().forEach(path -> files.put(path, view(draft, path)));
        draft.changed().keySet().forEach(path -> files.put(path, view(draft, path)));
        return new DraftView(
                draft.edition(), List.copyOf(files.values()), draft.changed().size());
    }

    private FileView view(Draft draft, String path) {
        var change = draft.changed().get(path);
        boolean published = draft.published().containsKey(path);
        String word = change == null ? "same" : change.text() == null ? "removed" : published ? "changed" : "added";
        return new FileView(
                path,
                word,
                draft.conflicts().contains(path),
                draft.others().getOrDefault(path, List.of()).stream()
                        .map(id -> describe.person(id).name())
                        .toList(),
                change == null ? null : change.updated());
    }

    @GetMapping("/file")
    ResponseEntity<FileText> file(Person person, @RequestParam String path) {
        Access.WRITE_HANDBOOKS.require(person);
        Draft draft = drafts.of(person.id());
        String published = draft.published().get(path);
        String text = Optional.ofNullable(draft.files().get(path))
                .or(() -> Optional.ofNullable(published))
                .orElseThrow(() -> new NotFound("file", path));
        return ResponseEntity.ok().eTag(Precondition.tag(text)).body(new FileText(path, text, published));
    }

    /** Keeps the text of a file and says what checking finds; without a text, the file is taken out. */
    @PutMapping("/file")
    ResponseEntity<Assessment> put(
            Person person, @RequestParam String path, @RequestBody Text body, Precondition precondition) {
        Access.WRITE_HANDBOOKS.require(person);
        drafts.put(person.id(), path, body.text(), precondition);
        return tagged(body.text(), assess(person, path));
    }

    /** Gives up the change of a file. */
    @DeleteMapping("/file")
    ResponseEntity<Assessment> drop(Person person, @RequestParam String path, Precondition precondition) {
        Access.WRITE_HANDBOOKS.require(person);
        drafts.drop(person.id(), path, precondition);
        return tagged(drafts.of(person.id()).files().get(path), assess(person, path));
    }

    private static ResponseEntity<Assessment> tagged(@Nullable String text, Assessment assessment) {
        var answer = ResponseEntity.ok();
        return (text == null ? answer : answer.eTag(Precondition.tag(text))).body(assessment);
    }

    /** Keeps a change over what somebody else has published meanwhile. */
    @PostMapping("/file/keep")
    DraftView keep(Person person, @RequestParam String path) {
        Access.WRITE_HANDBOOKS.require(person);
        drafts.keepOver(person.id(), path);
        return show(person);
    }

    @GetMapping("/assessment")
    Assessment assess(Person person, @RequestParam(defaultValue = "") String path) {
        Access.WRITE_HANDBOOKS.require(person);
        CheckedHandbook checked = CheckedHandbook.of(drafts.of(person.id()).files());
        Runbook page = path.startsWith("runbooks/") && path.endsWith(".md")
                ? checked.handbook()
                        .runbooks()
                        .get(path.substring("runbooks/".length(), path.length() - ".md".length()))
                : null;
        return new Assessment(
                checked.sound(),
                checked.findings(),
                page == null ? null : PageView.of(checked.handbook(), page),
                Outline.of(checked.handbook(), page));
    }

    /** What the draft changes in the current edition. */
    @GetMapping("/changes")
    Comparison changes(Person person) {
        Access.WRITE_HANDBOOKS.require(person);
        Draft draft = drafts.of(person.id());
        return Comparison.of(draft.published(), draft.files());
    }

    @PostMapping("/publish")
    ResponseEntity<PublishedView> publish(Person person, @RequestBody HandbookController.Reasons body) {
        Access.WRITE_HANDBOOKS.require(person);
        return handbooks.published(drafts.publish(person, HandbookController.intent(body.note(), body.despite())));
    }

    /** Puts the files of a starting point into the draft. */
    @PostMapping("/start")
    Started start(Person person, @RequestBody Start body) {
        Access.WRITE_HANDBOOKS.require(person);
        Catalogue.Entry entry = Catalogue.find(String.valueOf(body.entry()))
                .orElseThrow(() -> new NotFound("starting point", String.valueOf(body.entry())));
        Map<String, String> files = Catalogue.adapt(
                entry,
                body.names() == null ? Map.of() : body.names(),
                drafts.of(person.id()).files());
        files.forEach((path, text) -> drafts.put(person.id(), path, text, Precondition.NONE));
        return new Started(List.copyOf(files.keySet()));
    }
}

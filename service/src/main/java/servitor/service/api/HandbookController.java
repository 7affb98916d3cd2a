package servitor.service.api;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.catalogue.Catalogue;
import servitor.core.compare.Comparison;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Finding;
import servitor.service.api.Views.EditionView;
import servitor.service.dispatch.StartingChoices;
import servitor.service.editions.Drafts;
import servitor.service.editions.EditionRow;
import servitor.service.editions.EditionStore;
import servitor.service.editions.Editions;
import servitor.service.editions.Publishing;
import servitor.service.people.Access;
import servitor.service.people.Person;

/** Handbooks: check, publish, list, read. */
@RestController
@RequestMapping("/api/handbook")
class HandbookController {
    private final EditionStore editionStore;
    private final Editions editions;
    private final Publishing publishing;
    private final ViewMapper describe;
    private final StartingChoices choices;

    HandbookController(
            EditionStore editionStore,
            Editions editions,
            Publishing publishing,
            ViewMapper describe,
            StartingChoices choices) {
        this.choices = choices;
        this.publishing = publishing;
        this.editionStore = editionStore;
        this.editions = editions;
        this.describe = describe;
    }

    /**
     * A handbook as it is to be.
     *
     * @param despite why it is published although something isn't as rehearsed
     * @param base the edition it was made from; null when nobody knows
     * @param confirmed whether whoever publishes has seen what it takes out or writes over
     */
    record Files(
            Map<String, String> files,
            @Nullable String note,
            @Nullable String despite,
            @Nullable Integer base,
            @Nullable Boolean confirmed) {}

    record Checked(boolean sound, List<Finding> findings) {}

    record PublishedView(EditionView edition, boolean isNew, List<Finding> findings) {}

    record EditionFiles(EditionView edition, Map<String, String> files) {}

    @PostMapping("/check")
    Checked check(Person person, @RequestBody Files body) {
        Access.WRITE_HANDBOOKS.require(person);
        CheckedHandbook checked = CheckedHandbook.of(files(body));
        return new Checked(checked.sound(), checked.findings());
    }

    @GetMapping("/editions")
    List<EditionView> list(Person person) {
        Access.READ_HANDBOOKS.require(person);
        List<EditionRow> rows = editionStore.all();
        return rows.stream()
                .map(row -> view(row, row.number() == rows.get(0).number()))
                .toList();
    }

    @GetMapping("/editions/{number}")
    EditionFiles show(Person person, @PathVariable int number) {
        Access.READ_HANDBOOKS.require(person);
        EditionRow row = editionStore.find(number).orElseThrow(() -> new NotFound("edition", String.valueOf(number)));
        int newest = editionStore.newest().map(EditionRow::number).orElse(0);
        return new EditionFiles(view(row, number == newest), editions.files(number));
    }

    @PostMapping("/editions")
    ResponseEntity<PublishedView> publish(Person person, @RequestBody Files body) {
        Access.WRITE_HANDBOOKS.require(person);
        return published(publishing.publish(
                person,
                files(body),
                intent(body.note(), body.despite()),
                body.base(),
                Boolean.TRUE.equals(body.confirmed())));
    }

    /** Why something is published, and why although something isn't as rehearsed. */
    record Reasons(@Nullable String note, @Nullable String despite) {}

    /** What lies between two editions, the older first. */
    @GetMapping("/editions/{number}/changes-to/{other}")
    Comparison compare(Person person, @PathVariable int number, @PathVariable int other) {
        Access.READ_HANDBOOKS.require(person);
        return Comparison.of(existing(number), existing(other));
    }

    private Map<String, String> existing(int number) {
        if (editionStore.find(number).isEmpty()) {
            throw new NotFound("edition", String.valueOf(number));
        }
        return editions.files(number);
    }

    /** Publishes the content of an earlier edition as a new one. */
    @PostMapping("/editions/{number}/restore")
    ResponseEntity<PublishedView> restore(Person person, @PathVariable int number, @RequestBody Reasons body) {
        Access.WRITE_HANDBOOKS.require(person);
        existing(number);
        return published(publishing.restore(person, number, intent(body.note(), body.despite())));
    }

    /** A page of an edition in plain words and as a drawing; {@code edition} is the current one when it isn't told. */
    @GetMapping("/pages/{name}")
    PageView page(Person person, @PathVariable String name, @RequestParam Optional<Integer> edition) {
        Access.READ_HANDBOOKS.require(person);
        Handbook handbook = edition.map(number -> {
                    existing(number);
                    return editions.get(number);
                })
                .or(editions::current)
                .map(Edition::handbook)
                .orElseThrow(() -> new NotFound("page", name));
        Runbook page = Optional.ofNullable(handbook.runbooks().get(name)).orElseThrow(() -> new NotFound("page", name));
        return PageView.of(handbook, page);
    }

    /** The starting points that ship with the product. */
    @GetMapping("/catalogue")
    List<Catalogue.Entry> catalogue(Person person) {
        Access.READ_HANDBOOKS.require(person);
        return Catalogue.entries();
    }

    record Names(@Nullable Map<String, String> names) {}

    /** What there is to choose from for what a starting point asks, by the name of the ask. */
    @PostMapping("/catalogue/{entry}/choices")
    Map<String, StartingChoices.Offered> choices(Person person, @PathVariable String entry, @RequestBody Names body)
            throws InterruptedException {
        Access.TRY_TOOLS.require(person);
        Catalogue.Entry found = Catalogue.find(entry).orElseThrow(() -> new NotFound("starting point", entry));
        return choices.of(found, body.names() == null ? Map.of() : body.names(), person.id());
    }

    static Publishing.Intent intent(@Nullable String note, @Nullable String despite) {
        return new Publishing.Intent(bounded("note", note), bounded("despite", despite));
    }

    private static String bounded(String name, @Nullable String text) {
        if (text != null && text.length() > 2_000) {
            throw new IllegalArgumentException("‘" + name + "’ may have at most 2000 characters.");
        }
        return text == null ? "" : text;
    }

    ResponseEntity<PublishedView> published(Editions.Published published) {
        return Made.at(
                "/api/handbook/editions/" + published.edition().number(),
                published.isNew(),
                new PublishedView(view(published.edition(), true), published.isNew(), published.findings()));
    }

    private static Map<String, String> files(Files body) {
        if (body.files() == null || body.files().isEmpty()) {
            throw new IllegalArgumentException("‘files’ is missing: send the handbook's files by their paths.");
        }
        body.files().forEach((path, text) -> {
            Drafts.checkPath(path);
            if (text == null) {
                throw new IllegalArgumentException("‘" + path + "’ has no text.");
            }
        });
        return body.files();
    }

    private EditionView view(EditionRow row, boolean current) {
        return new EditionView(
                row.number(), row.digest(), row.note(), describe.person(row.publishedBy()), row.published(), current);
    }
}

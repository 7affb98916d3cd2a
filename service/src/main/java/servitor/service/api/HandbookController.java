package servitor.service.api;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.handbook.Finding;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Kind;
import servitor.service.api.Views.EditionView;
import servitor.service.editions.Editions;
import servitor.service.ledger.Ledger;
import servitor.service.ledger.Rows.EditionRow;
import servitor.service.people.NotAllowed;
import servitor.service.people.Person;
import servitor.service.people.Role;

/** Handbooks: check, publish, list, read. */
@RestController
@RequestMapping("/api/handbook")
class HandbookController {
    private final Ledger ledger;
    private final Editions editions;
    private final Describe describe;

    HandbookController(Ledger ledger, Editions editions, Describe describe) {
        this.ledger = ledger;
        this.editions = editions;
        this.describe = describe;
    }

    record Files(Map<String, String> files, @Nullable String note) {}

    record Checked(boolean sound, List<Finding> findings) {}

    record PublishedView(EditionView edition, boolean isNew, List<Finding> findings) {}

    record EditionFiles(EditionView edition, Map<String, String> files) {}

    record KindView(String name, String title, String desk, List<Kind.Field> fields) {}

    /** The kinds of case anybody can open. */
    @GetMapping("/kinds")
    List<KindView> kinds(Person person) {
        return editions.current().stream()
                .flatMap(edition -> new TreeMap<>(edition.handbook().kinds()).values().stream())
                .map(kind -> new KindView(
                        kind.name(),
                        kind.title(),
                        kind.desk(),
                        List.copyOf(kind.fields().values())))
                .toList();
    }

    @PostMapping("/check")
    Checked check(Person person, @RequestBody Files body) {
        engineer(person);
        Handbook.Checked checked = Handbook.check(files(body));
        return new Checked(checked.sound(), checked.findings());
    }

    @GetMapping("/editions")
    List<EditionView> list(Person person) {
        staff(person);
        List<EditionRow> rows = ledger.editions();
        return rows.stream()
                .map(row -> view(row, row.number() == rows.get(0).number()))
                .toList();
    }

    @GetMapping("/editions/{number}")
    EditionFiles show(Person person, @PathVariable int number) {
        staff(person);
        EditionRow row = ledger.edition(number).orElseThrow(() -> new NotFound("edition", String.valueOf(number)));
        int newest = ledger.newestEdition().map(EditionRow::number).orElse(0);
        return new EditionFiles(view(row, number == newest), editions.files(number));
    }

    @PostMapping("/editions")
    ResponseEntity<PublishedView> publish(Person person, @RequestBody Files body) {
        engineer(person);
        Editions.Published published =
                editions.publish(files(body), Optional.ofNullable(body.note()).orElse(""), person.id());
        return ResponseEntity.status(published.isNew() ? HttpStatus.CREATED : HttpStatus.OK)
                .body(new PublishedView(view(published.edition(), true), published.isNew(), published.findings()));
    }

    private static Map<String, String> files(Files body) {
        if (body.files() == null || body.files().isEmpty()) {
            throw new IllegalArgumentException("‘files’ is missing: send the handbook's files by their paths.");
        }
        if (body.note() != null && body.note().length() > 2_000) {
            throw new IllegalArgumentException("‘note’ may have at most 2000 characters.");
        }
        body.files().forEach((path, text) -> {
            if (!path.matches("[a-zA-Z0-9_.-]+(/[a-zA-Z0-9_.-]+){0,4}")
                    || path.contains("..")
                    || path.length() > 300
                    || text == null) {
                throw new IllegalArgumentException("‘" + path + "’ can't be a handbook file.");
            }
        });
        return body.files();
    }

    private static void engineer(Person person) {
        if (!person.is(Role.ENGINEER)) {
            throw new NotAllowed("Handbooks are checked and published by engineers.");
        }
    }

    private static void staff(Person person) {
        if (!person.isStaff()) {
            throw new NotAllowed("Handbooks are for the people of the desks.");
        }
    }

    private EditionView view(EditionRow row, boolean current) {
        return new EditionView(
                row.number(), row.digest(), row.note(), describe.person(row.publishedBy()), row.published(), current);
    }
}

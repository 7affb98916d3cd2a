package servitor.service.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.compare.Comparison;
import servitor.service.editions.Consents;
import servitor.service.editions.EditionRow;
import servitor.service.editions.EditionStore;
import servitor.service.editions.Editions;
import servitor.service.editions.WishRow;
import servitor.service.people.Access;
import servitor.service.people.Person;

/** What somebody wants to publish and others have to agree to first. */
@RestController
@RequestMapping("/api/handbook/consents")
class ConsentController {
    private final Consents consents;
    private final Editions editions;
    private final EditionStore editionStore;
    private final ViewMapper describe;

    ConsentController(Consents consents, Editions editions, EditionStore editionStore, ViewMapper describe) {
        this.consents = consents;
        this.editions = editions;
        this.editionStore = editionStore;
        this.describe = describe;
    }

    /**
     * A handbook that somebody wants to publish.
     *
     * @param state {@code open}, {@code agreed} or {@code declined}
     * @param own whether it is one's own wish, which others answer
     */
    record Wish(
            String digest,
            Views.Actor person,
            String note,
            Instant asked,
            String state,
            Views.@Nullable Actor answeredBy,
            String reason,
            boolean own) {}

    /** The same, with what it would change of the edition in force. */
    record Shown(Wish wish, Comparison comparison) {}

    @GetMapping
    List<Wish> all(Person person) {
        Access.WRITE_HANDBOOKS.require(person);
        return consents.wishes().stream().map(row -> view(person, row)).toList();
    }

    @GetMapping("/{id}")
    Shown show(Person person, @PathVariable("id") String digest) {
        Access.WRITE_HANDBOOKS.require(person);
        WishRow row = consents.wish(digest).orElseThrow(() -> new NotFound("wish to publish", digest));
        Map<String, String> inForce = editionStore
                .newest()
                .map(EditionRow::number)
                .map(editions::files)
                .orElse(Map.of());
        return new Shown(view(person, row), Comparison.of(inForce, Consents.files(row)));
    }

    /**
     * What an engineer says.
     *
     * @param declined whether they don't agree; then {@code reason} says why
     */
    record Said(
            @Nullable String digest,
            @Nullable Boolean declined,
            @Nullable String reason) {}

    record Agreed(Set<String> desks) {}

    /** An engineer agrees, or doesn't, to what somebody else publishes: exactly the files of this digest. */
    @PostMapping
    Agreed answer(Person person, @RequestBody Said body) {
        Access.WRITE_HANDBOOKS.require(person);
        String digest = String.valueOf(body.digest());
        if (!Boolean.TRUE.equals(body.declined())) {
            return new Agreed(consents.agree(person, digest));
        }
        if (body.reason() == null || body.reason().isBlank() || body.reason().length() > 2_000) {
            throw new IllegalArgumentException("‘reason’ says why not, in up to 2000 characters.");
        }
        consents.decline(person, digest, body.reason().strip());
        return new Agreed(Set.of());
    }

    private Wish view(Person person, WishRow row) {
        return new Wish(
                row.digest(),
                describe.person(row.person()),
                row.note(),
                row.asked(),
                row.state(),
                row.answeredBy().isEmpty() ? null : describe.person(row.answeredBy()),
                row.reason(),
                row.person().equals(person.id()));
    }
}

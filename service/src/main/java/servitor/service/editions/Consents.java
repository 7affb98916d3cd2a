package servitor.service.editions;

import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.springframework.stereotype.Service;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Handbook;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;

/**
 * Who has to agree before a handbook is published, and who has: an engineer of each desk whose files change, and a second engineer
 * where the handbook in force wants one. A word is given for exactly these files.
 */
@Service
public class Consents {
    private final Editions editions;
    private final EditionStore editionStore;
    private final Writer writer;

    Consents(Editions editions, EditionStore editionStore, Writer writer) {
        this.editions = editions;
        this.editionStore = editionStore;
        this.writer = writer;
    }

    static String digest(Map<String, String> files) {
        return Json.digest(Json.of(new TreeMap<>(files)));
    }

    /**
     * Refuses while somebody has to agree; they are asked.
     *
     * @throws NeedsConsent with who that is
     */
    void require(Person person, Handbook handbook, Map<String, String> files, String note) {
        String digest = digest(files);
        Set<String> desks = lacking(person, handbook, files, digest);
        boolean second = lacksSecond(person, digest);
        if (desks.isEmpty() && !second) {
            return;
        }
        writer.write(tx -> {
            ask(tx, person, files, digest, note);
            return null;
        });
        throw new NeedsConsent(desks, second, digest);
    }

    private void ask(LedgerTransaction tx, Person person, Map<String, String> files, String digest, String note) {
        Optional<WishRow> before =
                editionStore.wish(digest).filter(wish -> wish.person().equals(person.id()));
        if (before.filter(wish -> wish.state().equals(WishRow.OPEN)).isPresent()) {
            return;
        }
        String agreed = before.filter(wish -> wish.state().equals(WishRow.AGREED))
                .map(WishRow::answeredBy)
                .orElse("");
        editionStore.putWish(
                new WishRow(digest, person.id(), note, Json.write(Json.of(files)), tx.now(), WishRow.OPEN, agreed, ""));
        trail(tx, person, TrailWord.PUBLISHING_ASKED, digest, "note", note);
    }

    private static void trail(
            LedgerTransaction tx, Person person, TrailWord what, String digest, String field, String text) {
        tx.trail(
                "",
                "",
                new TrailEvent(
                        TrailEvent.person(person.id()),
                        what,
                        "",
                        Json.object().put("digest", digest).put(field, text)));
    }

    private boolean lacksSecond(Person person, String digest) {
        boolean wanted = editions.current()
                .filter(edition -> edition.handbook().house().secondEngineer())
                .isPresent();
        return wanted
                && editionStore
                        .wish(digest)
                        .filter(wish -> !wish.state().equals(WishRow.DECLINED))
                        .map(WishRow::answeredBy)
                        .filter(by -> !by.isEmpty() && !by.equals(person.id()))
                        .isEmpty();
    }

    /** The desks whose files change and of which no engineer stands behind that. */
    private Set<String> lacking(Person person, Handbook handbook, Map<String, String> files, String digest) {
        Optional<EditionRow> current = editionStore.newest();
        Map<String, String> before =
                current.map(row -> editions.files(row.number())).orElse(Map.of());
        Handbook was = current.map(row -> editions.get(row.number()).handbook()).orElse(handbook);
        Set<String> desks = new TreeSet<>();
        Stream.concat(before.keySet().stream(), files.keySet().stream())
                .distinct()
                .filter(path -> !Objects.equals(before.get(path), files.get(path)))
                .forEach(path -> {
                    desks.addAll(desksOf(path, was));
                    desks.addAll(desksOf(path, handbook));
                });
        desks.removeAll(person.desks());
        editionStore.consents(digest).stream().map(ConsentRow::desk).forEach(desks::remove);
        return desks;
    }

    private static Set<String> desksOf(String path, Handbook book) {
        String name = path.substring(path.indexOf('/') + 1).replaceFirst("\\.(yaml|md)$", "");
        Stream<String> desks = switch (path.contains("/") ? path.substring(0, path.indexOf('/')) : "") {
            case "kinds" -> Stream.ofNullable(book.kinds().get(name)).map(kind -> kind.desk());
            case "agents" -> Stream.ofNullable(book.agents().get(name)).map(Agent::desk);
            case "runbooks" -> Stream.ofNullable(book.runbooks().get(name)).map(page -> page.desk());
            case "mandates" ->
                Stream.ofNullable(book.mandates().get(name))
                        .flatMap(mandate -> mandate.agents().stream())
                        .flatMap(agent -> Stream.ofNullable(book.agents().get(agent)))
                        .map(Agent::desk);
            case "rehearsals" ->
                Stream.ofNullable(book.rehearsals().get(name))
                        .flatMap(rehearsal -> Stream.ofNullable(
                                book.kinds().get(rehearsal.about().kind())))
                        .map(kind -> kind.desk());
            case "intake" ->
                Stream.ofNullable(book.intake().get(name))
                        .flatMap(intake -> Stream.ofNullable(book.kinds().get(intake.kind())))
                        .map(kind -> kind.desk());
            default -> Stream.of();
        };
        return desks.filter(book.desks()::containsKey).collect(Collectors.toSet());
    }

    /** It is published, and nobody need say any more. */
    void used(Map<String, String> files) {
        writer.write(tx -> {
            editionStore.dropWish(digest(files));
            return null;
        });
    }

    /** What waits for somebody's word, or has had it and isn't published, the newest first. */
    public List<WishRow> wishes() {
        return editionStore.wishes();
    }

    /** One of them. */
    public Optional<WishRow> wish(String digest) {
        return editionStore.wish(digest);
    }

    /** The files that somebody wants to publish. */
    public static Map<String, String> files(WishRow wish) {
        Map<String, String> files = new TreeMap<>();
        Json.read(wish.files(), JsonNode.class)
                .properties()
                .forEach(e -> files.put(e.getKey(), e.getValue().stringValue()));
        return files;
    }

    /** An engineer agrees, for their desks and as a second one, to files of this digest being published; gives the desks. */
    public Set<String> agree(Person person, String digest) {
        checked(digest);
        return writer.write(tx -> {
            person.desks()
                    .forEach(desk -> editionStore.putConsent(new ConsentRow(digest, desk, person.id(), tx.now())));
            answer(digest, person, WishRow.AGREED, "");
            tx.trail(
                    "",
                    "",
                    new TrailEvent(
                            TrailEvent.person(person.id()),
                            TrailWord.PUBLISHING_AGREED,
                            "",
                            Json.object().put("digest", digest).set("desks", Json.of(new TreeSet<>(person.desks())))));
            return person.desks();
        });
    }

    /** An engineer doesn't agree; what they have said before doesn't hold any more. */
    public void decline(Person person, String digest, String reason) {
        checked(digest);
        writer.write(tx -> {
            editionStore.dropConsents(digest, person.id());
            answer(digest, person, WishRow.DECLINED, reason);
            trail(tx, person, TrailWord.PUBLISHING_DECLINED, digest, "reason", reason);
            return null;
        });
    }

    private void answer(String digest, Person person, String state, String reason) {
        editionStore
                .wish(digest)
                .filter(wish -> !wish.person().equals(person.id()))
                .ifPresent(wish -> editionStore.putWish(new WishRow(
                        digest, wish.person(), wish.note(), wish.files(), wish.asked(), state, person.id(), reason)));
    }

    private static void checked(String digest) {
        if (!digest.matches("[0-9a-f]{64}")) {
            throw new IllegalArgumentException("‘digest’ is 64 hexadecimal digits, as publishing told it.");
        }
    }
}

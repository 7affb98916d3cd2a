package servitor.service.editions;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.core.consent.Touched;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.json.Json;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import servitor.service.connections.ConnectionRow;
import servitor.service.connections.ConnectionStore;
import servitor.service.ledger.LedgerTransaction;
import servitor.service.ledger.Writer;
import servitor.service.people.Access;
import servitor.service.people.PeopleReader;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;

/**
 * Who has to agree before a handbook is published, and who has: an engineer of each desk that is {@link Touched}, and a second engineer
 * where the whole house is, or where the handbook in force wants one. A word is given for exactly these files.
 */
@Service
public class Consents {
    private final Editions editions;
    private final EditionStore editionStore;
    private final Writer writer;
    private final ConnectionStore connections;
    private final PeopleReader people;

    Consents(
            Editions editions,
            EditionStore editionStore,
            Writer writer,
            ConnectionStore connections,
            PeopleReader people) {
        this.editions = editions;
        this.editionStore = editionStore;
        this.writer = writer;
        this.connections = connections;
        this.people = people;
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
        Touched touched = touched(handbook, files);
        Map<String, Set<String>> desks = lacking(person, touched, digest);
        boolean second = lacksSecond(person, touched, digest);
        if (desks.isEmpty() && !second) {
            return;
        }
        writer.write(tx -> {
            ask(tx, person, files, digest, note);
            return null;
        });
        List<NeedsConsent.Lacks> lacks = new ArrayList<>();
        desks.forEach((desk, what) -> lacks.add(new NeedsConsent.Lacks(desk, what, whoCould(person, desk))));
        if (second) {
            lacks.add(new NeedsConsent.Lacks("", touched.house(), whoCould(person, null)));
        }
        throw new NeedsConsent(lacks, digest);
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

    private boolean lacksSecond(Person person, Touched touched, String digest) {
        Optional<Edition> current = editions.current();
        boolean wanted = current.filter(edition -> edition.handbook().house().secondEngineer())
                .isPresent();
        boolean house = current.isPresent() && !touched.house().isEmpty();
        return (wanted || house)
                && editionStore.consents(digest).stream()
                        .allMatch(consent -> consent.person().equals(person.id()))
                && editionStore
                        .wish(digest)
                        .filter(wish -> !wish.state().equals(WishRow.DECLINED))
                        .map(WishRow::answeredBy)
                        .filter(by -> !by.isEmpty() && !by.equals(person.id()))
                        .isEmpty();
    }

    /** What the change touches, against the edition in force. */
    private Touched touched(Handbook handbook, Map<String, String> files) {
        Optional<EditionRow> current = editionStore.newest();
        Map<String, String> before =
                current.map(row -> editions.files(row.number())).orElse(Map.of());
        Handbook was = current.map(row -> editions.get(row.number()).handbook()).orElse(handbook);
        return Touched.by(
                was,
                handbook,
                before,
                files,
                name -> connections.find(name).map(ConnectionRow::desk).orElse(""));
    }

    /** What is touched of the desks of which no engineer stands behind it. */
    private Map<String, Set<String>> lacking(Person person, Touched touched, String digest) {
        Map<String, Set<String>> desks = new TreeMap<>(touched.desks());
        desks.keySet().removeAll(person.desks());
        editionStore.consents(digest).stream().map(ConsentRow::desk).forEach(desks::remove);
        return desks;
    }

    /** Who could agree for a desk, or as a second engineer for any: engineers but for whoever publishes. */
    private List<String> whoCould(Person person, @Nullable String desk) {
        return people.all().stream()
                .filter(one -> one.enabled()
                        && Access.WRITE_HANDBOOKS.allows(one)
                        && !one.id().equals(person.id()))
                .filter(one -> desk == null || one.desks().contains(desk))
                .map(Person::name)
                .sorted()
                .toList();
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

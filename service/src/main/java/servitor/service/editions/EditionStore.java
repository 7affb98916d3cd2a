package servitor.service.editions;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** Published handbooks, what people have changed of them and not published, and who agreed to that. */
@Component
public class EditionStore {
    private final EditionMapper editions;

    EditionStore(EditionMapper editions) {
        this.editions = editions;
    }

    public Optional<EditionRow> newest() {
        return Optional.ofNullable(editions.newest());
    }

    public Optional<EditionRow> find(int number) {
        return Optional.ofNullable(editions.find(number));
    }

    public List<EditionRow> all() {
        return editions.all();
    }

    List<FileRow> files(int edition) {
        return editions.files(edition);
    }

    public void insert(EditionRow row, Map<String, String> files) {
        editions.insert(row);
        files.forEach((path, text) -> editions.insertFile(row.number(), path, text));
    }

    /** What a person has changed and not published. */
    List<DraftRow> draft(String person) {
        return editions.draft(person);
    }

    /** Which files others have changed and not published; without the texts. */
    List<DraftRow> draftsOfOthers(String person) {
        return editions.draftsOfOthers(person);
    }

    void putDraft(DraftRow row) {
        editions.putDraft(row);
    }

    void dropDraft(String person, String path) {
        editions.dropDraft(person, path);
    }

    /** Who has agreed to publishing files of this digest, by desk. */
    List<ConsentRow> consents(String digest) {
        return editions.consents(digest);
    }

    void putConsent(ConsentRow row) {
        editions.putConsent(row);
    }

    void dropConsents(String digest, String person) {
        editions.dropConsents(digest, person);
    }

    void putWish(WishRow row) {
        editions.putWish(row);
    }

    Optional<WishRow> wish(String digest) {
        return Optional.ofNullable(editions.wish(digest));
    }

    /** What somebody wants to publish and hasn't yet, the newest first. */
    List<WishRow> wishes() {
        return editions.wishes();
    }

    void dropWish(String digest) {
        editions.dropWish(digest);
    }
}

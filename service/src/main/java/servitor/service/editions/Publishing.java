package servitor.service.editions;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.core.handbook.Grant;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Mandate;
import servitor.core.handbook.Place;
import servitor.core.handbook.Verb;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Finding;
import servitor.core.rehearsal.Rehearsals;
import servitor.service.connections.ConnectionStore;
import servitor.service.editions.Editions.Published;
import servitor.service.people.Person;
import servitor.service.people.PersonStore;

/**
 * Publishing as people do it: nobody takes files out, or writes over what others have published, without having seen it; and
 * what belongs to a desk is published by an engineer of that desk, or with the consent of one.
 */
@Service
public class Publishing {
    private final Editions editions;
    private final EditionStore editionStore;
    private final ConnectionStore connectionStore;
    private final PersonStore personStore;
    private final Consents consents;

    Publishing(
            Editions editions,
            EditionStore editionStore,
            ConnectionStore connectionStore,
            PersonStore personStore,
            Consents consents) {
        this.editions = editions;
        this.editionStore = editionStore;
        this.connectionStore = connectionStore;
        this.personStore = personStore;
        this.consents = consents;
    }

    /**
     * Publishes {@code files} as the next edition. Throws {@link HandbookRefused} with errors and while something isn't as rehearsed,
     * {@link NeedsALook} while what it would take out or write over isn't confirmed, and {@link NeedsConsent} for files of other desks.
     *
     * @param why {@code despite} says why it is published although something isn't as rehearsed
     * @param base the edition they were made from; null when nobody knows
     */
    public Published publish(
            Person person, Map<String, String> files, Intent why, @Nullable Integer base, boolean confirmed) {
        CheckedHandbook checked = checked(files);
        Optional<EditionRow> current = editionStore.newest();
        if (current.isPresent() && !confirmed && !current.get().digest().equals(Consents.digest(files))) {
            look(current.get().number(), base, files);
        }
        return published(person, checked.handbook(), files, why, null);
    }

    /**
     * What somebody says who publishes.
     *
     * @param despite why although something isn't as rehearsed; empty when nothing is said
     */
    public record Intent(String note, String despite) {}

    /** Plays the rehearsals, and publishes when all is as rehearsed or somebody says why all the same. */
    private Published published(
            Person person, Handbook handbook, Map<String, String> files, Intent why, @Nullable Integer over) {
        List<Finding> notSo = Rehearsals.findings(Rehearsals.play(handbook));
        if (!notSo.isEmpty() && why.despite().isBlank()) {
            throw HandbookRefused.notAsRehearsed(notSo);
        }
        consents.require(person, handbook, files, why.note());
        Published published = editions.publish(
                files,
                new Editions.Why(
                        why.note(), notSo.isEmpty() ? "" : why.despite().strip()),
                person.id(),
                over);
        consents.used(files);
        List<Finding> all = new ArrayList<>(published.findings());
        notSo.forEach(finding -> all.add(new Finding(
                Finding.Severity.WARNING, finding.place(), finding.code(), finding.what(), finding.remedy())));
        return warned(new Published(published.edition(), published.isNew(), all), handbook);
    }

    /** Publishes a person's draft, which says itself what it takes out, as long as it lies over the newest edition. */
    Published publishDraft(Person person, Map<String, String> files, Intent why, int over) {
        CheckedHandbook checked = checked(files);
        return published(person, checked.handbook(), files, why, over);
    }

    /** Publishes the content of an earlier edition again, as a new one. */
    public Published restore(Person person, int number, Intent why) {
        Map<String, String> files = editions.files(number);
        CheckedHandbook checked = checked(files);
        String note = why.note().isBlank() ? "Edition " + number + " again" : why.note();
        return published(person, checked.handbook(), files, new Intent(note, why.despite()), null);
    }

    private static CheckedHandbook checked(Map<String, String> files) {
        CheckedHandbook checked = CheckedHandbook.of(files);
        if (!checked.sound()) {
            throw new HandbookRefused(checked.findings());
        }
        return checked;
    }

    /** Says what would vanish, and what others have published since the base. */
    private void look(int current, @Nullable Integer base, Map<String, String> files) {
        Map<String, String> inForce = editions.files(current);
        List<String> out = inForce.keySet().stream()
                .filter(path -> !files.containsKey(path))
                .sorted()
                .toList();
        List<String> over = new ArrayList<>();
        if (base != null && base != current) {
            Map<String, String> from = editionStore.find(base).isPresent() ? editions.files(base) : Map.of();
            Stream.concat(from.keySet().stream(), inForce.keySet().stream())
                    .distinct()
                    .sorted()
                    .filter(path -> !Objects.equals(from.get(path), inForce.get(path)))
                    .filter(path -> !Objects.equals(files.get(path), inForce.get(path)))
                    .forEach(over::add);
        }
        if (base == null || base != current || !out.isEmpty()) {
            throw new NeedsALook(current, base, out, over);
        }
    }

    /** With what checking files alone can't see: connections that aren't set up, and groups that nobody is in. */
    private Published warned(Published published, Handbook handbook) {
        List<Finding> all = new ArrayList<>(published.findings());
        Set<String> connections = new TreeSet<>();
        handbook.tools().values().forEach(tool -> connections.add(tool.binding().connection()));
        handbook.house().models().values().forEach(model -> connections.add(model.connection()));
        connections.remove("");
        connections.stream()
                .filter(name -> connectionStore.find(name).isEmpty())
                .forEach(name -> all.add(warning(
                        Code.BINDING,
                        "The connection ‘" + name + "’ isn't set up: whatever goes out by it will fail.",
                        "An admin sets it up with ‘servitor connection set " + name + " URL’.")));
        asked(handbook).stream()
                .filter(group -> personStore.eligible(Set.of(group), Set.of()) == 0)
                .forEach(group -> all.add(warning(
                        Code.NOBODY_TO_ASK,
                        "Nobody could answer for ‘" + group + "’, which is asked for approvals.",
                        "An admin puts people there with ‘servitor user set PERSON --groups " + group
                                + "’ (--desks for a desk).")));
        return new Published(published.edition(), published.isNew(), all);
    }

    private static Set<String> asked(Handbook handbook) {
        Set<String> groups = new TreeSet<>();
        for (Mandate mandate : handbook.mandates().values()) {
            Stream.concat(
                            Stream.ofNullable(mandate.ask()),
                            mandate.grants().stream().map(Grant::of))
                    .filter(Objects::nonNull)
                    .forEach(groups::add);
        }
        handbook.runbooks().values().stream()
                .flatMap(page -> page.steps().stream())
                .filter(step -> step.verb() instanceof Verb.Approve)
                .flatMap(step -> ((Verb.Approve) step.verb()).of().stream())
                .flatMap(who -> who.asConstant().stream())
                .map(constant -> constant.asString(""))
                .forEach(groups::add);
        return groups;
    }

    private static Finding warning(Code code, String what, String remedy) {
        return new Finding(Finding.Severity.WARNING, Place.top("handbook.yaml"), code, what, remedy);
    }
}

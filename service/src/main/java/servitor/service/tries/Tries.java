package servitor.service.tries;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Service;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.Cue;
import servitor.core.handbook.read.RehearsalAnswers;
import servitor.core.json.Json;
import servitor.core.rehearsal.RehearsalText;
import servitor.core.rehearsal.TryOut;
import servitor.service.Precondition;
import servitor.service.cases.CaseStore;
import servitor.service.editions.Drafts;
import servitor.service.ledger.Writer;
import servitor.service.lookback.CaseRehearsals;
import servitor.service.people.Access;
import servitor.service.people.Person;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Tries out pages of a draft. A case that one is made of is read anew each time, with the rights that somebody has then. */
@Service
public class Tries {
    private static final int MOST = 50;
    private static final int MOST_ANSWERS = 300;
    private static final int LONGEST = 200_000;
    private static final String SILENT = "silent";
    private static final Set<TryOut.Sort> STAY_SILENT = Set.of(TryOut.Sort.PEOPLE, TryOut.Sort.WAIT);

    private final TryStore tryStore;
    private final Drafts drafts;
    private final CaseRehearsals caseRehearsals;
    private final CaseStore caseStore;
    private final RealAnswers realAnswers;
    private final Writer writer;

    Tries(
            TryStore tryStore,
            Drafts drafts,
            CaseRehearsals caseRehearsals,
            CaseStore caseStore,
            RealAnswers realAnswers,
            Writer writer) {
        this.tryStore = tryStore;
        this.drafts = drafts;
        this.caseRehearsals = caseRehearsals;
        this.caseStore = caseStore;
        this.realAnswers = realAnswers;
        this.writer = writer;
    }

    /**
     * A try as it stands.
     *
     * @param answers how many were given
     * @param notForReal why what is open can't be asked for real; empty when it can
     */
    public record Standing(TryRow row, Rehearsal from, TryOut out, int answers, String notForReal) {}

    /** What somebody tries, the one worked on last first. */
    public List<TryRow> all(Person person) {
        return tryStore.all(person.id());
    }

    /**
     * Begins one; gives its id.
     *
     * @param source {@code rehearsal}, {@code case} or {@code request}
     * @param request what is typed, in the form of a rehearsal's {@code case}; null for anything else
     * @throws IllegalArgumentException when there is nothing to begin with, or too much is tried already
     */
    public String begin(Person person, String source, String named, @Nullable JsonNode request) {
        String typed = request == null ? "" : Json.write(request);
        TryRow row = new TryRow(
                "T-" + UUID.randomUUID(), person.id(), source, named, "", bounded(typed), "[]", 0, Instant.EPOCH);
        Edition edition = drafts.edition(person.id());
        Rehearsal from = from(person, row, edition);
        if (!edition.handbook().kinds().containsKey(from.about().kind())) {
            throw new IllegalArgumentException(
                    "Your draft has no kind ‘" + from.about().kind() + "’.");
        }
        writer.write(tx -> {
            if (tryStore.all(person.id()).size() >= MOST) {
                throw new IllegalArgumentException("You try " + MOST + " things already; give one of them up first.");
            }
            tryStore.put(row.kept(from.title(), tx.now()));
            return null;
        });
        return row.id();
    }

    /** Plays one to where it stands; empty when somebody has no such try. */
    public Optional<Standing> play(Person person, String id) {
        return tryStore.find(person.id(), id).map(row -> standing(person, row));
    }

    private Standing standing(Person person, TryRow row) {
        Edition edition = drafts.edition(person.id());
        Rehearsal from = from(person, row, edition);
        List<JsonNode> given = answers(row);
        TryOut out = TryOut.play(edition, from, RehearsalAnswers.cues(told(given)), silent(given));
        String not = out.open() == null ? "nothing is open" : realAnswers.refused(person, edition, row, out.open());
        return new Standing(row, from, out, given.size(), not);
    }

    private Rehearsal from(Person person, TryRow row, Edition edition) {
        return switch (row.source()) {
            case "rehearsal" ->
                Optional.ofNullable(edition.handbook().rehearsals().get(row.named()))
                        .orElseThrow(() ->
                                new IllegalArgumentException("Your draft has no rehearsal ‘" + row.named() + "’."));
            case "case" -> {
                Access.SEE_LANES.require(person, caseStore.seenBy(person, row.named()));
                yield caseRehearsals.asItWas(row.named());
            }
            case "request" -> typed(person, row);
            default -> throw new IllegalArgumentException("A try begins with a rehearsal, a case or a request.");
        };
    }

    /** A request as if whoever tries it had signed in and asked, but for what they say themselves. */
    private static Rehearsal typed(Person person, TryRow row) {
        if (!(Json.read(row.request(), JsonNode.class) instanceof ObjectNode about)) {
            throw new IllegalArgumentException("‘request’ is a case as in a rehearsal: kind, subject, text, fields.");
        }
        if (!about.has("requester")) {
            ObjectNode requester = about.putObject("requester")
                    .put("id", person.id())
                    .put("name", person.name())
                    .put("account", person.account());
            requester.set("groups", Json.of(person.groups()));
        }
        return RehearsalAnswers.of(about.path("subject").asString("A request"), about);
    }

    /**
     * Answers what is open.
     *
     * @param answer in the form of a rehearsal's answers; null when nobody answers
     * @throws IllegalArgumentException when it isn't an answer to that
     */
    public void answer(Person person, Standing at, @Nullable JsonNode answer) {
        if (at.out().open() == null) {
            throw new IllegalArgumentException("Nothing of this try waits for an answer.");
        }
        if (answer == null && !STAY_SILENT.contains(at.out().open().sort())) {
            throw new IllegalArgumentException("A tool or a model always says something; it may fail.");
        }
        JsonNode given =
                answer == null ? Json.object().put(SILENT, at.out().open().id()) : answer;
        keep(person, at, given, 0);
    }

    private void keep(Person person, Standing at, JsonNode given, int forReal) {
        List<JsonNode> all = new ArrayList<>(answers(at.row()));
        all.add(given);
        if (all.size() > MOST_ANSWERS) {
            throw new IllegalArgumentException("A try has at most " + MOST_ANSWERS + " answers.");
        }
        TryRow row = with(at.row(), all, forReal);
        TryOut out = TryOut.play(drafts.edition(person.id()), at.from(), RehearsalAnswers.cues(told(all)), silent(all));
        if (!out.played().faults().isEmpty()) {
            throw new IllegalArgumentException(
                    "That doesn't go: " + String.join("; ", out.played().faults()) + ".");
        }
        if (out.open() != null
                && at.out().open() != null
                && out.open().id().equals(at.out().open().id())
                && !given.path("people").isString()) {
            throw new IllegalArgumentException("That answers something else than what is open.");
        }
        put(row);
    }

    private static TryRow with(TryRow row, List<JsonNode> answers, int forReal) {
        return row.with(bounded(Json.write(Json.of(answers))), forReal);
    }

    private void put(TryRow row) {
        writer.write(tx -> {
            tryStore.put(row.kept(row.title(), tx.now()));
            return null;
        });
    }

    /** Asks the tool or the model for real, where that is allowed; what it says is the answer. */
    public void askForReal(Person person, Standing at) throws InterruptedException {
        if (at.out().open() == null || !at.notForReal().isEmpty()) {
            throw new IllegalArgumentException("This isn't asked for real: " + at.notForReal() + ".");
        }
        JsonNode said = realAnswers.of(
                person, drafts.edition(person.id()), at.row(), at.out().open());
        keep(person, at, said, 1);
    }

    /** Takes the last answer back. */
    public void back(Standing at) {
        List<JsonNode> all = answers(at.row());
        if (!all.isEmpty()) {
            put(with(at.row(), all.subList(0, all.size() - 1), 0));
        }
    }

    public void giveUp(Person person, String id) {
        writer.write(tx -> {
            tryStore.delete(person.id(), id);
            return null;
        });
    }

    /**
     * Keeps a try as a rehearsal of the draft; gives its path. One that is made of a case isn't, as it names real people: a rehearsal is
     * made of the case itself, without them.
     */
    public String keepAsRehearsal(Person person, Standing at, String name) {
        if (at.row().source().equals("case")) {
            throw new IllegalArgumentException(
                    "This is a real case; make a rehearsal of the case itself, which leaves out who it is about.");
        }
        if (!name.matches("[a-z0-9][a-z0-9-]{0,60}")) {
            throw new IllegalArgumentException("‘name’ has small letters, digits and hyphens.");
        }
        String path = "rehearsals/" + name + ".yaml";
        if (drafts.of(person.id()).files().containsKey(path)) {
            throw new IllegalArgumentException("Your draft has a file ‘" + path + "’ already.");
        }
        List<Cue> cues = TryOut.world(at.from());
        cues.addAll(RehearsalAnswers.cues(told(answers(at.row()))));
        cues.removeAll(at.out().played().unsaid());
        Rehearsal kept = new Rehearsal(
                name,
                at.row().title(),
                at.from().about(),
                cues,
                new Rehearsal.Must(
                        at.out().played().state(),
                        List.of(),
                        List.of(),
                        List.of(),
                        Map.of(),
                        List.of(),
                        List.of(),
                        Map.of()),
                at.from().places());
        drafts.put(
                person.id(),
                path,
                RehearsalText.of(kept, List.of("Made of a try. Say under ‘must’ what has to hold.")),
                Precondition.NONE);
        return path;
    }

    private static List<JsonNode> answers(TryRow row) {
        return Json.read(row.answers(), JsonNode.class).valueStream().toList();
    }

    private static List<JsonNode> told(List<JsonNode> answers) {
        return answers.stream().filter(answer -> !answer.has(SILENT)).toList();
    }

    private static Set<String> silent(List<JsonNode> answers) {
        Set<String> silent = new HashSet<>();
        answers.stream()
                .filter(answer -> answer.has(SILENT))
                .forEach(answer -> silent.add(answer.path(SILENT).asString("")));
        return silent;
    }

    private static String bounded(String json) {
        if (json.length() > LONGEST) {
            throw new IllegalArgumentException(
                    String.format(Locale.ROOT, "A try holds at most %d characters.", LONGEST));
        }
        return json;
    }
}

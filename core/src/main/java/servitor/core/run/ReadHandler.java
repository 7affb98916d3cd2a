package servitor.core.run;

import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import servitor.core.document.Extraction;
import servitor.core.document.Extraction.Doubtful;
import servitor.core.document.Extraction.Found;
import servitor.core.document.Extraction.Missing;
import servitor.core.document.Extraction.Value;
import servitor.core.document.FileType;
import servitor.core.document.FoundAt;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadOutcome;
import servitor.core.document.WantedTable;
import servitor.core.document.WantedValue;
import servitor.core.handbook.NeededDocument;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Verb.Read;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunInput.DocumentRead;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.RunInput.ModelCalled;
import servitor.core.run.RunInput.ModelFailed;
import servitor.core.run.RunState.Pending;
import servitor.core.run.StepProgress.ReadSoFar;
import servitor.core.shape.Shape;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * {@code read}: what stands in one document of the case. Whatever is doubtful about it, or isn't there, is a problem, so that no rule
 * decides on it.
 */
final class ReadHandler implements VerbHandler<Read> {
    /** What a file is can't be told before it was opened. */
    private static final Set<ReadOutcome> UNOPENED = EnumSet.of(
            ReadOutcome.NOT_READ,
            ReadOutcome.EMPTY,
            ReadOutcome.ENCRYPTED,
            ReadOutcome.CORRUPT,
            ReadOutcome.TOO_LARGE,
            ReadOutcome.TOOK_TOO_LONG);

    @Override
    public void enter(TransitionBuilder turn, Read verb) {
        TracedValue named = turn.fill(verb.named());
        if (named == null) {
            return;
        }
        List<NeededDocument> declared = declared(turn, verb);
        JsonNode chosen = null;
        for (JsonNode document : turn.situation().view().documents()) { // the newest is the last
            if (isMeant(document, named.value().asString(""), declared)
                    && (chosen == null || fits(document, verb, declared) || !fits(chosen, verb, declared))) {
                chosen = document;
            }
        }
        if (chosen == null) {
            turn.problem(Problem.NOT_FOUND, "the case has no such document");
            return;
        }
        String id = turn.usage().nextId();
        turn.await(Pending.Kind.DOCUMENT, id, null, Set.of());
        turn.command(new Command.ReadDocument(id, chosen.path("id").asString("")));
    }

    private static List<NeededDocument> declared(TransitionBuilder turn, Read verb) {
        return Optional.ofNullable(turn.edition()
                        .handbook()
                        .kinds()
                        .get(turn.situation().view().kind()))
                .map(kind -> kind.documents().get(verb.document()))
                .stream()
                .toList();
    }

    private static boolean isMeant(JsonNode document, String named, List<NeededDocument> declared) {
        String name = document.path("name").asString("").toLowerCase(java.util.Locale.ROOT);
        return name.contains(named.toLowerCase(java.util.Locale.ROOT))
                && declared.stream().allMatch(wanted -> wanted.isNamed(name));
    }

    private static boolean fits(JsonNode document, Read verb, List<NeededDocument> declared) {
        return fits(document.path("type").asString(""), verb, declared);
    }

    private static boolean fits(String type, Read verb, List<NeededDocument> declared) {
        return isOf(verb.types(), type) && declared.stream().allMatch(wanted -> wanted.isOf(type));
    }

    private static boolean isOf(List<String> types, String type) {
        return types.isEmpty() || types.stream().anyMatch(word -> FileType.fits(word, type));
    }

    @Override
    public void resume(TransitionBuilder turn, Read verb, RunInput input) {
        if (input instanceof DocumentRead read) {
            read(turn, verb, read);
        } else if (input instanceof ModelAnswered answered) {
            answered(turn, verb, answered);
        } else if (input instanceof ModelFailed failed) {
            ModelWork.failed(turn, failed);
        } else if (input instanceof ModelCalled called) {
            ModelWork.notAsked(turn, called);
        }
    }

    private static void read(TransitionBuilder turn, Read verb, DocumentRead document) {
        ReadDocument read = document.read();
        List<NeededDocument> declared = declared(turn, verb);
        if (UNOPENED.contains(read.outcome())) {
            problem(turn, document, read.outcome(), read.detail());
        } else if (!fits(read.type(), verb, declared)) {
            problem(turn, document, ReadOutcome.WRONG_TYPE, "it is " + read.type());
        } else if (read.outcome() != ReadOutcome.TEXT && !mayBeLookedAt(turn, verb, read)) {
            problem(turn, document, read.outcome(), read.detail());
        } else {
            extract(turn, verb, document);
        }
    }

    /** Whether a model that sees is asked for all that is wanted of pages without text. */
    private static boolean mayBeLookedAt(TransitionBuilder turn, Read verb, ReadDocument read) {
        return read.outcome() == ReadOutcome.NO_TEXT
                && ValueSearch.sees(turn)
                && verb.tables().isEmpty()
                && verb.asksModel()
                && verb.values().stream().noneMatch(value -> value.isLabelled() && !value.mayBeMissing());
    }

    private static void problem(TransitionBuilder turn, DocumentRead document, ReadOutcome outcome, String detail) {
        String says = "‘" + document.name() + "’: " + outcome.words();
        turn.problem(outcome.word(), says + (detail.isEmpty() ? "" : " (" + detail + ")"), says);
    }

    private static void extract(TransitionBuilder turn, Read verb, DocumentRead document) {
        Extraction extraction = new Extraction(document.document(), document.name(), document.read());
        Gathered gathered = new Gathered(turn, document);
        for (WantedTable table : verb.tables()) {
            if (!gathered.take(table.name(), extraction.table(table), Set.of(Origin.REQUESTER), table.shape(), false)) {
                return;
            }
        }
        for (WantedValue value : verb.values()) {
            if (value.isLabelled()
                    && !gathered.take(
                            value.name(),
                            extraction.labelled(value),
                            Set.of(Origin.REQUESTER),
                            value.shape(),
                            value.mayBeMissing())) {
                return;
            }
        }
        if (!verb.asksModel()) {
            done(turn, verb, gathered.whole());
        } else {
            ReadSoFar soFar = new ReadSoFar(gathered.whole(), ValueSearch.kept(document.read()), List.of());
            ValueSearch.begin(turn, verb, soFar).ask(ModelWork.prose(turn));
        }
    }

    private static void answered(TransitionBuilder turn, Read verb, ModelAnswered answered) {
        turn.usage().countModel(answered.tokens(), answered.cost());
        turn.log(TrailWord.ASSESSED, ModelWork.record(answered).set("answer", answered.answer()));
        ValueSearch search = ValueSearch.goOn(turn, verb, answered.answer());
        if (search.isUnfinished()) {
            search.ask(ModelWork.prose(turn));
            return;
        }
        Gathered gathered = new Gathered(
                turn, Objects.requireNonNull(turn.memory().reading()).value());
        for (WantedValue value : verb.values()) {
            if (!value.isLabelled()
                    && !gathered.take(
                            value.name(),
                            search.found(value),
                            search.origins(value),
                            value.shape(),
                            value.mayBeMissing())) {
                return;
            }
        }
        done(turn, verb, gathered.whole());
    }

    private static void done(TransitionBuilder turn, Read verb, TracedValue read) {
        Map<String, TracedValue> fields = parts(read);
        ObjectNode places = Json.object();
        verb.values()
                .forEach(value -> places.put(
                        value.name(),
                        Optional.ofNullable(read.found().get(value.name()))
                                .map(FoundAt::told)
                                .orElse("")));
        fields.put(Read.PLACES, TracedValue.of(places, Origin.REQUESTER));
        turn.log(
                TrailWord.DOCUMENT_USED,
                Json.object()
                        .put("document", read.value().path("id").asString(""))
                        .put("name", read.value().path("name").asString(""))
                        .set("places", Json.of(read.found())));
        turn.known().save(verb.save(), TracedValue.fields(fields));
        turn.goOn();
    }

    private static Map<String, TracedValue> parts(TracedValue whole) {
        Map<String, TracedValue> parts = new LinkedHashMap<>();
        whole.value().propertyNames().forEach(name -> parts.put(name, Objects.requireNonNull(whole.at(List.of(name)))));
        return parts;
    }

    /** What has been found of a document so far. */
    private static final class Gathered {
        private final TransitionBuilder turn;
        private final Map<String, TracedValue> fields = new LinkedHashMap<>();
        private final String name;

        Gathered(TransitionBuilder turn, DocumentRead document) {
            this.turn = turn;
            this.name = document.name();
            ReadDocument read = document.read();
            String text = read.markedText();
            boolean whole = text.length() <= ValueSearch.LONGEST_TEXT;
            ObjectNode about = Json.object()
                    .put("id", document.document())
                    .put("name", document.name())
                    .put("type", read.type())
                    .put("size", size(turn, document.document()))
                    .put("text", whole ? text : text.substring(0, ValueSearch.LONGEST_TEXT))
                    .put("whole", whole)
                    .put("pages", read.pages().size())
                    .put("outcome", read.outcome().word());
            about.properties().forEach(e -> fields.put(e.getKey(), TracedValue.of(e.getValue(), Origin.REQUESTER)));
        }

        Gathered(TransitionBuilder turn, TracedValue soFar) {
            this.turn = turn;
            this.name = soFar.value().path("name").asString("");
            fields.putAll(parts(soFar));
        }

        private static int size(TransitionBuilder turn, String id) {
            for (JsonNode document : turn.situation().view().documents()) {
                if (document.path("id").asString("").equals(id)) {
                    return document.path("size").asInt(0);
                }
            }
            return 0;
        }

        /** Takes what was found; false after the way of a problem was taken. */
        boolean take(String field, Found found, Set<Origin> origins, Shape shape, boolean mayBeMissing) {
            if (found instanceof Value value) {
                fields.put(field, found(value, origins, shape));
                return true;
            } else if (found instanceof Missing missing) {
                if (!mayBeMissing) {
                    problem(Problem.INVALID.word(), missing.why());
                }
                return mayBeMissing;
            }
            problem(Read.DOUBTFUL, ((Doubtful) found).why());
            return false;
        }

        /** What a model saw in a picture is its word, as no text stands there to hold it against. */
        private static TracedValue found(Value value, Set<Origin> origins, Shape shape) {
            Set<String> machine = origins.contains(Origin.MODEL)
                    ? TracedValue.answered(value.value(), shape).machine()
                    : Set.of();
            return new TracedValue(value.value(), origins, Map.of(), machine, Map.of("", value.at()));
        }

        private void problem(String problem, String why) {
            String says = "‘" + name + "’: " + why + ".";
            turn.problem(problem, says, says);
        }

        TracedValue whole() {
            return TracedValue.fields(fields);
        }
    }
}

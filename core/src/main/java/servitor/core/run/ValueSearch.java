package servitor.core.run;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import servitor.core.document.Extraction;
import servitor.core.document.Extraction.Doubtful;
import servitor.core.document.Extraction.Found;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadDocument.Page;
import servitor.core.document.ReadOutcome;
import servitor.core.document.WantedValue;
import servitor.core.handbook.House;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Verb.Read;
import servitor.core.origin.Origin;
import servitor.core.prompt.Prompt.Picture;
import servitor.core.prompt.PromptLayout;
import servitor.core.run.StepProgress.ReadSoFar;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.MissingNode;

/**
 * A model looks for values in a document: in its text, part by part where it is longer than the model's window, and then, if the model sees,
 * on the pages without text, a few at once. What is found isn't asked for again.
 */
final class ValueSearch {
    /** How much of a document's text is kept and searched, in characters. */
    static final int LONGEST_TEXT = 120_000;

    private static final int PICTURES_AT_ONCE = 4;

    private final TransitionBuilder turn;
    private final ReadSoFar soFar;
    private final List<WantedValue> wanted;
    private final String id;
    private final String name;
    private final List<String> texts;
    private final List<List<Picture>> pictures;

    private ValueSearch(TransitionBuilder turn, Read verb, ReadSoFar soFar) {
        this.turn = turn;
        this.soFar = soFar;
        wanted = verb.values().stream().filter(value -> !value.isLabelled()).toList();
        JsonNode about = soFar.value().value();
        id = about.path("id").asString("");
        name = about.path("name").asString("");
        texts = Parts.split(ReadDocument.marked(soFar.pages()), Parts.room(turn));
        pictures = sees(turn) ? byFew(soFar.pages()) : List.of();
    }

    /** One that begins, with what was found by other means. */
    static ValueSearch begin(TransitionBuilder turn, Read verb, ReadSoFar soFar) {
        turn.remember(turn.memory().reading(soFar));
        return new ValueSearch(turn, verb, soFar);
    }

    /** One that goes on with an answer of the model's. */
    static ValueSearch goOn(TransitionBuilder turn, Read verb, JsonNode answer) {
        return begin(turn, verb, Objects.requireNonNull(turn.memory().reading()).and(answer));
    }

    /** Whether the agent's model looks at pictures. */
    static boolean sees(TransitionBuilder turn) {
        House.Model model =
                turn.edition().handbook().house().models().get(turn.agent().model());
        return model != null && model.sees();
    }

    /** The pages of which as much is kept as is searched; a picture is one page. */
    static List<Page> kept(ReadDocument read) {
        List<Page> pages = new ArrayList<>();
        int left = LONGEST_TEXT;
        for (Page page : read.pages().isEmpty() ? List.of(new Page(1, "")) : read.pages()) {
            String text = page.text().substring(0, Math.min(left, page.text().length()));
            left -= text.length();
            if (!text.isEmpty() || page.text().isBlank()) {
                pages.add(new Page(page.number(), text));
            }
        }
        return pages;
    }

    private List<List<Picture>> byFew(List<Page> pages) {
        List<Picture> blank = pages.stream()
                .filter(page -> page.text().isBlank())
                .map(page -> new Picture(id, page.number()))
                .toList();
        List<List<Picture>> few = new ArrayList<>();
        for (int from = 0; from < blank.size(); from += PICTURES_AT_ONCE) {
            few.add(blank.subList(from, Math.min(blank.size(), from + PICTURES_AT_ONCE)));
        }
        return few;
    }

    /** Whether something is still to be found, and somewhere to look for it. */
    boolean isUnfinished() {
        return soFar.answers().size() < texts.size() + pictures.size()
                && !lacking().isEmpty();
    }

    /** Asks about the next part, unless so many were asked about as anybody would pay for. */
    void ask(String prose) {
        int next = soFar.answers().size();
        if (next >= Parts.MOST) {
            turn.problem(
                    Problem.EXHAUSTED,
                    Parts.MOST + " parts of it don't tell ‘" + lacking().get(0).name() + "’, and there are more");
        } else if (ModelWork.mayAsk(turn)) {
            PromptLayout layout = PromptLayout.of(turn.edition().handbook().house(), turn.agent());
            ModelWork.ask(
                    turn,
                    next < texts.size()
                            ? layout.find(prose, lacking(), name, texts.get(next))
                            : layout.look(prose, lacking(), name, pictures.get(next - texts.size())));
        }
    }

    private List<WantedValue> lacking() {
        return wanted.stream().filter(value -> answer(value) < 0).toList();
    }

    /** The first answer that tells a value; -1 when none does. */
    private int answer(WantedValue value) {
        for (int i = 0; i < soFar.answers().size(); i++) {
            JsonNode said = soFar.answers().get(i).path(value.name()).path("value");
            if (!said.isNull() && !said.isMissingNode()) {
                return i;
            }
        }
        return -1;
    }

    /** What came of looking for a value. */
    Found found(WantedValue value) {
        int at = answer(value);
        JsonNode said =
                at < 0 ? MissingNode.getInstance() : soFar.answers().get(at).path(value.name());
        JsonNode about = soFar.value().value();
        Extraction extraction = new Extraction(
                id,
                name,
                new ReadDocument(ReadOutcome.TEXT, about.path("type").asString(""), "", soFar.pages(), List.of()));
        if (at < 0 && !about.path("whole").asBoolean(true)) {
            return new Doubtful("‘" + value.name() + "’ doesn't stand in the first " + LONGEST_TEXT
                    + " characters of it, and there are more");
        }
        return isSeen(at)
                ? extraction.seen(
                        value,
                        said,
                        pictures.get(at - texts.size()).stream()
                                .map(Picture::page)
                                .toList())
                : extraction.quoted(value, said);
    }

    /** Whose word a value is: what a model saw in a picture is its own as well. */
    Set<Origin> origins(WantedValue value) {
        return isSeen(answer(value)) ? Set.of(Origin.REQUESTER, Origin.MODEL) : Set.of(Origin.REQUESTER);
    }

    private boolean isSeen(int answer) {
        return answer >= texts.size();
    }
}

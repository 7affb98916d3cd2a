package servitor.core.run;

import java.util.ArrayList;
import java.util.List;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.House;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import servitor.core.json.Outside;
import servitor.core.prompt.PromptLayout;
import servitor.core.run.RunInput.ModelAnswered;
import servitor.core.run.StepProgress.Noted;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Facts that are longer than a model's window: their longest text is read in parts, of which the model notes what matters with its page, and
 * what was noted stands in its place.
 */
final class Parts {
    static final int MOST = 20;
    /** Characters of facts for each token of the window: three quarters of it, at four characters a token. */
    private static final int CHARACTERS = 3;

    private static final Pattern PAGE = Pattern.compile("(?m)^\\[page (\\d{1,5})]$");

    private final ObjectNode facts;
    private final List<String> path;
    private final List<String> texts;

    private Parts(ObjectNode facts, List<String> path, List<String> texts) {
        this.facts = facts;
        this.path = path;
        this.texts = texts;
    }

    /** The facts as a model can take them; null when its first part is asked about, or the way of a problem was taken. */
    static @Nullable ObjectNode fit(TransitionBuilder turn, ObjectNode facts) {
        Parts parts = of(turn, facts);
        if (parts.texts.size() < 2) {
            return facts;
        } else if (parts.texts.size() > MOST) {
            turn.problem(Problem.EXHAUSTED, "the text is longer than " + MOST + " parts of what the model can take");
            return null;
        }
        turn.remember(turn.memory().noted(new Noted(List.of())));
        parts.ask(turn, 0);
        return null;
    }

    /** Whether an answer is what was noted of a part. */
    static boolean isReading(TransitionBuilder turn) {
        return turn.memory().noted() != null;
    }

    /** Takes what was noted of a part; null when the next one is asked about, or the way of a problem was taken. */
    static @Nullable ObjectNode take(TransitionBuilder turn, ObjectNode facts, ModelAnswered answered) {
        turn.usage().countModel(answered.tokens(), answered.cost());
        List<JsonNode> noted = new ArrayList<>(
                java.util.Objects.requireNonNull(turn.memory().noted()).parts());
        noted.add(answered.answer().path("statements"));
        Parts parts = of(turn, facts);
        if (noted.size() < parts.texts.size()) {
            turn.remember(turn.memory().noted(new Noted(noted)));
            if (ModelWork.mayAsk(turn)) {
                parts.ask(turn, noted.size());
            }
            return null;
        }
        turn.remember(turn.memory().noted(null));
        return ModelWork.mayAsk(turn) ? parts.joined(noted) : null;
    }

    private void ask(TransitionBuilder turn, int number) {
        String text = texts.get(number);
        TreeSet<Integer> pages = new TreeSet<>();
        Matcher marks = PAGE.matcher(text);
        while (marks.find()) {
            pages.add(Integer.parseInt(marks.group(1)));
        }
        ModelWork.ask(
                turn,
                PromptLayout.of(turn.edition().handbook().house(), turn.agent())
                        .note(ModelWork.prose(turn), number + 1, texts.size(), text, List.copyOf(pages)));
    }

    private ObjectNode joined(List<JsonNode> noted) {
        ArrayNode all = Json.mapper().createArrayNode();
        noted.forEach(part -> part.forEach(all::add));
        ObjectNode joined = facts.deepCopy();
        JsonNode holder = joined;
        for (String field : path.subList(0, path.size() - 1)) {
            holder = holder.path(field);
        }
        ((ObjectNode) holder).set(path.get(path.size() - 1), all);
        return joined;
    }

    /** How many characters of facts the agent's model takes at once. */
    static int room(TransitionBuilder turn) {
        House.Model model =
                turn.edition().handbook().house().models().get(turn.agent().model());
        return CHARACTERS * (model == null ? House.Model.USUAL_WINDOW : model.window());
    }

    private static Parts of(TransitionBuilder turn, ObjectNode facts) {
        int room = room(turn);
        List<String> path = longest(facts);
        if (Outside.length(facts) <= room || path.isEmpty()) {
            return new Parts(facts, path, List.of());
        }
        JsonNode text = facts;
        for (String field : path) {
            text = text.path(field);
        }
        return new Parts(facts, path, split(text.asString(""), room));
    }

    /** The fields that lead to the longest text among the facts. */
    private static List<String> longest(JsonNode node) {
        List<String> best = List.of();
        int most = 0;
        for (String field : node.isObject() ? node.propertyNames() : List.<String>of()) {
            JsonNode inner = node.get(field);
            List<String> inside = inner.isObject() ? longest(inner) : List.of();
            JsonNode at = inner;
            for (String name : inside) {
                at = at.path(name);
            }
            if (at.isString() && at.stringValue().length() > most) {
                most = at.stringValue().length();
                best = new ArrayList<>(List.of(field));
                best.addAll(inside);
            }
        }
        return best;
    }

    /** Parts of at most so many characters, each line whole where it can be, and each with the mark of the page it begins on. */
    static List<String> split(String text, int room) {
        List<String> parts = new ArrayList<>();
        StringBuilder part = new StringBuilder();
        String page = "";
        boolean marked = true;
        for (String line : text.lines().toList()) {
            if (PAGE.matcher(line).matches()) {
                page = line + "\n";
                marked = false;
                continue;
            }
            for (String piece : pieces(line, Math.max(1, room - 20))) {
                String next = (marked ? "" : page) + piece + "\n";
                if (part.length() + next.length() > room && !part.isEmpty()) {
                    parts.add(part.toString());
                    part = new StringBuilder();
                    next = page + piece + "\n";
                }
                part.append(next);
                marked = true;
            }
        }
        if (!part.isEmpty()) {
            parts.add(part.toString());
        }
        return parts;
    }

    private static List<String> pieces(String line, int room) {
        List<String> pieces = new ArrayList<>();
        for (int from = 0; from < Math.max(1, line.length()); from += room) {
            pieces.add(line.substring(from, Math.min(line.length(), from + room)));
        }
        return pieces;
    }
}

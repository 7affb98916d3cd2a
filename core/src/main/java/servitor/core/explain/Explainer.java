package servitor.core.explain;

import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.StringJoiner;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Template;
import servitor.core.handbook.Agent;
import servitor.core.handbook.AnswerTime;
import servitor.core.handbook.Flow;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb;
import servitor.core.handbook.Verb.Approve;
import servitor.core.handbook.Verb.Assess;
import servitor.core.handbook.Verb.Await;
import servitor.core.handbook.Verb.Call;
import servitor.core.handbook.Verb.Decide;
import servitor.core.handbook.Verb.Draft;
import servitor.core.handbook.Verb.Each;
import servitor.core.handbook.Verb.Finish;
import servitor.core.handbook.Verb.Follow;
import servitor.core.handbook.Verb.HandOver;
import servitor.core.handbook.Verb.Plan;
import servitor.core.handbook.Verb.Pursue;
import servitor.core.handbook.Verb.Tell;
import servitor.core.handbook.VerbForm.Trait;

/** Says in plain words what a page does, one line for each verb, from the parsed page alone. */
public final class Explainer {
    private static final Map<Class<? extends Verb>, Sentence<?>> SENTENCES = new LinkedHashMap<>();

    /** What one verb does, as the rest of a sentence that begins with who does it. */
    private interface Sentence<V extends Verb> {
        String say(Explainer page, V verb);
    }

    static {
        sentence(Call.class, Explainer::call);
        sentence(
                Verb.Open.class,
                (page, verb) -> "opens another case for this one: ‘" + page.kind(verb.kind()) + "’" + kept(verb));
        sentence(
                Assess.class,
                (page, verb) -> "has a model judge: " + verb.answer().words() + kept(verb)
                        + (verb.unsureBelow() == null
                                ? ""
                                : "; an answer less than " + percent(verb.unsureBelow()) + " sure goes another way"));
        sentence(
                Decide.class,
                (page, verb) -> verb.table() == null
                        ? "decides by rule, without a model"
                        : "decides by a table of " + verb.table().lines().size()
                                + " lines, without a model: the worst of the rows counts" + kept(verb));
        sentence(Verb.Read.class, Explainer::read);
        sentence(
                Draft.class,
                (page, verb) -> "has a model write a text of at most " + verb.maxWords() + " words"
                        + (verb.languages().size() > 1
                                ? " in " + verb.languages().size() + " languages"
                                : "")
                        + (verb.cite() ? ", naming the facts it used" : "") + kept(verb));
        sentence(
                Pursue.class,
                (page, verb) -> "lets a model work toward the goal with "
                        + verb.tools().stream().map(Verb.Offer::tool).collect(Collectors.joining(", ")) + ", at most "
                        + verb.calls() + " calls"
                        + (verb.plan() == Plan.SHOW ? ", saying first what it means to do" : "")
                        + (verb.plan() == Plan.APPROVE
                                ? ", after people have approved its plan, and nothing beyond it"
                                : "")
                        + (verb.looksFreely() ? ", though it may look at what isn’t personal" : "")
                        + (verb.questions() == 0
                                ? ""
                                : ". It may ask " + (verb.of().isEmpty() ? "people of the desk" : page.who(verb.of()))
                                        + " up to " + verb.questions() + " times")
                        + kept(verb));
        sentence(
                Approve.class,
                (page, verb) -> "asks " + verb.quorum().words() + " " + page.who(verb.of()) + ": ‘"
                        + verb.question().text() + "’"
                        + (verb.edit() == null ? "" : ". They may change ‘" + verb.edit() + "’")
                        + (verb.rounds() == 0 ? "" : " or send it back up to " + verb.rounds() + " times")
                        + (verb.form() == null
                                ? ""
                                : ". They fill in " + verb.form().words())
                        + (verb.forStep() == null ? "" : ". It is about the call of ‘" + verb.forStep() + "’")
                        + answerTime(verb.time())
                        + (verb.validWhile() == null
                                ? ""
                                : ". It is withdrawn once this holds no more: "
                                        + verb.validWhile().text()));
        sentence(
                Tell.class,
                (page, verb) -> "tells " + page.told(verb)
                        + (verb.unreviewed() == null
                                ? ""
                                : " in words nobody reviewed, because: " + verb.unreviewed()));
        sentence(
                Verb.Set.class,
                (page, verb) -> "changes the case: " + verb.changes().text());
        sentence(
                Await.class,
                (page, verb) -> "waits for " + awaited(verb)
                        + (verb.within() == null ? "" : ", at most " + time(verb.within())));
        sentence(
                Each.class,
                (page, verb) -> "follows ‘" + page.title(verb.page()) + "’ for each of "
                        + verb.in().text()
                        + (verb.atOnce() > 1 ? ", " + verb.atOnce() + " at a time" : ", one after the other")
                        + "; trouble with one "
                        + switch (verb.onTrouble()) {
                            case STOP -> "ends it";
                            case SKIP -> "leaves the others going";
                            case HAND_OVER -> "leaves the others going, and then people take over";
                        });
        sentence(Follow.class, (page, verb) -> "follows ‘" + page.title(verb.page()) + "’" + kept(verb));
        sentence(
                HandOver.class,
                (page, verb) -> "gives the case to "
                        + (verb.to() == null ? "the people of the desk" : page.handbook.called(verb.to()))
                        + ", with what is known");
        sentence(
                Finish.class,
                (page, verb) -> "ends, and leaves the case " + verb.state().replace('-', ' '));
    }

    private final Handbook handbook;
    private final Runbook page;
    private final Flow flow;

    private Explainer(Handbook handbook, Runbook page) {
        this.handbook = handbook;
        this.page = page;
        this.flow = new Flow(page);
    }

    private static <V extends Verb> void sentence(Class<V> verb, Sentence<V> sentence) {
        SENTENCES.put(verb, sentence);
    }

    /** The verbs that can be explained. */
    public static java.util.Set<Class<? extends Verb>> explained() {
        return SENTENCES.keySet();
    }

    /** A page in plain words. */
    public static Explanation explain(Handbook handbook, Runbook page) {
        return new Explainer(handbook, page).all();
    }

    /** What one step does, in words that follow its title. */
    public static String step(Handbook handbook, Runbook page, Step step) {
        return new Explainer(handbook, page).words(step);
    }

    private Explanation all() {
        List<Explanation.Line> lines = new ArrayList<>();
        for (Step step : page.steps()) {
            lines.add(new Explanation.Line(
                    step.address(), step.title(), step.place().line(), words(step)));
        }
        return new Explanation(page.title(), paragraph(), lines);
    }

    private String paragraph() {
        StringBuilder text = new StringBuilder();
        Agent agent = handbook.agents().get(page.agent());
        String kinds = page.startsOn().stream().map(this::kind).collect(Collectors.joining("’ or ‘"));
        page.changes()
                .forEach(change -> text.append("This page starts when a case ‘")
                        .append(kind(change.kind()))
                        .append("’ ")
                        .append(change.words())
                        .append(
                                change.when() == null
                                        ? ". "
                                        : ", if " + change.when().text() + ". "));
        text.append(
                kinds.isEmpty() && !page.changes().isEmpty()
                        ? ""
                        : kinds.isEmpty()
                                ? "This page starts when another follows it, or by hand. "
                                : "This page starts when a case ‘" + kinds + "’ is opened. ");
        text.append(agent == null ? page.agent() : agent.title())
                .append(" works it for the desk ‘")
                .append(page.desk())
                .append("’, on ")
                .append(page.steps().size())
                .append(page.steps().size() == 1 ? " step. " : " steps. ");
        count(text, "People are asked at", step -> step.verb().waitsForPeople());
        count(text, "A model judges or writes at", step -> step.is(Trait.THINKS));
        count(
                text,
                "Something outside is changed at",
                step -> Flow.acts(step, handbook.tools()) && !(step.verb() instanceof Tell));
        count(
                text,
                "The requester is told something at",
                step -> step.verb() instanceof Tell tell && tell.toRequester());
        count(
                text,
                "People of the house are told something at",
                step -> step.verb() instanceof Tell tell && !tell.toRequester());
        text.append("It uses at most ")
                .append(page.limits().calls())
                .append(" calls and ")
                .append(page.limits().modelTokens())
                .append(" model tokens")
                .append(
                        page.limits().time() == null
                                ? ""
                                : " within " + time(page.limits().time()))
                .append(". Trouble that no step has a way for ")
                .append(
                        page.onTrouble().equals(Step.HAND_OVER)
                                ? "is handed over to people."
                                : "leads to ‘" + page.onTrouble() + "’.");
        return text.toString();
    }

    private String told(Tell verb) {
        String whom = verb.toRequester() ? "the requester" : who(List.of(verb.to()));
        return whom
                + switch (verb.by()) {
                    case MAIL -> ", by mail";
                    case CHAT -> ", by chat";
                    case SAME_WAY -> ", the way the case came in";
                    default -> ", by a note on the case";
                };
    }

    private void count(StringBuilder text, String words, java.util.function.Predicate<Step> which) {
        List<String> titles = page.steps().stream()
                .filter(which)
                .map(step -> "‘" + step.title() + "’")
                .toList();
        if (!titles.isEmpty()) {
            text.append(words).append(' ').append(joined(titles)).append(". ");
        }
    }

    private static String joined(List<String> words) {
        return words.size() < 2
                ? String.join("", words)
                : String.join(", ", words.subList(0, words.size() - 1)) + " and " + words.get(words.size() - 1);
    }

    private String words(Step step) {
        String what = say(Objects.requireNonNull(SENTENCES.get(step.verb().getClass())), step.verb());
        StringBuilder words = new StringBuilder(Character.toUpperCase(what.charAt(0)) + what.substring(1) + ".");
        StringJoiner ways = new StringJoiner("; ");
        for (Flow.Way way : flow.waysOut(step)) {
            String to = way.to().isEmpty() ? "nowhere" : to(way.to());
            if (!way.on().isEmpty()) {
                ways.add((step.verb() instanceof Decide
                                        && !way.problem()
                                        && !way.on().equals("otherwise")
                                ? "if "
                                : "") + way.on().replace('-', ' ') + ": " + to);
            } else if (step.go() != null) {
                ways.add("then " + to);
            }
        }
        if (step.atMost() != null) {
            ways.add("at most " + step.atMost() + " times");
        }
        String all = ways.toString();
        return all.isEmpty()
                ? words.toString()
                : words + " " + Character.toUpperCase(all.charAt(0)) + all.substring(1) + ".";
    }

    private String to(String address) {
        return address.equals(Step.HAND_OVER)
                ? "to people"
                : address.equals(Step.STOP)
                        ? "stop"
                        : "‘" + page.step(address).map(Step::title).orElse(address) + "’";
    }

    @SuppressWarnings("unchecked") // the table pairs each sentence with its own verb
    private <V extends Verb> String say(Sentence<V> sentence, Verb verb) {
        return sentence.say(this, (V) verb);
    }

    private static String call(Explainer page, Call verb) {
        Tool tool = page.handbook.tools().get(verb.tool());
        String what = tool == null
                ? "calls"
                : switch (tool.effect()) {
                    case READ -> "looks something up with";
                    case WRITE -> "changes something outside with";
                    case ONCE -> "does something outside that can't be repeated, with";
                };
        return what + " " + verb.tool() + kept(verb)
                + (tool != null && tool.effect().acts()
                        ? ", as far as the mandate of " + page.page.agent() + " allows"
                        : "");
    }

    private static String kept(Verb verb) {
        return verb.save() == null ? "" : ", kept as ‘" + verb.save() + "’";
    }

    private String who(List<Template> of) {
        return of.stream().map(one -> handbook.called(one.text())).collect(Collectors.joining(", "));
    }

    private static String percent(double share) {
        return Math.round(share * 100) + " %";
    }

    private static String read(Explainer page, Verb.Read verb) {
        List<String> found = new ArrayList<>();
        verb.tables().forEach(table -> found.add("the table ‘" + table.name() + "’"));
        verb.values()
                .forEach(value -> found.add("‘" + value.name() + "’" + (value.isLabelled() ? "" : " (by a model)")));
        return "reads "
                + (verb.document().equals(Verb.Read.ANY) ? "a document" : "the document ‘" + verb.document() + "’")
                + (found.isEmpty() ? "" : ": " + joined(found)) + kept(verb);
    }

    private static String awaited(Await verb) {
        return switch (verb.what()) {
            case REPLY -> "a reply of the requester";
            case DOCUMENT -> verb.named().isEmpty() ? "a document" : "a document named like ‘" + verb.named() + "’";
            case EVENT -> "the event ‘" + verb.named() + "’";
            case CASE -> "the case ‘" + verb.named() + "’ to be done with";
            case TIME -> verb.until() == null ? "some time" : verb.until().text();
        };
    }

    private String kind(String name) {
        return handbook.kinds().containsKey(name) ? handbook.kinds().get(name).title() : name;
    }

    private String title(String name) {
        Runbook followed = handbook.runbooks().get(name);
        return followed == null ? name : followed.title();
    }

    /** A length of time in words, such as {@code 2 days}. */
    private static String answerTime(AnswerTime time) {
        return time.until() != null
                ? ". They have until " + time.until().text()
                : time.within() == null
                        ? ""
                        : ". They have " + time(time.within()) + (time.working() ? " of the desk's work" : "");
    }

    static String time(@Nullable Duration time) {
        if (time == null) {
            return "";
        }
        List<String> parts = new ArrayList<>();
        part(parts, time.toDays(), "day");
        part(parts, time.toHoursPart(), "hour");
        part(parts, time.toMinutesPart(), "minute");
        part(parts, time.toSecondsPart(), "second");
        return parts.isEmpty() ? "no time" : joined(parts);
    }

    private static void part(List<String> parts, long count, String unit) {
        if (count > 0) {
            parts.add(count + " " + unit + (count == 1 ? "" : "s"));
        }
    }
}

package servitor.core.handbook;

import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import servitor.core.document.FileType;
import servitor.core.document.ReadOutcome;
import servitor.core.document.WantedTable;
import servitor.core.document.WantedValue;
import servitor.core.expression.Expression;
import servitor.core.expression.Template;
import servitor.core.handbook.VerbForm.Trait;
import servitor.core.shape.Answers;
import servitor.core.shape.Shape;

/**
 * What a step does: exactly one of these. Whatever checking, drawing, explaining and running have to know of a verb is said
 * here, with its record, or in its {@link VerbForm}.
 */
public sealed interface Verb {

    /** How the verb is written, and what is true of every step with it. */
    VerbForm declared();

    /** The name the step saves its result under; null when it saves nothing. */
    default @Nullable String save() {
        return null;
    }

    /**
     * The ways on, problems aside.
     *
     * @param next where the step's plain {@code go}, or the next heading, leads
     */
    default List<Exit> exits(String next) {
        return declared().is(Trait.ENDS) ? List.of() : List.of(new Exit("", next, true));
    }

    /** What the value saved on the way {@code on} looks like. */
    default Shape result(String on, Known known) {
        return Shape.ANYTHING;
    }

    /** The problems it can meet beside those that every step can. */
    default List<String> problems() {
        return List.of();
    }

    /** The tools it may call, with the inputs that are given here. */
    default List<Offer> tools() {
        return List.of();
    }

    /** The page it follows. */
    default Optional<Followed> followed() {
        return Optional.empty();
    }

    /** Whether people are asked or waited for. */
    default boolean waitsForPeople() {
        return false;
    }

    /** What people outside come to read, by its key in the block; words somebody answers for aren't among it. */
    default Map<String, Template> spoken() {
        return Map.of();
    }

    /** The saved names that people have read once the step is left on the way {@code on}. */
    default List<String> reviewed(String on) {
        return List.of();
    }

    /**
     * A way on.
     *
     * @param on the answer it is taken on; empty for the plain way
     * @param to where it leads
     * @param saves whether what the step saves is there on it
     */
    record Exit(String on, String to, boolean saves) {
        /** The given ways, and the plain one when the main answer has none of its own. */
        private static List<Exit> answers(
                Map<String, String> ways, String main, String next, List<String> saveNothing) {
            List<Exit> exits = new ArrayList<>();
            if (!ways.containsKey(main)) {
                exits.add(new Exit(main, next, true));
            }
            ways.forEach((on, to) -> exits.add(new Exit(on, to, !saveNothing.contains(on))));
            return List.copyOf(exits);
        }
    }

    /** A page that is followed, with what it is given. */
    record Followed(String page, Template with) {}

    /** What a verb's result is made of, where its step stands. */
    interface Known {
        /** What {@code tool} answers. */
        Shape answerOf(String tool);

        /** What {@code page} gives back. */
        Shape givenBy(String page);

        /** What is read of messages to {@code intake}. */
        Shape messageTo(String intake);

        /** What the page gives that starts on the case which a step has saved as {@code opened}. */
        Shape givenByCase(String opened);

        /** What {@code template} is filled to. */
        Shape of(Template template);
    }

    /**
     * Another case is opened for this one.
     *
     * @param inputs of {@link Opening#OPEN}, the kind among them
     */
    record Open(String kind, Template inputs, @Nullable String save) implements Verb {
        @Override
        public VerbForm declared() {
            return VerbForm.OPEN;
        }

        /** The kind is known, so that {@link Await} knows what it gives in the end. */
        @Override
        public Shape result(String on, Known known) {
            return Shape.Fields.of(Map.of("id", Shape.TEXT, Opening.KIND, new Shape.OneOf(List.of(kind))));
        }

        @Override
        public List<Offer> tools() {
            return List.of(new Offer(Opening.OPEN, inputs));
        }
    }

    /** One tool with the inputs given here. */
    record Call(String tool, Template inputs, @Nullable String save) implements Verb {
        @Override
        public VerbForm declared() {
            return VerbForm.CALL;
        }

        @Override
        public Shape result(String on, Known known) {
            return known.answerOf(tool);
        }

        @Override
        public List<Offer> tools() {
            return List.of(new Offer(tool, inputs));
        }
    }

    /**
     * A model answers the question in the step's prose.
     *
     * @param answer what the answer looks like
     * @param about what the model sees; null for the case and everything saved
     * @param remember how many turns of the conversation with the requester the model sees word for word; 0 for none of it
     * @param unsureBelow below this sureness (0 to 1) the way {@code unsure} is taken; null for never
     * @param ways where to go: {@code sure}, {@code unsure}
     */
    record Assess(
            Shape answer,
            @Nullable Template about,
            @Nullable Double unsureBelow,
            int remember,
            String save,
            Map<String, String> ways)
            implements Verb {
        /** The model is sure enough. */
        public static final String SURE = "sure";

        /** It isn't. */
        public static final String UNSURE = "unsure";

        /** The problem that what it is told is too little to answer: it says that it isn't sure at all. */
        public static final String TOO_LITTLE = "too-little";

        @Override
        public List<String> problems() {
            return List.of(TOO_LITTLE);
        }

        @Override
        public VerbForm declared() {
            return VerbForm.ASSESS;
        }

        @Override
        public Shape result(String on, Known known) {
            return Answers.shape(answer);
        }

        @Override
        public List<Exit> exits(String next) {
            return ways.isEmpty() ? Verb.super.exits(next) : Exit.answers(ways, SURE, next, List.of());
        }
    }

    /**
     * A rule decides: ordered conditions, the first of which that holds gives the way on, or a table.
     *
     * @param branches the conditions; empty where there is a table
     * @param table null where there are conditions
     */
    record Decide(
            List<Branch> branches,
            @Nullable DecisionTable table,
            String otherwise,
            @Nullable String save) implements Verb {
        @Override
        public VerbForm declared() {
            return VerbForm.DECIDE;
        }

        @Override
        public List<Exit> exits(String next) {
            Stream<Exit> ways = table == null
                    ? branches.stream().map(branch -> new Exit(branch.when().text(), branch.go(), true))
                    : table.lines().stream().map(line -> new Exit(line.words(), line.go(), true));
            return Stream.concat(ways, Stream.of(new Exit("otherwise", otherwise, true)))
                    .toList();
        }

        /** The row that decided, the line it met, and both in words. */
        @Override
        public Shape result(String on, Known known) {
            return Shape.Fields.of(Map.of("line", Shape.WHOLE, "because", Shape.TEXT, "says", Shape.TEXT))
                    .with("row", table == null ? Shape.ANYTHING : DecisionTable.row(known.of(table.of())));
        }
    }

    record Branch(Expression when, String go) {}

    /**
     * A model writes text by the step's prose.
     *
     * @param about what the model sees; null for everything saved
     * @param languages one gives a text, several give a map of texts by language
     * @param remember how many turns of the conversation with the requester the model sees word for word; 0 for none of it
     * @param cite whether the model must name which of the facts it used
     */
    record Draft(
            @Nullable Template about,
            List<Template> languages,
            int maxWords,
            String tone,
            boolean cite,
            int remember,
            String save)
            implements Verb {
        @Override
        public List<String> problems() {
            return List.of(Assess.TOO_LITTLE);
        }

        @Override
        public VerbForm declared() {
            return VerbForm.DRAFT;
        }

        /** One text, or a text for each language; a language that is only known at run time is a name nobody can check. */
        @Override
        public Shape result(String on, Known known) {
            if (languages.size() == 1) {
                return Shape.TEXT;
            }
            Map<String, Shape> texts = new LinkedHashMap<>();
            for (Template language : languages) {
                if (language.asConstant().isEmpty()) {
                    return Shape.ANYTHING;
                }
                texts.put(language.asConstant().get().asString(""), Shape.TEXT);
            }
            return Shape.Fields.of(texts);
        }
    }

    /**
     * A model works toward the goal in the step's prose with tools.
     *
     * @param tools what it may call, with the inputs that are fixed here
     * @param plan whether it says beforehand what it means to do, and whether people approve that
     * @param looksFreely whether it may look at what isn't personal beyond its plan
     * @param of who approves the plan and answers what the model asks
     * @param confirm those of the tools of which people say yes to each call, whatever the mandate allows
     * @param questions how often it may ask people, in words or with candidates to choose from
     * @param calls how many calls it may make
     * @param tokens how many model tokens it may use
     */
    record Pursue(
            List<Offer> tools,
            Shape answer,
            Plan plan,
            boolean looksFreely,
            List<Template> of,
            List<String> confirm,
            int questions,
            int calls,
            int tokens,
            String save)
            implements Verb {
        /** The field of the answer that says whether what was to be done is done. */
        public static final String DONE = "done";

        public Pursue {
            confirm = List.copyOf(confirm);
        }

        @Override
        public VerbForm declared() {
            return VerbForm.PURSUE;
        }

        /** What the model answers in the end: what the page wants, and whether it is {@link #DONE}. */
        public Shape.Fields ends() {
            return answer instanceof Shape.Fields fields && fields.fields().containsKey(DONE)
                    ? fields
                    : Answers.own(answer).with(DONE, Shape.YES_NO);
        }

        @Override
        public Shape result(String on, Known known) {
            return Answers.shape(ends());
        }

        @Override
        public boolean waitsForPeople() {
            return plan == Plan.APPROVE || !confirm.isEmpty() || questions > 0;
        }
    }

    /**
     * What stands in a document is read: tables by their columns, values by their labels or by a model.
     *
     * @param document {@link #ANY}, or the name of one that the kind declares
     * @param named words that the document's name must hold; empty for any
     * @param types what it must be, in words of {@link FileType} or as media types; empty for anything
     */
    record Read(
            String document,
            Template named,
            List<String> types,
            List<WantedTable> tables,
            List<WantedValue> values,
            String save)
            implements Verb {
        /** Whichever is the newest. */
        public static final String ANY = "document";

        /** What the saved value has beside its tables and values. */
        public static final String PLACES = "places";

        public Read {
            types = List.copyOf(types);
            tables = List.copyOf(tables);
            values = List.copyOf(values);
        }

        @Override
        public VerbForm declared() {
            return VerbForm.READ;
        }

        @Override
        public List<String> problems() {
            return Stream.concat(
                            Stream.of(ReadOutcome.values())
                                    .filter(outcome -> outcome != ReadOutcome.TEXT)
                                    .map(ReadOutcome::word),
                            Stream.of(DOUBTFUL))
                    .toList();
        }

        /** The problem that nobody should decide without looking. */
        public static final String DOUBTFUL = "doubtful";

        /** Whether a model is asked for some of the values. */
        public boolean asksModel() {
            return values.stream().anyMatch(value -> !value.isLabelled());
        }

        @Override
        public Shape result(String on, Known known) {
            Map<String, Shape.Field> fields = new LinkedHashMap<>(Awaited.DOCUMENT_SHAPE.fields());
            Map<String, Shape> places = new LinkedHashMap<>();
            tables.forEach(table -> fields.put(table.name(), new Shape.Field(table.shape(), true)));
            values.forEach(value -> fields.put(value.name(), new Shape.Field(value.shape(), !value.mayBeMissing())));
            values.forEach(value -> places.put(value.name(), Shape.TEXT));
            fields.put(PLACES, new Shape.Field(Shape.Fields.of(places), true));
            return new Shape.Fields(fields);
        }
    }

    /** A tool a model may call, and the inputs it can't choose. */
    record Offer(String tool, Template fixed) {}

    /** How a plan is treated. */
    enum Plan {
        NONE,
        SHOW,
        APPROVE
    }

    /**
     * People are asked.
     *
     * @param of who may answer: names of groups or desks, or expressions that give a person
     * @param quorum how many have to approve
     * @param not who may not answer
     * @param edit the saved text they may change; null when nothing can be edited
     * @param form what they fill in; null for nothing
     * @param choices per field of the form, the values to choose among: texts, or maps of {@code value} and {@code title}
     * @param forStep the step whose call this asks about; null when it isn't about one
     * @param show further saved names the sheet shows
     * @param rounds how many times they may send a draft back with feedback
     * @param time how long they have
     * @param remind shares of that time (0 to 1) after which they are reminded
     * @param validWhile what has to hold for it to be asked at all; null for nothing
     * @param lapsesWhenNobody whether it goes the way {@code expired} at once when nobody can answer
     * @param ways where each answer leads: {@code approved declined expired exhausted withdrawn}
     */
    record Approve(
            Template question,
            List<Template> of,
            Quorum quorum,
            List<Template> not,
            @Nullable String edit,
            Shape.@Nullable Fields form,
            Template choices,
            @Nullable String forStep,
            List<String> show,
            int rounds,
            AnswerTime time,
            List<Double> remind,
            @Nullable Expression validWhile,
            boolean lapsesWhenNobody,
            @Nullable String save,
            Map<String, String> ways)
            implements Verb {
        @Override
        public VerbForm declared() {
            return VerbForm.APPROVE;
        }

        /** The answer that leads on. */
        public static final String APPROVED = "approved";

        /** The answer of people that don't want it. */
        public static final String DECLINED = "declined";

        /** Nobody answered in time. */
        public static final String EXPIRED = "expired";

        /** It was sent back once too often. */
        public static final String EXHAUSTED = "exhausted";

        /** What had to hold for it to be asked holds no more. */
        public static final String WITHDRAWN = "withdrawn";

        /** In what is saved: the text as it was shown, as it was accepted, and whether these differ. */
        public static final String DRAFTED = "drafted";

        public static final String RELEASED = "released";
        public static final String CHANGED = "changed";

        /** The answers there can be. */
        public static final List<String> ANSWERS = List.of(APPROVED, DECLINED, EXPIRED, EXHAUSTED, WITHDRAWN);

        @Override
        public List<Exit> exits(String next) {
            return Exit.answers(ways, APPROVED, next, List.of());
        }

        @Override
        public Shape result(String on, Known known) {
            Shape.Fields answer =
                    Shape.Fields.of(Map.of("answer", new Shape.OneOf(ANSWERS), "reason", Shape.TEXT, "by", Shape.TEXT));
            if (on.equals(APPROVED) && edit != null) {
                answer = answer.and(
                        Shape.Fields.of(Map.of(DRAFTED, Shape.TEXT, RELEASED, Shape.TEXT, CHANGED, Shape.YES_NO)));
            }
            return on.equals(APPROVED) && form != null ? answer.and(form) : answer;
        }

        @Override
        public boolean waitsForPeople() {
            return true;
        }

        @Override
        public Map<String, Template> spoken() {
            Map<String, Template> asked = new LinkedHashMap<>();
            for (int i = 0; i < of.size(); i++) {
                asked.put("of." + i, of.get(i));
            }
            return asked;
        }

        @Override
        public List<String> reviewed(String on) {
            return on.equals(APPROVED)
                    ? Stream.concat(show.stream(), Stream.ofNullable(edit)).toList()
                    : List.of();
        }
    }

    /**
     * Sends text through the gate.
     *
     * @param to {@link Telling#REQUESTER}, a desk, a group, {@code person:ID}, or an expression that gives a person
     * @param by the channel
     * @param unreviewed why no person needs to have seen the text; null when one must
     */
    record Tell(
            Template to,
            Channel by,
            Template text,
            @Nullable String unreviewed) implements Verb {
        @Override
        public VerbForm declared() {
            return VerbForm.TELL;
        }

        @Override
        public Map<String, Template> spoken() {
            return unreviewed == null ? Map.of("text", text) : Map.of();
        }

        /** Whether it is for whoever the case is for. */
        public boolean toRequester() {
            return to.asConstant()
                    .filter(one -> one.asString("").equals(Telling.REQUESTER))
                    .isPresent();
        }
    }

    /** Changes the case: {@code state}, {@code priority}, {@code labels}, {@code fields}, {@code relations}. */
    record Set(Template changes) implements Verb {
        @Override
        public VerbForm declared() {
            return VerbForm.SET;
        }

        @Override
        public Map<String, Template> spoken() {
            Map<String, Template> spoken = new LinkedHashMap<>();
            Template fields = changes.field("fields");
            fields.fieldNames().forEach(field -> spoken.put("set.fields." + field, fields.field(field)));
            List.of("labels", "state").forEach(part -> spoken.put("set." + part, changes.field(part)));
            return spoken;
        }
    }

    /**
     * Waits.
     *
     * @param named which event, a word the document's name must hold, or the name a case was saved under that a step has opened;
     *     empty for any
     * @param types for a document: what it must be, in words of {@link FileType} or as media types; empty for anything
     * @param until for a time: when; null when {@code within} says how long
     * @param within how long at most; null for no limit
     * @param ways where to go: {@code arrived}, {@code expired}
     */
    record Await(
            Awaited what,
            String named,
            List<String> types,
            @Nullable Template until,
            @Nullable Duration within,
            @Nullable String save,
            Map<String, String> ways)
            implements Verb {
        @Override
        public VerbForm declared() {
            return VerbForm.AWAIT;
        }

        /** It came. */
        public static final String ARRIVED = "arrived";

        /** It didn't come in time. */
        public static final String EXPIRED = "expired";

        /** The answers there can be. */
        public static final List<String> ANSWERS = List.of(ARRIVED, EXPIRED);

        @Override
        public List<Exit> exits(String next) {
            return ways.isEmpty() ? Verb.super.exits(next) : Exit.answers(ways, ARRIVED, next, List.of(EXPIRED));
        }

        @Override
        public Shape result(String on, Known known) {
            return switch (what) {
                case EVENT -> Awaited.event(known.messageTo(named));
                case CASE -> Awaited.settled(known.givenByCase(named));
                default -> what.arrived;
            };
        }

        @Override
        public boolean waitsForPeople() {
            return what == Awaited.REPLY || what == Awaited.DOCUMENT;
        }
    }

    /** What can be waited for. */
    enum Awaited {
        REPLY(Shape.Fields.of(Map.of("text", Shape.TEXT, "by", Shape.TEXT, "at", Shape.TEXT))),
        DOCUMENT(inCase()),
        EVENT(event(Shape.ANYTHING)),
        CASE(settled(Shape.ANYTHING)),
        TIME(Shape.Fields.of(Map.of("at", Shape.TEXT)));

        /** A document as pages see it. */
        public static final Shape.Fields DOCUMENT_SHAPE = document();

        /**
         * A document as pages see it in the case: with its tables as they stand in the file. A doubtful one has no rows, so that nothing is
         * decided on it.
         */
        public static final Shape.Fields IN_CASE = inCase();

        private static Shape.Fields inCase() {
            Shape table = new Shape.Fields(Map.of(
                    "name", new Shape.Field(Shape.TEXT, true),
                    "doubts", new Shape.Field(new Shape.ListOf(Shape.TEXT), true),
                    "rows", new Shape.Field(new Shape.ListOf(new Shape.ListOf(Shape.ANYTHING)), false)));
            Map<String, Shape.Field> fields = new LinkedHashMap<>(document().fields());
            fields.put(
                    "tables", new Shape.Field(new Shape.ListOf(table), false)); // nobody knows them of what isn't read
            return new Shape.Fields(fields);
        }

        private final Shape arrived;

        private static Shape.Fields document() {
            return Shape.Fields.of(Map.of(
                            "id", Shape.TEXT,
                            "name", Shape.TEXT,
                            "type", Shape.TEXT,
                            "size", Shape.WHOLE,
                            "text", Shape.TEXT,
                            "pages", Shape.WHOLE))
                    .with("whole", Shape.YES_NO)
                    .with(
                            "outcome",
                            new Shape.OneOf(Stream.of(ReadOutcome.values())
                                    .map(ReadOutcome::word)
                                    .toList()));
        }

        /** An event, which says {@code data}. */
        private static Shape event(Shape data) {
            return Shape.Fields.of(Map.of("name", Shape.TEXT, "at", Shape.TEXT, "data", data));
        }

        /** A case that is done with, and what its page gave. */
        private static Shape settled(Shape gave) {
            return Shape.Fields.of(Map.of("id", Shape.TEXT, "state", new Shape.OneOf(CaseState.DONE), "gave", gave));
        }

        /** {@code arrived}: what is saved once it has come. */
        Awaited(Shape arrived) {
            this.arrived = arrived;
        }

        public String word() {
            return Words.of(this);
        }
    }

    /**
     * Follows another page for every item of a list.
     *
     * @param as the name of the item that {@code with} can read
     * @param atOnce how many run at the same time
     * @param onTrouble what an item that ends in trouble does to the others
     */
    record Each(
            Template in,
            String as,
            String page,
            Template with,
            int atOnce,
            OnTrouble onTrouble,
            @Nullable String save) implements Verb {
        @Override
        public VerbForm declared() {
            return VerbForm.EACH;
        }

        /** A list of what became of each item. */
        @Override
        public Shape result(String on, Known known) {
            Shape item = known.of(in) instanceof Shape.ListOf list ? list.item() : Shape.ANYTHING;
            return new Shape.ListOf(Shape.Fields.of(Map.of("outcome", Shape.TEXT))
                    .with("item", item)
                    .with("gives", known.givenBy(page)));
        }

        @Override
        public Optional<Followed> followed() {
            return Optional.of(new Followed(page, with));
        }
    }

    /** What an item in trouble does: to the items after it, or to the whole step once all have ended. */
    enum OnTrouble {
        /** No further items are started; the step meets the problem {@code trouble}. */
        STOP,
        /** The others go on, and so does the page. */
        SKIP,
        /** The others go on; then people take the case over. */
        HAND_OVER
    }

    /** Another page, with inputs. That page's own agent and mandate apply. */
    record Follow(String page, Template with, @Nullable String save) implements Verb {
        @Override
        public VerbForm declared() {
            return VerbForm.FOLLOW;
        }

        @Override
        public Shape result(String on, Known known) {
            return known.givenBy(page);
        }

        @Override
        public Optional<Followed> followed() {
            return Optional.of(new Followed(page, with));
        }
    }

    /** Gives the case to people. */
    record HandOver(@Nullable String to, Template why) implements Verb {
        @Override
        public VerbForm declared() {
            return VerbForm.HAND_OVER;
        }

        @Override
        public boolean waitsForPeople() {
            return true;
        }
    }

    /** Ends the run and leaves the case in {@code state}. */
    record Finish(String state, @Nullable Template summary) implements Verb {
        @Override
        public VerbForm declared() {
            return VerbForm.FINISH;
        }
    }
}

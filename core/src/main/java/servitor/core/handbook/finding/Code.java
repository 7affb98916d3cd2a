package servitor.core.handbook.finding;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** The kinds of findings. Their words are stable: programs and people refer to them. */
public enum Code {
    // files and their form
    FILE_NAME("A file's name is what it is called by, so it must be a plain word."),
    UNKNOWN_FILE("A file in the folder that nothing reads."),
    MISSING_FILE("A file that the handbook needs isn't there."),
    TOO_LONG("A file or page that is too long, or nested too deeply, to be read by anybody."),
    NOT_TEXT("A file that isn't text."),
    YAML("Something isn't valid YAML."),
    QUOTE("A condition that YAML reads as something else; quotes keep it."),
    DUPLICATE_KEY("A key that stands twice, so that one of the values would be lost."),
    UNKNOWN_KEY("A key that can't stand here, most often a misspelling."),
    MISSING_KEY("A key that must be there."),
    TYPE("A value of the wrong type for its key."),
    NOT_SUPPORTED("A description says something that isn't supported: the tool can't be called, or does without it."),
    SECRET("A password or key in the clear. Handbooks are read by many; secrets belong to connections."),
    // single values
    TIME_ZONE("A time zone nobody knows."),
    DURATION("A length of time that can't be read."),
    HOURS("When a desk works, said so that it can't be read; or time counted in hours that nobody has said."),
    PATTERN("A pattern that isn't a regular expression."),
    UNKNOWN_TYPE("A type that fields don't have."),
    SHAPE("An answer, form or input whose shape can't be read."),
    SCHEMA("A schema in a tool's description that isn't JSON Schema."),
    WORKS("A way of working that agents don't have."),
    EFFECT("An effect that tools don't have."),
    STATUS("A status that isn't an error of HTTP."),
    VERDICT("A verdict that isn't allow, ask or deny."),
    FILES("Files that can't be attached so."),
    STATE("A state that a case can't be left in."),
    INTAKE("A way of coming in that messages don't have."),
    SETTLE_WITH("A lookup that couldn't say whether a call in doubt happened."),
    JOB("A look at work under way that couldn't tell how far it is."),
    BINDING("A tool that nothing carries out, or that is bound twice."),
    EXAMPLE("An example whose inputs don't fit the tool."),
    SAYS("A headline that a tool's inputs can't be told with."),
    NO_HEADLINE("A tool that changes something and doesn't say in a line what it does."),
    VAGUE_TOOL("A tool that models and people will mistake for another, or use for the wrong thing."),
    FORMAT("An input that says whose record is meant, without the format by which it would be known again."),
    LIMITS("A limit of a grant that can't be read."),
    // names
    UNKNOWN_DESK("A desk that isn't declared in desks.yaml."),
    NO_OWNER("Tools that belong to no desk, so that nobody in particular agrees to who is granted them."),
    UNKNOWN_GROUP("A group that isn't declared in desks.yaml."),
    UNKNOWN_ROOM("A room that isn't declared in desks.yaml."),
    NO_MAIL("Something that goes by mail, a form for everybody or a question to approvers, at a desk that sends none."),
    ADDRESS("What mails can't be from."),
    UNKNOWN_MODEL("A model that isn't declared in handbook.yaml."),
    PRICE("A limit on what models cost, and a model without a price."),
    MODEL_CANT("A model that can't do what the step needs of it."),
    UNKNOWN_AGENT("An agent without a file in agents/."),
    UNKNOWN_KIND("A kind of case without a file in kinds/."),
    UNKNOWN_DOCUMENT("A document that the page's kinds don't declare."),
    UNKNOWN_TOOL("A tool that no file in tools/ declares."),
    UNKNOWN_OPERATION("An operation that the tool's description doesn't have."),
    UNKNOWN_INPUT("An input that the tool or page doesn't take."),
    UNKNOWN_PAGE("A page without a file in runbooks/."),
    UNKNOWN_STEP("A way to a step that the page doesn't have."),
    UNKNOWN_PROBLEM("A problem that the step can't meet."),
    UNKNOWN_NAME("A name that nothing saves and that isn't given."),
    UNKNOWN_FIELD("A field that the value doesn't have."),
    MISSING_FIELD("A field that a kind of case needs and an intake doesn't fill."),
    UNKNOWN_OPTION("A word that the value can never be."),
    DUPLICATE_GRANT("Two grants of one name, which verdicts and counters go by."),
    STARTED_TWICE("Two pages that start on the same kind of case."),
    // pages
    FRONT_MATTER("A page's front matter is missing or never closed."),
    START("Something that a page can't start on."),
    NO_STEPS("A page without steps."),
    STEP_NAME("A heading that can't be an address, or that another step has."),
    STEP_BLOCK("A step without its block, or with more than one."),
    VERB("A block without a verb, or with several."),
    SAVE_NAME("A name that can't be saved under."),
    WAY("A way for an answer that can't come."),
    MISSING_GO("An answer without a way on."),
    MISSING_OTHERWISE("A decide that says nothing for when no condition holds."),
    DECISION("A decision table with a line that can't be read, or that no row can ever meet."),
    UNREACHABLE("A step that no way leads to."),
    MISSING_FINISH("A way on which the page ends without finishing."),
    UNBOUNDED_LOOP("A loop that nothing ends."),
    ONCE_IN_LOOP("A call that must not be repeated, in a loop."),
    OPENS_IN_CIRCLE("Cases that would open each other without an end."),
    FOLLOWS_ITSELF("Pages that follow each other round in a circle."),
    // what steps say
    DRAFT("Something that can't be drafted."),
    TELL("Somebody who can't be told, or a channel that isn't there."),
    AWAIT("Something that can't be waited for, or a wait that nothing describes."),
    QUORUM("A number of approvals that can't be read."),
    FEEDBACK("Feedback that no draft could take up, or an acting step between draft and approval."),
    FOR_STEP("An approval for a step that makes no call."),
    PLAN("A plan that is neither none, show nor approve."),
    SURE("A sureness that isn't between 0 and 1, or one without its way."),
    MISSING_PROSE("A step of a model without an instruction."),
    THIN_BRIEF("A step of a model with neither rule nor example in its prose or brief."),
    MISSING_INPUT("An input that the tool or page needs."),
    INPUT_VALUE("An input of the wrong type, or out of its bounds."),
    GIVES("A page that gives something it may not have."),
    // expressions
    EXPRESSION("An expression that can't be read."),
    TYPES("An expression whose types don't go together."),
    NOT_SAVED("A name that isn't saved on every way to its use."),
    MAY_BE_MISSING("A field that may be missing and is read without asking."),
    // rehearsals
    REHEARSAL("Something that a rehearsal can't say, or that its handbook doesn't know."),
    NOT_AS_REHEARSED("A rehearsal that doesn't end as it must; it is played before publishing."),
    // people and mandates
    UNREVIEWED("Words of a model that could reach people with nobody having approved them."),
    NOBODY_IS_OFFERED("A kind of case that only the people of its desk can open."),
    OWN_REQUEST("An approval that asks whoever the case is for."),
    NO_MANDATE("An agent that no mandate binds."),
    NOBODY_TO_ASK("A grant that asks without saying whom, or asks a group that nobody is in."),
    NEVER_ALLOWED("A call that the mandate always refuses."),
    ALWAYS_ASKED("A call that the mandate always asks about.");

    private final String means;

    Code(String means) {
        this.means = means;
    }

    /** What findings of this kind say, in a sentence. */
    public String means() {
        return means;
    }

    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    @Override
    public String toString() {
        return word();
    }
}

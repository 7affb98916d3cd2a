package servitor.core.trail;

import static servitor.core.trail.Lane.AGENT;
import static servitor.core.trail.Lane.PEOPLE;
import static servitor.core.trail.Lane.REQUESTER;
import static servitor.core.trail.Lane.TOOLS;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;

/**
 * What can happen and stand on the trail: each with its lane, the fields its data may have, and what it says in plain words. The
 * words are stable: trails of earlier versions hold them for good.
 */
public enum TrailWord {
    // a case and those it is for
    CASE_OPENED(
            REQUESTER,
            "kind subject text requester proof fields intake opened-for owner",
            data -> "Asked: " + text(data, "subject")),
    /** A mail opened the case, or came to it; {@code mail} is the digest of all of it, {@code became} what it became. */
    MAIL_TAKEN_IN(REQUESTER, "intake from proof mail by became", data -> "Wrote a mail") {
        /** What came to a case that was there stands in it as a note. */
        @Override
        public Weight weight(JsonNode data) {
            return data.path("became").asString("case").equals("case") ? Weight.TELLING : Weight.EXPECTED;
        }
    },
    /** A system's message opened the case, or came to it: {@code id} is its id at {@code source}, {@code became} what it became. */
    EVENT_TAKEN_IN(
            REQUESTER,
            Weight.EXPECTED,
            "intake source id became",
            data -> "Sent a message" + (text(data, "id").isEmpty() ? "" : " (" + text(data, "id") + ")")),
    ACKNOWLEDGED(
            AGENT,
            "intake to message detail",
            data -> data.has("detail")
                    ? "Could not acknowledge the mail: " + text(data, "detail")
                    : "Acknowledged the mail"),
    MAIL_UNDELIVERED(PEOPLE, Weight.NEEDS_PERSON, "message mail", data -> "A mail did not arrive"),
    /** What came in the requester's name is less proven than what came before. */
    PROOF_LOWERED(
            REQUESTER,
            "from to mail",
            data -> "Wrote in a way that proves less: " + text(data, "to") + " instead of " + text(data, "from")),
    CASE_REOPENED(REQUESTER, "was", data -> "Wrote again to a case that was " + text(data, "was")),
    NAMED_PERSON(PEOPLE, "person", data -> "Named " + text(data, "person") + " as taking part"),
    UNNAMED_PERSON(PEOPLE, "person", data -> "No longer names " + text(data, "person") + " as taking part"),
    NOTE_ADDED(
            PEOPLE,
            "audience text channel proof mail",
            data -> text(data, "channel").equals("mail") ? "Wrote a mail" : "Wrote a note"),
    DOCUMENT_ADDED(PEOPLE, "name type size digest outcome", data -> "Attached " + text(data, "name")),
    EVENT_REPORTED(PEOPLE, "name data", data -> "Reported: " + text(data, "name")),
    CASE_OWNED(
            PEOPLE,
            "owner was",
            data -> text(data, "owner").isEmpty()
                    ? "Nobody in particular sees to it any more"
                    : text(data, "owner") + " sees to it"),
    CASE_WITHDRAWN(REQUESTER, "why", data -> "Took it back"),
    CASE_RESOLVED(PEOPLE, "note how", data -> "Resolved the case"),
    CASE_LATE(PEOPLE, Weight.NEEDS_PERSON, "due", data -> "Is late"),
    STARTED_BY_CHANGE(
            AGENT,
            "page change named",
            data -> "Starts ‘" + text(data, "page") + "’: the case was changed (" + text(data, "change")
                    + (text(data, "named").isEmpty() ? ")" : ", " + text(data, "named") + ")")),
    STARTED_BY_HAND(PEOPLE, "page", data -> "Started ‘" + text(data, "page") + "’ by hand"),

    // a run
    RUN_STARTED(AGENT, "page title edition until", data -> "Began ‘" + text(data, "title") + "’"),
    STEP(AGENT, Weight.EXPECTED, "title verb", data -> text(data, "title")),
    DECIDED(
            AGENT,
            "because go line rows row at",
            data -> "Decided: go to ‘" + text(data, "go") + "’"
                    + (data.has("row") ? ", for " + text(data, "because") : "")),
    /** Its places tell where in the document each value was found. */
    DOCUMENT_USED(AGENT, "document name places", data -> "Read ‘" + text(data, "name") + "’"),
    PROBLEM(AGENT, "problem detail", data -> "Met a problem: " + text(data, "problem")),
    WAITING(
            AGENT,
            "for named until",
            data -> "Waits for a" + (text(data, "for").equals("event") ? "n " : " ") + text(data, "for")),
    ARRIVED(
            AGENT,
            "what case instead",
            data -> data.has("instead")
                    ? "Something else came than is waited for: " + text(data, "instead")
                    : "It came: " + text(data, "what")),
    /** Its {@code agent} is the one that works the page, where that is another one. */
    PAGE_FOLLOWED(
            AGENT,
            "page takes agent",
            data -> data.has("agent")
                    ? "Hands ‘" + text(data, "page") + "’ to " + text(data, "agent")
                    : "Follows ‘" + text(data, "page") + "’"),
    PAGE_GAVE(
            AGENT,
            "page outcome why gives agent",
            data -> "Hears " + (data.has("agent") ? "from " + text(data, "agent") : "of ‘" + text(data, "page") + "’")
                    + ": " + text(data, "outcome")),
    ITEM_ENDED(AGENT, "item outcome", data -> "Item " + text(data, "item") + ": " + text(data, "outcome")),
    /** Its fields are the parts of the case that were changed. */
    CASE_CHANGED(AGENT, "title state priority labels fields relations", data -> "Changed the case"),
    RUN_FINISHED(AGENT, "outcome summary", data -> "Ended: " + text(data, "outcome")),
    LATE(AGENT, "what note", data -> "Something came too late"),
    HANDED_OVER(PEOPLE, Weight.NEEDS_PERSON, "why to", data -> "Handed over to " + text(data, "to")),
    RUN_MOVED(PEOPLE, "from to", data -> "Moved the run to edition " + text(data, "to")),
    RUN_STOPPED(PEOPLE, "reason", data -> "Stopped the run"),
    RUN_PAUSED(PEOPLE, "reason", data -> "Paused the run"),
    RUN_RESUMED(PEOPLE, "", data -> "Let the run go on"),
    AGENT_ADVISED(PEOPLE, "text", data -> "Told the agent something"),
    STEP_RETRIED(PEOPLE, "reason", data -> "Had the step tried again"),
    STEP_SKIPPED(PEOPLE, "reason result", data -> "Skipped the step"),
    WORK_RETRIED(PEOPLE, "trouble key reason", data -> "Had it tried again"),
    TAKEN_OVER(PEOPLE, "reason trouble key", data -> "Took it over"),
    NOTED(PEOPLE, "trouble key reason", data -> "Took note"),

    // models
    MODEL_ASKED(AGENT, Weight.EXPECTED, "model layout material", data -> "Asked the model"),
    DRAFTED(AGENT, "model tokens cost estimated sure reason text cites", data -> "Wrote a draft"),
    ASSESSED(
            AGENT,
            "model tokens cost estimated sure reason answer",
            data -> "Judged, " + Math.round(data.path("sure").asDouble(0) * 100) + " % sure"),
    PLANNED(
            AGENT,
            "model tokens cost estimated sure reason plan revised beyond",
            data -> data.path("revised").asBoolean(false)
                    ? "Said what it means to do instead"
                    : "Said what it means to do"),
    PURSUED(
            AGENT,
            "model tokens cost estimated sure reason answer",
            data -> !data.path("answer").path("done").isBoolean()
                            || data.path("answer").path("done").booleanValue()
                    ? "Reached its goal"
                    : "Says that it was not done"),

    // calls
    CALL_PROPOSED(
            AGENT,
            Weight.EXPECTED,
            "tool agent inputs origins places found",
            data -> "Wants to call " + text(data, "tool")),
    VERDICT(
            AGENT,
            "tool verdict reason grant of settled beforehand",
            data -> data.has("settled")
                    ? "The mandate says ask, and people have approved"
                    : "The mandate says " + text(data, "verdict")) {
        @Override
        public Weight weight(JsonNode data) {
            return text(data, "verdict").equals("allow") ? Weight.EXPECTED : Weight.TELLING;
        }
    },
    /** Its {@code of} are those who would have been asked. */
    CALL_HELD(TOOLS, Weight.NEEDS_PERSON, "tool says of", data -> "Held, in shadow: " + text(data, "says")),
    DONE_BY_HAND(PEOPLE, "tool did inputs result reason", data -> switch (text(data, "did")) {
        case "same" -> "Did just that by hand";
        case "other" -> "Did it otherwise, by hand";
        default -> "Did nothing of the kind";
    }),
    CALL_SENT(
            TOOLS,
            "tool key try says",
            data -> "Called " + text(data, "tool")
                    + (data.path("try").asInt(1) > 1
                            ? " (try " + data.path("try").asInt() + ")"
                            : "")),
    CALL_ANSWERED(TOOLS, "key answer", data -> "Answered"),
    CALL_FAILED(TOOLS, "key problem detail", data -> "Failed: " + text(data, "problem")),
    TRANSCRIPT(TOOLS, "key material", data -> "Kept what was said"),
    TRY_AGAIN(TOOLS, "problem detail try next", data -> "Not available; trying again"),
    TAKEN_UP_AGAIN(TOOLS, "key why", data -> "Taken up again after a stop"),
    HELD_BACK(TOOLS, "key", data -> "Held back: it was stopped"),
    JOB_STARTED(TOOLS, "tool until answer", data -> "Went to work on it"),
    CALLED_BACK(TOOLS, "tool", data -> "Called back"),
    IN_DOUBT(TOOLS, Weight.NEEDS_PERSON, "detail", data -> "In doubt"),
    LOOKING_UP(TOOLS, "key detail with", data -> "In doubt; looked up with " + text(data, "with")),
    SETTLED(
            PEOPLE,
            "tool key happened reason result",
            data -> data.path("happened").asBoolean(false) ? "Said that it happened" : "Said that it did not happen"),

    // approvals
    APPROVAL_OPENED(
            PEOPLE,
            Weight.NEEDS_PERSON,
            "approval question shown of until sheet",
            data -> "Asked " + names(data.path("of"))),
    APPROVAL_SEEN(PEOPLE, "approval shown via material", data -> "Saw what is asked"),
    APPROVAL_WITHDRAWN(PEOPLE, "approval why", data -> "Isn't asked any more: " + text(data, "why")),
    APPROVAL_TOLD(
            PEOPLE, "approval to by shown material", data -> "Was told by " + text(data, "by") + " what is asked"),
    APPROVAL_HANDED(PEOPLE, "approval to reason", data -> "Handed it to " + text(data, "to")),
    APPROVAL_REMINDED(PEOPLE, "approval of", data -> "Reminded " + names(data.path("of"))),
    APPROVAL_ANSWERED(
            PEOPLE, "approval answer shown via for reason before edited form", data -> switch (text(data, "answer")) {
                case "approve" -> data.has("edited") ? "Approved, with an edit" : "Approved";
                case "feedback" -> "Sent it back with feedback";
                default -> "Declined";
            }),
    ANSWER_REFUSED(PEOPLE, "approval answer shown via refused", data -> "Answered, but it didn't count"),
    APPROVAL_EXPIRED(PEOPLE, "approval", data -> "Nobody answered in time"),

    // the house
    EDITION_PUBLISHED("edition digest note despite", data -> "Published edition " + text(data, "edition")),
    PUBLISHING_ASKED("digest note", data -> "Asked others to agree to publish"),
    PUBLISHING_DECLINED("digest reason", data -> "Didn't agree to publish: " + text(data, "reason")),
    PUBLISHING_AGREED("digest desks", data -> "Agreed to publish"),
    CONNECTION_SET(
            "connection url atOnce signIn inside authorities desk credentialsChanged",
            data -> "Set up the connection ‘" + text(data, "connection") + "’"),
    CONNECTION_DELETED("connection", data -> "Deleted the connection ‘" + text(data, "connection") + "’"),
    CONNECTION_SIGNED_IN(
            "connection provider client",
            data -> "Signed in at " + text(data, "provider") + " for the connection ‘" + text(data, "connection")
                    + "’"),
    KEY_RENEWED("connections", data -> "Sealed the credentials with a new key"),
    TOOL_TRIED("tool inputs", data -> "Tried " + text(data, "tool")),
    MODEL_TRIED("model prompt", data -> "Tried the model " + text(data, "model")),
    STEP_TRIED("agent at model prompt", data -> "Tried ‘" + text(data, "at") + "’"),
    STOPPED("what name reason", data -> "Stopped the " + text(data, "what") + " ‘" + text(data, "name") + "’"),
    STOP_LIFTED("what name reason", data -> "Let the " + text(data, "what") + " ‘" + text(data, "name") + "’ go on"),
    PERSON_ADDED("person roles belongs changed", data -> "Added " + text(data, "person")),
    PERSON_CHANGED("person roles belongs changed", data -> "Changed " + text(data, "person")),
    DEPUTY_SET(
            "person deputy since until",
            data -> "Named " + text(data, "deputy") + " deputy of " + text(data, "person")),
    DEPUTY_ENDED("person", data -> "Took the deputy of " + text(data, "person") + " away"),
    SIGNED_IN("person from", data -> "Signed in"),
    SIGN_IN_REFUSED("person from", data -> "Was refused to sign in"),
    LOCKED_OUT("person from", data -> "Tried too often to sign in"),
    SESSIONS_ENDED("person", data -> "Ended the sessions of " + text(data, "person")),
    TOKEN_MADE("person label", data -> "Made the token ‘" + text(data, "label") + "’"),
    TOKEN_REVOKED("person label", data -> "Ended the token ‘" + text(data, "label") + "’"),
    BACKUP_BEGUN("", data -> "Began a backup"),
    RESTORED("there", data -> "Began again from a backup"),
    LOSS_ACCEPTED("head acknowledged there", data -> "Accepted that entries are missing"),
    /** The data of the entries named is gone for good; their digests stay. */
    ERASED("entries", data -> "Erased the data of " + data.path("entries").size() + " entries"),
    RUN_MOVED_OUT("file digest", data -> "Moved a run out to " + text(data, "file")),
    TEXTS_MOVED_OUT("file texts", data -> "Moved texts out to " + text(data, "file"));

    /** How much somebody who looks at a case wants to see it. */
    public enum Weight {
        /** It went as expected on the way to something; only the curious want it. */
        EXPECTED,
        /** It tells something. */
        TELLING,
        /** It tells that a person is needed. */
        NEEDS_PERSON;

        @JsonValue
        public String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    private static final Map<String, TrailWord> BY_WORD =
            Stream.of(values()).collect(Collectors.toUnmodifiableMap(TrailWord::word, word -> word));

    private final @Nullable Lane lane;
    private final Weight weight;
    private final Set<String> fields;
    private final Function<JsonNode, String> sentence;

    TrailWord(@Nullable Lane lane, Weight weight, String fields, Function<JsonNode, String> sentence) {
        this.lane = lane;
        this.weight = weight;
        this.fields = Set.of(fields.isEmpty() ? new String[0] : fields.split(" "));
        this.sentence = sentence;
    }

    TrailWord(Lane lane, String fields, Function<JsonNode, String> sentence) {
        this(lane, Weight.TELLING, fields, sentence);
    }

    TrailWord(String fields, Function<JsonNode, String> sentence) {
        this(null, Weight.TELLING, fields, sentence);
    }

    /** The word an entry stands under, such as {@code call-sent}. */
    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** The lane of a case it is shown in; empty for what concerns no case. */
    public Optional<Lane> lane() {
        return Optional.ofNullable(lane);
    }

    /** How much somebody who looks at a case wants to see it. */
    public Weight weight(JsonNode data) {
        return weight;
    }

    /** The fields that its data may have. */
    public Set<String> fields() {
        return fields;
    }

    /** What happened, in plain words that follow who did it. Data of earlier versions may lack a field. */
    public String says(JsonNode data) {
        return sentence.apply(data);
    }

    /** What stands under {@code word}; empty for a word that this version doesn't know. */
    public static Optional<TrailWord> of(String word) {
        return Optional.ofNullable(BY_WORD.get(word));
    }

    private static String text(JsonNode data, String field) {
        return data.path(field).asString("");
    }

    private static String names(JsonNode list) {
        return list.valueStream().map(JsonNode::asString).collect(Collectors.joining(" and "));
    }
}

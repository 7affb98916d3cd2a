package servitor.cli.client;

import java.math.BigDecimal;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;

/**
 * What the API answers, as its published description says; fields that no command shows are left out. Times stand as texts of RFC 3339,
 * values whose shape a handbook gives as JSON.
 */
public final class Answers {
    private Answers() {}

    /** A part of a long list; {@code next} asks for the part after it. */
    public interface Part {
        @Nullable
        String next();
    }

    public record Actor(String id, String name, String sort) {}

    public record CaseSummary(
            String id,
            String subject,
            @Nullable String title,
            String kind,
            String kindTitle,
            String desk,
            Actor requester,
            String proof,
            String channel,
            String state,
            @Nullable String waitingFor,
            @Nullable String due,
            boolean late,
            @Nullable Actor owner,
            String created) {
        /** What staff call it: its working title, or its subject. */
        public String called() {
            return title == null ? subject : title;
        }
    }

    public record Cases(List<CaseSummary> items, @Nullable String next) implements Part {}

    /** {@code told}, {@code proof} and {@code mail} are null where there is nothing to be said. */
    public record Note(
            String id,
            String at,
            Actor author,
            String audience,
            boolean written,
            String text,
            String channel,
            @Nullable String told,
            @Nullable String proof,
            @Nullable String mail) {}

    public record Document(String id, String name, String type, int size, String outcome, int pages) {}

    public record DocumentPage(int number, String text) {}

    public record DocumentRow(int number, List<JsonNode> cells) {}

    public record DocumentTable(String name, int header, List<DocumentRow> rows, List<String> doubts) {}

    /** What was read of a document. */
    public record Reading(
            String name,
            String outcome,
            String says,
            String detail,
            String type,
            List<DocumentPage> pages,
            List<DocumentTable> tables) {}

    /** {@code subject}, {@code desk} and {@code state} are null of what isn't a case, or one that isn't seen. */
    public record Relation(
            String what,
            String other,
            @Nullable String subject,
            @Nullable String desk,
            @Nullable String state) {
        /** The other case as far as it is known. */
        public String words() {
            return what + " " + other + (subject == null ? "" : ", ‘" + subject + "’")
                    + (state == null ? "" : " (" + desk + ", " + state + ")");
        }
    }

    public record KindField(String name, String title, String type, boolean required) {}

    public record Kind(String name, String title, String desk, List<KindField> fields) {}

    public record Link(String url) {}

    /** So many more messages of a system since then. */
    public record Repeat(Actor from, long times, String since, String latest) {}

    public record CaseDetail(
            CaseSummary summary,
            String text,
            JsonNode fields,
            Actor openedBy,
            List<Document> documents,
            List<String> missing,
            List<Relation> relations,
            List<Repeat> repeats,
            List<Actor> people,
            List<Note> notes,
            List<Run> runs,
            List<ApprovalSummary> approvals,
            @Nullable AskedOf askedOf,
            @Nullable ModelUse models) {}

    public record AskedOf(
            List<String> whom, String since, @Nullable String until) {}

    /** What somebody's words about a sheet are read as. */
    public record AnswerReading(String said, String decision, String reason, String words) {}

    /** What models used in all runs of a case. */
    public record ModelUse(int tokens, java.math.@Nullable BigDecimal cost, String currency) {}

    /** Whether a run waited for an event. */
    public record Heard(boolean awaited) {}

    public record RunSummary(
            String id,
            String caseId,
            String pageTitle,
            String agent,
            String status,
            String stepTitle,
            String created) {}

    public record Runs(List<RunSummary> items, @Nullable String next) implements Part {}

    public record Doubt(String tool, String key, JsonNode inputs) {}

    public record Trouble(String id, String what, String step, String problem, String detail) {}

    public record Known(String name, JsonNode value, List<String> origins) {}

    public record Run(
            String id,
            String caseId,
            String pageTitle,
            String agent,
            int edition,
            String status,
            String stepTitle,
            int calls,
            int tokens,
            java.math.@Nullable BigDecimal cost,
            @Nullable Doubt doubt,
            @Nullable Held held,
            @Nullable String paused,
            List<Trouble> troubles,
            List<Known> known) {}

    /** A call that is held in shadow. */
    public record Held(String tool, String says, JsonNode inputs) {}

    /** A run beside the case it is about. */
    public record Working(Run run, CaseSummary about) {}

    /** What words about a run are read as, and what would be done. */
    public record Steering(
            String said, String does, String text, @Nullable String trouble, String words) {}

    public record MovedOut(int runs, int texts, String folder) {}

    public record ApprovalSummary(
            String id,
            String headline,
            String question,
            String quorum,
            int rounds,
            String caseId,
            String caseSubject,
            Actor requester,
            @Nullable String due,
            String state,
            boolean asked,
            List<String> asks,
            @Nullable String paused,
            @Nullable Actor handedTo) {}

    public record Approvals(
            List<ApprovalSummary> items, @Nullable String next) implements Part {}

    public record Call(
            String tool,
            String effect,
            String description,
            JsonNode inputs,
            Map<String, List<String>> origins,
            @Nullable Map<String, String> places) {}

    public record Edit(String key, String text, boolean written) {}

    public record FormField(
            String name,
            String type,
            @Nullable List<String> options,
            @Nullable List<String> titles) {}

    public record Form(List<FormField> fields) {}

    public record Sheet(
            @Nullable Call call,
            @Nullable String why,
            @Nullable List<Edit> edits,
            @Nullable JsonNode plan,
            @Nullable String looks,
            @Nullable Form form,
            @Nullable Before before) {}

    /** The version of texts that was sent back last. */
    public record Before(String said, Map<String, String> versions) {}

    public record Follows(String yes, String no, String silence) {}

    public record Written(String model) {}

    public record Given(Actor person, String says, String reason) {}

    public record EarlierCase(String caseId, String kind, String opened, String state, List<String> did) {}

    public record Named(String id, String name) {}

    public record Deputy(
            @Nullable Named deputy,
            @Nullable String since,
            @Nullable String until,
            boolean now,
            List<Named> couldBe,
            List<Named> standsInFor) {}

    public record Seen(Actor person, String at, String via, String picture) {}

    /** What came of another limit; {@code cases} were asked about then, and {@code price} are those of which people declined. */
    public record LimitPoint(
            BigDecimal limit,
            int judged,
            int asked,
            int alone,
            int saved,
            int declined,
            BigDecimal money,
            List<String> cases,
            List<String> price) {}

    /** How far a look back has come; {@code made} holds what isn't the same. */
    public record LookBack(
            String by, String state, int cases, int done, int same, ToAsk toAsk, int asked, List<CaseMade> made) {}

    /** What models would have to be asked to know more. */
    public record ToAsk(int cases, int tokens, java.math.@Nullable BigDecimal cost, String currency) {}

    /** What another edition makes of a past case. */
    public record CaseMade(
            String caseId,
            String subject,
            String page,
            String made,
            String step,
            String before,
            String after,
            String sort,
            String end) {}

    /** What came of the answer to one of several. */
    public record CameOf(String id, String headline, boolean counts, String message, String state) {}

    public record ApprovalSheet(
            ApprovalSummary summary,
            String digest,
            Sheet sheet,
            String pageTitle,
            String stepTitle,
            String agent,
            String requestText,
            JsonNode requestFields,
            String proof,
            List<Known> known,
            List<EarlierCase> earlier,
            @Nullable Written written,
            List<Given> answers,
            @Nullable Follows follows,
            boolean maySendLate) {}

    public record TrailEntry(
            long seq,
            String at,
            Actor actor,
            String run,
            String step,
            String what,
            String says,
            @Nullable JsonNode data) {}

    public record Trail(List<TrailEntry> items, @Nullable String next) implements Part {}

    public record Edition(int number, String published, Actor publishedBy, String note, boolean current) {}

    public record Published(Edition edition, boolean isNew) {}

    public record EditionFiles(Edition edition, Map<String, String> files) {}

    public record Meaning(String file, String sentence) {}

    public record Changed(String path, String change, String text) {}

    public record Differences(List<Meaning> meanings, List<Changed> files) {}

    public record Connection(
            String name,
            String url,
            String atOnce,
            String signIn,
            boolean inside,
            String authorities,
            boolean byBrowser,
            String signedInBy,
            String desk) {
        /** How it is signed in to, in words. */
        public String signsIn() {
            String by = signedInBy.isEmpty() ? "nobody has signed in yet" : "by " + signedInBy;
            return signIn.isEmpty() ? "no" : byBrowser ? signIn + " (" + by + ")" : signIn;
        }
    }

    /** What there is to choose from for something that is asked; the reason when there is nothing. */
    public record Offered(List<Choice> items, String reason) {}

    public record Choice(String value, String title) {}

    public record Begun(String address, String provider, String client) {}

    public record Tested(boolean reached, String detail) {}

    public record Renewed(int renewed) {}

    /** A tool as a server describes it. */
    public record Described(String name, String description, String digest) {}

    public record Intake(
            String name,
            String title,
            String from,
            String kind,
            String desk,
            JsonNode message,
            @Nullable String signedBy,
            @Nullable Schedule schedule,
            @Nullable FollowedFile file,
            @Nullable Mailbox mailbox) {}

    public record Schedule(String cron, @Nullable String next) {}

    /** A file whose lines are taken in: {@code read} is in bytes, {@code looked} when it got there, {@code trouble} empty when nothing is wrong. */
    public record FollowedFile(String path, long read, String looked, String trouble) {}

    /** A message of a system, and what became of it. */
    public record Event(
            String id,
            String received,
            String sender,
            String source,
            String named,
            String became,
            String caseId,
            String reason,
            int size) {}

    public record Refusal(String since, String latest, long times, String reason) {}

    public record Events(List<Event> events, List<Refusal> refused) {}

    /** A form that somebody sent in who can't sign in; {@code caseId} is null while it is no case. */
    public record SentForm(
            String kind,
            String received,
            String state,
            String detail,
            @Nullable String caseId) {}

    public record Forms(List<SentForm> forms, List<Refusal> refused) {}

    public record EventPayload(Event event, @Nullable JsonNode payload) {}

    public record Outcome(
            String outcome, @Nullable String id, @Nullable String why) {}

    public record Outcomes(List<Outcome> taken) {}

    public record Mailbox(
            String connection, String folder, @Nullable String looked, String trouble) {}

    public record Mail(
            String id, String received, String sender, String subject, String proof, String reason, String became) {}

    /** A case that would be opened; or the one that a mail would come to, in {@code joins}, with its text alone. */
    public record Would(
            @Nullable String kind,
            @Nullable String requester,
            @Nullable String subject,
            String text,
            @Nullable JsonNode fields,
            @Nullable String joins,
            @Nullable JsonNode read,
            @Nullable List<String> ignored) {}

    public record Taken(
            String outcome,
            @Nullable String id,
            @Nullable String why,
            @Nullable Would would) {}

    public record CouldDoRow(String agent, String tool, String effect, String reach, String words) {}

    public record CouldDo(List<CouldDoRow> rows) {}

    public record Lately(
            int runs,
            int settled,
            int alone,
            int asked,
            int refused,
            int troubled,
            int tokens,
            java.math.@Nullable BigDecimal cost,
            String currency) {}

    public record AgentSummary(
            String name,
            String title,
            String desk,
            String model,
            String works,
            String job,
            Lately lately,
            @Nullable Today today) {}

    /** What an agent's models have used or reserved since midnight; null without a limit. */
    public record Today(
            @Nullable Integer tokens,
            @Nullable Integer mostTokens,
            java.math.@Nullable BigDecimal cost,
            java.math.@Nullable BigDecimal mostCost) {}

    public record Example(String asked, String output, String why) {}

    public record Brief(
            String job,
            String audience,
            List<String> always,
            List<String> never,
            List<String> writing,
            List<Example> examples) {}

    public record StepOf(String address, String title, String verb) {}

    public record PageOf(String name, String title, List<StepOf> steps) {}

    public record Can(String tool, String effect, String reach, String words) {}

    public record Agent(
            AgentSummary summary,
            @Nullable String modelName,
            Brief brief,
            List<PageOf> pages,
            List<Can> mandate,
            List<Sample> samples,
            List<RunSummary> runs) {}

    /** A request that a step is tried on. */
    public record Sample(String page, String step, String subject, String text, String language, JsonNode facts) {
        /** What is asked to try it. */
        public java.util.Map<String, Object> body(boolean draft) {
            return java.util.Map.of(
                    "page",
                    page,
                    "step",
                    step,
                    "subject",
                    subject,
                    "text",
                    text,
                    "language",
                    language,
                    "facts",
                    facts,
                    "draft",
                    draft);
        }
    }

    public record PromptPart(String from, String text, int tokens) {}

    public record PromptTool(String name, String description, int tokens) {}

    public record StepTrouble(String problem, String detail) {}

    /** What a model is told; {@code trouble} says why it isn't asked. */
    public record Told(
            String model,
            int tokens,
            List<PromptPart> parts,
            List<PromptTool> tools,
            @Nullable StepTrouble trouble) {}

    public record WantedCall(String tool, JsonNode inputs, String verdict, String reason, List<String> of) {}

    public record StepTried(
            Told told,
            @Nullable JsonNode answer,
            List<WantedCall> calls,
            @Nullable StepTrouble trouble,
            int tokens) {}

    public record Price(java.math.BigDecimal asked, java.math.BigDecimal answered) {}

    public record Model(
            String name,
            String connection,
            String known,
            boolean ready,
            int window,
            @Nullable Price price,
            List<String> can,
            @Nullable String otherwise,
            List<String> agents) {}

    public record ModelSaid(String text, String answered, int tokens, long millis, String problem, String detail) {}

    public record Said(String verdict, String reason, List<String> of, List<String> limits) {}

    public record Person(String id, String name, List<String> roles, List<String> desks, List<String> groups) {}

    public record Token(
            String label,
            @Nullable String token,
            @Nullable String created,
            @Nullable String expires) {}

    public record Tool(String name, String effect, boolean personal, String connection, String description) {}

    public record Tried(String problem, String detail, JsonNode answer, String transcript) {}

    public record Line(String title, String words) {}

    public record Explanation(String title, String paragraph, List<Line> steps) {}

    public record Stop(String what, String name, String at, Actor by, String reason) {}

    public record Backup(String name, long bytes, long seq) {}

    public record Material(String text) {}

    public record Verification(
            boolean holds,
            long verified,
            String head,
            @Nullable String message) {}
}

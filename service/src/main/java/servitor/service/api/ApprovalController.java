package servitor.service.api;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.approval.Answer.Says;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.ApprovalRules.Refused;
import servitor.core.approval.ApprovalRules.Ruling;
import servitor.core.approval.ApprovalState;
import servitor.core.approval.Via;
import servitor.core.engine.Evidence;
import servitor.core.explain.Follows;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.run.RunState;
import servitor.service.api.Views.Actor;
import servitor.service.api.Views.AnswerView;
import servitor.service.api.Views.ApprovalSheet;
import servitor.service.api.Views.ApprovalSummary;
import servitor.service.api.Views.EarlierView;
import servitor.service.api.Views.Named;
import servitor.service.approvals.ApprovalFilter;
import servitor.service.approvals.ApprovalRow;
import servitor.service.approvals.ApprovalStore;
import servitor.service.approvals.Approvals;
import servitor.service.approvals.Approvals.Decision;
import servitor.service.approvals.Approvals.Seen;
import servitor.service.approvals.EarlierCases;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.people.NotAllowed;
import servitor.service.people.Person;
import servitor.service.runs.RunRow;
import servitor.service.runs.RunStore;
import tools.jackson.databind.JsonNode;

/** Approvals: what waits, the sheet, the answer. Looking decides nothing; only a POST does. */
@RestController
@RequestMapping("/api/approvals")
class ApprovalController {
    /** Where approvals that never lapse stand among those that do. */
    private static final Instant NEVER = Instant.parse("9999-01-01T00:00:00Z");

    private final ApprovalStore approvalStore;
    private final CaseStore caseStore;
    private static final int MOST_WORDS = 2_000;
    private static final int MOST_TOGETHER = 50;

    private final RunStore runStore;
    private final Approvals approvals;
    private final EarlierCases earlier;
    private final ViewMapper describe;

    ApprovalController(
            ApprovalStore approvalStore,
            CaseStore caseStore,
            RunStore runStore,
            Approvals approvals,
            EarlierCases earlier,
            ViewMapper describe) {
        this.approvalStore = approvalStore;
        this.caseStore = caseStore;
        this.runStore = runStore;
        this.approvals = approvals;
        this.earlier = earlier;
        this.describe = describe;
    }

    /**
     * {@code decision} is {@code approve}, {@code decline} or {@code feedback}; {@code digest} is that of the sheet that
     * was seen. {@code text} stands for the only text that can be edited, {@code texts} names several by their keys.
     */
    record NewAnswer(
            String decision,
            String digest,
            @Nullable String reason,
            @Nullable String text,
            @Nullable Map<String, String> texts,
            @Nullable JsonNode form) {}

    @GetMapping
    Page<ApprovalSummary> list(
            Person person,
            ListQuery query,
            @RequestParam(defaultValue = "open") String state,
            @RequestParam(defaultValue = "false") boolean asked) {
        if (!state.equals("open") && !state.equals("closed")) {
            throw new IllegalArgumentException("‘state’ is open or closed.");
        }
        Optional<TimeCursor> after = Optional.ofNullable(query.cursor()).map(TimeCursor::of);
        ApprovalFilter filter = new ApprovalFilter(
                person.id(),
                person.answersFor(),
                person.staffDesks(),
                state.equals("open"),
                asked,
                query.about(null, describe.newest()),
                after.map(TimeCursor::time).orElse(null),
                after.map(TimeCursor::id).orElse(null));
        List<ApprovalRow> rows = approvalStore.list(filter, query.most() + 1);
        return Page.of(rows, query.most(), row -> describe.approval(person, row), ApprovalController::last);
    }

    private static Object last(ApprovalRow row) {
        Instant urgency = row.due() == null ? NEVER : row.due();
        return new TimeCursor(
                ApprovalState.OPEN.word().equals(row.state()) ? urgency : Objects.requireNonNull(row.closed()),
                row.id());
    }

    /** What is shown is noted as it was shown, once for each who sees it while it is open. */
    @GetMapping("/{id}")
    ApprovalSheet show(Person person, Via via, @PathVariable String id) {
        ApprovalRow row = find(person, id);
        ApprovalSheet sheet = sheet(person, row);
        approvals.saw(person, row, via, Json.write(sheet.toAnybody()));
        return sheet;
    }

    /** Who was shown an approval, when, by which way, and under which digest. */
    record SeenView(Actor person, Instant at, String via, String shown, String picture) {}

    @GetMapping("/{id}/seen")
    List<SeenView> seen(Person person, @PathVariable String id) {
        return approvals.seen(find(person, id)).stream()
                .map(one ->
                        new SeenView(describe.person(one.person()), one.at(), one.via(), one.shown(), one.picture()))
                .toList();
    }

    /** The sheet as somebody saw it then; whoever doesn't work at the case's desk sees what they were shown themselves. */
    @GetMapping("/{id}/seen/{picture}")
    JsonNode asSeen(Person person, @PathVariable String id, @PathVariable String picture) {
        ApprovalRow row = find(person, id);
        boolean staff = caseStore.find(row.caseId()).filter(person::seesAsStaff).isPresent();
        Seen seen = approvals.seen(row).stream()
                .filter(one ->
                        one.picture().equals(picture) && (staff || one.person().equals(person.id())))
                .findFirst()
                .orElseThrow(() -> new NotFound("picture of this approval", picture));
        return approvals
                .picture(seen)
                .map(text -> Json.read(text, JsonNode.class))
                .orElseThrow(() -> new NotFound("What was shown has moved out of the database; an admin finds it under "
                        + picture + " in the archive of the data folder."));
    }

    private ApprovalSheet sheet(Person person, ApprovalRow row) {
        String id = row.id();
        CaseRow about = caseStore.find(row.caseId()).orElseThrow();
        RunRow run = runStore.find(row.runId()).orElseThrow();
        Runbook page = describe.page(run);
        ApprovalRequest request = Approvals.request(row);
        Evidence evidence = approvalStore.evidence(id).orElseGet(() -> today(about, run));
        return new ApprovalSheet(
                describe.approval(person, row),
                row.digest(),
                request.sheet(),
                page.title(),
                ViewMapper.stepTitle(page, request.step()),
                describe.actor("agent:" + page.agent()).name(),
                evidence.text(),
                ViewMapper.fields(evidence.fields()),
                evidence.proof(),
                person.sees(about),
                approvals.shownDocuments(person, about).stream()
                        .map(describe::document)
                        .toList(),
                evidence.known(),
                earlier.before(about, person).stream()
                        .map(one -> new EarlierView(
                                one.about().id(),
                                describe.kind(one.about().kind()),
                                one.about().created(),
                                one.about().state(),
                                one.did()))
                        .toList(),
                request.sheet().has("edits")
                        ? describe.written(run, row.opened()).orElse(null)
                        : null,
                approvalStore.answers(id).stream()
                        .map(answer -> new AnswerView(
                                describe.person(answer.person()),
                                answer.says(),
                                answer.reason(),
                                texts(answer.texts()),
                                answer.form() == null ? null : Json.read(answer.form(), JsonNode.class),
                                answer.at(),
                                answer.via(),
                                answer.standsInFor().isEmpty() ? null : describe.person(answer.standsInFor())))
                        .toList(),
                page.step(request.step())
                        .map(step -> Follows.of(describe.handbook(run), page, step, request.sheet()))
                        .orElse(null),
                confirm(describe.handbook(run), request, evidence),
                approvals.isAsked(person, row)
                        ? approvals.othersWhoMayAnswer(person, row).stream()
                                .map(one -> new Named(one.id(), one.name()))
                                .toList()
                        : List.of(),
                ApprovalState.EXPIRED.word().equals(row.state())
                        && request.sheet().has("edits")
                        && request.of().stream().anyMatch(person.answersFor()::contains)
                        && !person.asked(about));
    }

    /** For approvals of earlier versions, which kept nothing: as it is now. */
    private Evidence today(CaseRow about, RunRow run) {
        return new Evidence(
                about.subject(),
                about.text(),
                Json.read(about.fields(), JsonNode.class),
                about.requester(),
                describe.person(about.requester()).name(),
                about.proof(),
                Evidence.known(Json.read(run.state(), RunState.class)));
    }

    /** What is said once more before a call that changes something, and for whom. */
    private static @Nullable String confirm(Handbook handbook, ApprovalRequest request, Evidence evidence) {
        Tool tool =
                handbook.tools().get(request.sheet().path("call").path("tool").asString(""));
        return tool == null || !tool.effect().acts() ? null : request.headline() + "; for " + evidence.name();
    }

    /** To whom an approval is handed. */
    record Handed(String to, @Nullable String reason) {}

    @PostMapping("/{id}/hand")
    ApprovalSheet hand(Person person, @PathVariable String id, @RequestBody Handed body) {
        ApprovalRow row = find(person, id);
        String reason = body.reason() == null ? "" : body.reason().strip();
        if (reason.length() > MOST_WORDS) {
            throw new IllegalArgumentException("‘reason’ has at most " + MOST_WORDS + " characters.");
        }
        try {
            approvals.hand(person, row, body.to(), reason);
        } catch (IllegalStateException e) {
            throw new Conflict("Already decided", String.valueOf(e.getMessage()));
        }
        return sheet(person, find(person, id));
    }

    /** A lapsed text, as somebody who could have approved it sends it. */
    record LateText(String digest, @Nullable Map<String, String> texts) {}

    /** Sends a text that nobody answered about in time, as a note of whoever sends it. */
    @PostMapping("/{id}/late")
    ApprovalSheet sendLate(Person person, Via via, @PathVariable String id, @RequestBody LateText body) {
        find(person, id);
        if (body.digest() == null) {
            throw new IllegalArgumentException("‘digest’ is missing: send that of the sheet you saw.");
        }
        Decision decision = new Decision(
                Says.APPROVE, body.digest(), "", body.texts() == null ? Map.of() : body.texts(), null, via);
        refusal(approvals.sendLapsed(person, id, decision).orElseThrow(() -> new NotFound("approval", id)));
        return sheet(person, find(person, id));
    }

    /** Throws what a ruling that doesn't count is told as. */
    static void refusal(Ruling ruling) {
        if (ruling instanceof Refused refused) {
            throw switch (refused.why()) {
                case NOT_OPEN -> new Conflict("Already decided", refused.message());
                case STALE -> new Conflict("It has changed", refused.message());
                case NOT_ASKED -> new NotAllowed(refused.message());
                case INCOMPLETE -> new IllegalArgumentException(refused.message());
            };
        }
    }

    private ApprovalRow find(Person person, String id) {
        return approvalStore
                .find(id)
                .filter(found -> approvals.sees(person, found))
                .orElseThrow(() -> new NotFound("approval", id));
    }

    private static Map<String, String> texts(String json) {
        Map<String, String> texts = new LinkedHashMap<>();
        Json.read(json, JsonNode.class)
                .properties()
                .forEach(e -> texts.put(e.getKey(), e.getValue().asString("")));
        return texts;
    }

    /** The texts of an answer by their keys; a single ‘text’ is that of the only one there is. */
    private static Map<String, String> texts(ApprovalRow row, NewAnswer body) {
        Map<String, String> texts = new LinkedHashMap<>();
        if (body.texts() != null) {
            body.texts().forEach((key, text) -> texts.put(key, text == null ? "" : text));
        }
        if (body.text() != null) {
            Set<String> keys = Approvals.request(row).texts().keySet();
            if (keys.size() > 1) {
                throw new IllegalArgumentException("There are several texts: name each in ‘texts’.");
            }
            texts.put(keys.stream().findFirst().orElse("text"), body.text());
        }
        return texts;
    }

    /** Somebody's words about the sheet. */
    record SaidOfSheet(@Nullable String text) {}

    @PostMapping("/{id}/reading")
    AnswerReading read(Person person, @PathVariable String id, @RequestBody SaidOfSheet body) {
        ApprovalRow row = find(person, id);
        String text = body.text() == null ? "" : body.text().strip();
        if (text.isEmpty() || text.length() > MOST_WORDS) {
            throw new IllegalArgumentException("‘text’ has 1 to " + MOST_WORDS + " characters.");
        }
        JsonNode sheet = Approvals.request(row).sheet();
        return AnswerReading.of(text, sheet);
    }

    /** One of several that are decided together, under the digest that was seen. */
    record OneOfSeveral(String id, String digest) {}

    /** The same answer to several approvals. */
    record SameAnswer(String decision, @Nullable String reason, List<OneOfSeveral> approvals) {}

    /** What came of the answer to one of them; {@code message} is why it doesn't count, empty when it does. */
    record CameOf(String id, String headline, boolean counts, String message, String state) {}

    /** Answers several that ask about calls of the same tool with the same inputs given, each on its own, one after the other. */
    @PostMapping("/together")
    List<CameOf> together(Person person, Via via, @RequestBody SameAnswer body) {
        List<OneOfSeveral> several = body.approvals() == null ? List.of() : body.approvals();
        if (several.size() < 2 || several.size() > MOST_TOGETHER) {
            throw new IllegalArgumentException("‘approvals’ are 2 to " + MOST_TOGETHER + ".");
        }
        Says says = said(body.decision());
        if (says == Says.FEEDBACK) {
            throw new IllegalArgumentException("Calls are approved or declined.");
        }
        List<ApprovalRow> rows =
                several.stream().map(one -> find(person, one.id())).toList();
        if (rows.stream().map(row -> shape(Approvals.request(row))).distinct().count() != 1) {
            throw new IllegalArgumentException(
                    "Only calls of the same tool with the same inputs given are decided together; these aren't.");
        }
        String reason = body.reason() == null ? "" : body.reason();
        List<CameOf> came = new ArrayList<>();
        for (int i = 0; i < rows.size(); i++) {
            came.add(cameOf(
                    person, rows.get(i), new Decision(says, several.get(i).digest(), reason, Map.of(), null, via)));
        }
        return came;
    }

    private CameOf cameOf(Person person, ApprovalRow row, Decision decision) {
        Ruling ruling =
                approvals.answer(person, row.id(), decision).orElseThrow(() -> new NotFound("approval", row.id()));
        return new CameOf(
                row.id(),
                Approvals.request(row).headline(),
                !(ruling instanceof Refused),
                ruling instanceof Refused refused ? refused.message() : "",
                approvalStore.find(row.id()).map(ApprovalRow::state).orElse(row.state()));
    }

    /** What makes approvals alike: the tool that is called, and which inputs it is given. */
    private static String shape(ApprovalRequest request) {
        JsonNode call = request.sheet().path("call");
        if (!call.isObject() || request.sheet().has("edits") || request.sheet().has("form")) {
            throw new IllegalArgumentException(
                    "‘" + request.question() + "’ is not only about a call, so it is decided on its own.");
        }
        return call.path("tool").asString("") + " "
                + String.join(" ", new TreeSet<>(call.path("inputs").propertyNames()));
    }

    private static Says said(@Nullable String decision) {
        return Arrays.stream(Says.values())
                .filter(one -> one.word().equals(decision))
                .findFirst()
                .orElseThrow(() -> new IllegalArgumentException("‘decision’ is approve, decline or feedback."));
    }

    @PostMapping("/{id}/answers")
    ApprovalSheet answer(Person person, Via via, @PathVariable String id, @RequestBody NewAnswer body) {
        ApprovalRow row = find(person, id);
        Says says = said(body.decision());
        if (body.digest() == null) {
            throw new IllegalArgumentException("‘digest’ is missing: send that of the sheet you saw.");
        }
        Decision decision = new Decision(
                says,
                body.digest(),
                body.reason() == null ? "" : body.reason(),
                texts(row, body),
                body.form() == null || body.form().isNull() ? null : body.form(),
                via);
        refusal(approvals.answer(person, id, decision).orElseThrow(() -> new NotFound("approval", id)));
        return sheet(person, find(person, id));
    }
}

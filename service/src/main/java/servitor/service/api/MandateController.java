package servitor.service.api;

import java.io.IOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.apache.commons.csv.QuoteMode;
import org.jspecify.annotations.Nullable;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.handbook.Decision;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.mandate.CouldDo;
import servitor.core.mandate.ProposedCall;
import servitor.core.mandate.Verdict;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.rehearsal.LimitTry;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.editions.Editions;
import servitor.service.lookback.LimitTries;
import servitor.service.people.Access;
import servitor.service.people.Person;
import servitor.service.runs.UsageStore;
import servitor.service.runs.WhatIf;
import tools.jackson.databind.JsonNode;

/** What agents could do: the whole table, and the verdict on a call that somebody only thinks of. */
@RestController
@RequestMapping("/api/mandates")
class MandateController {
    private static final CSVFormat CSV = CSVFormat.RFC4180
            .builder()
            .setHeader("agent", "tool", "effect", "reach", "words")
            .setQuoteMode(QuoteMode.ALL_NON_NULL)
            .get();

    private static final int USUAL_DAYS = 90;
    private static final int MOST_DAYS = 3_660;
    private static final int MOST_LIMITS = 20;
    private static final int MOST_DIGITS = 18;

    private final Editions editions;
    private final CaseStore caseStore;
    private final UsageStore usageStore;
    private final WhatIf whatIf;
    private final LimitTries limitTries;
    private final ViewMapper describe;
    private final Clock clock;

    MandateController(
            Editions editions,
            CaseStore caseStore,
            UsageStore usageStore,
            WhatIf whatIf,
            LimitTries limitTries,
            ViewMapper describe,
            Clock clock) {
        this.limitTries = limitTries;
        this.describe = describe;
        this.clock = clock;
        this.editions = editions;
        this.caseStore = caseStore;
        this.usageStore = usageStore;
        this.whatIf = whatIf;
    }

    /** One agent and one tool; {@code lines} in the order in which the mandate says them. */
    record Row(
            String agent,
            String tool,
            String effect,
            String reach,
            String works,
            String words,
            List<CouldDo.Line> lines) {}

    record Table(int edition, List<Row> rows) {}

    /**
     * A call somebody thinks of.
     *
     * @param caseId the case it would be made for
     * @param sources for {@code source(args.x)}: per input, the record that a lookup would have given
     * @param origins where each input would come from; {@code person} for those that aren't named
     */
    record WhatIfCall(
            String agent,
            String tool,
            JsonNode args,
            String caseId,
            @Nullable Map<String, JsonNode> sources,
            @Nullable Map<String, Origin> origins) {}

    /**
     * Other amounts: in a grant of an agent's mandate, or as the sureness below which a step of a page goes its other way.
     *
     * @param limits which, 1 to 20
     * @param days how far back
     */
    record OtherLimits(
            @Nullable String agent,
            @Nullable String grant,
            @Nullable String page,
            @Nullable String step,
            List<BigDecimal> limits,
            @Nullable Integer days) {}

    /** What other limits would have made of past cases. */
    @PostMapping(value = "/limits", consumes = MediaType.APPLICATION_JSON_VALUE)
    List<LimitTry.Point> limits(Person person, @RequestBody OtherLimits body) {
        Access.WRITE_HANDBOOKS.require(person);
        List<BigDecimal> limits = body.limits() == null ? List.of() : body.limits();
        int days = body.days() == null ? USUAL_DAYS : body.days();
        if (limits.isEmpty()
                || limits.size() > MOST_LIMITS
                || limits.stream().anyMatch(limit -> limit.signum() < 0 || limit.precision() > MOST_DIGITS)) {
            throw new IllegalArgumentException("‘limits’ are 1 to " + MOST_LIMITS + " amounts, none below zero.");
        }
        if (days < 1 || days > MOST_DAYS) {
            throw new IllegalArgumentException("‘days’ are 1 to " + MOST_DAYS + ".");
        }
        return limitTries.at(person, tries(current().handbook(), body, limits), Duration.ofDays(days));
    }

    private static LimitTry tries(Handbook handbook, OtherLimits body, List<BigDecimal> limits) {
        if (body.page() == null) {
            return LimitTry.of(handbook, String.valueOf(body.agent()), String.valueOf(body.grant()), limits);
        }
        Runbook page = handbook.runbooks().get(body.page());
        if (page == null) {
            throw new NotFound("page", body.page());
        }
        if (limits.stream().anyMatch(share -> share.compareTo(BigDecimal.ONE) > 0)) {
            throw new IllegalArgumentException("Sureness is between 0 and 1.");
        }
        return LimitTry.of(handbook, page, String.valueOf(body.step()), limits);
    }

    /** @param of who would be asked, as people call them */
    record Said(Decision verdict, String reason, String grant, List<String> of, List<String> limits) {}

    @GetMapping("/table")
    Table table(Person person) {
        Access.SEE_THE_HOUSE.require(person);
        Edition edition = current();
        JsonNode now = Json.of(clock.instant().toString());
        List<Row> rows = CouldDo.table(edition.handbook(), now, usageStore::alone).stream()
                .map(cell -> cell.calling(describe::whom))
                .map(cell -> new Row(
                        cell.agent(),
                        cell.tool(),
                        edition.handbook().tool(cell.tool()).effect().word(),
                        cell.reach().name().toLowerCase(Locale.ROOT),
                        cell.works().word(),
                        CouldDo.words(cell),
                        cell.lines()))
                .toList();
        return new Table(edition.number(), rows);
    }

    /** The same as comma-separated values (RFC 4180). */
    @GetMapping("/table.csv")
    ResponseEntity<byte[]> csv(Person person) throws IOException {
        StringBuilder csv = new StringBuilder();
        try (CSVPrinter printer = new CSVPrinter(csv, CSV)) {
            for (Row row : table(person).rows()) {
                printer.printRecord(row.agent(), row.tool(), row.effect(), row.reach(), harmless(row.words()));
            }
        }
        return ResponseEntity.ok()
                .contentType(MediaType.parseMediaType("text/csv;charset=UTF-8"))
                .body(csv.toString().getBytes(StandardCharsets.UTF_8));
    }

    /** What a spreadsheet would take for a formula begins with an apostrophe. */
    private static String harmless(String text) {
        return text.matches("(?s)[=+\\-@\\t\\r].*") ? "'" + text : text;
    }

    /** The verdict the gate would give now; nothing is called, counted or kept. */
    @PostMapping(value = "/try", consumes = MediaType.APPLICATION_JSON_VALUE)
    Said whatIf(Person person, @RequestBody WhatIfCall body) {
        Access.SEE_THE_HOUSE.require(person);
        CaseRow about = caseStore
                .find(String.valueOf(body.caseId()))
                .filter(person::seesAsStaff)
                .orElseThrow(() -> new NotFound("case", String.valueOf(body.caseId())));
        Edition edition = current();
        Tool tool = edition.handbook().tools().get(String.valueOf(body.tool()));
        if (tool == null || !edition.handbook().agents().containsKey(String.valueOf(body.agent()))) {
            throw new IllegalArgumentException("There is no such agent or tool in edition " + edition.number() + ".");
        }
        Map<String, TracedValue> inputs = new LinkedHashMap<>();
        if (body.args() != null) {
            body.args().properties().forEach(e -> {
                Origin origin =
                        body.origins() == null ? Origin.PERSON : body.origins().getOrDefault(e.getKey(), Origin.PERSON);
                inputs.put(e.getKey(), TracedValue.of(e.getValue(), origin));
            });
        }
        tool.house().forEach((name, value) -> inputs.put(name, TracedValue.of(value, Origin.HANDBOOK)));
        ProposedCall call =
                new ProposedCall(body.agent(), body.tool(), inputs, body.sources() == null ? Map.of() : body.sources());
        Verdict verdict = whatIf.verdict(edition, call, about.id());
        return new Said(
                verdict.decision(),
                verdict.reason(),
                verdict.grant(),
                verdict.of().stream().sorted().map(describe::whom).toList(),
                verdict.charges().stream()
                        .map(charge -> charge.counter() + ": " + charge.amount().toPlainString())
                        .toList());
    }

    private Edition current() {
        return editions.current().orElseThrow(() -> new NotFound("edition", "1"));
    }
}

package servitor.demo.past;

import java.time.Duration;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.Set;
import java.util.random.RandomGenerator;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.Answer.Says;
import servitor.core.approval.ApprovalRequest;
import servitor.core.approval.Via;
import servitor.core.json.Json;
import servitor.core.run.RunState;
import servitor.service.approvals.ApprovalRow;
import servitor.service.approvals.ApprovalStore;
import servitor.service.approvals.Approvals;
import servitor.service.approvals.Approvals.Decision;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.cases.Cases;
import servitor.service.people.Person;
import servitor.service.runs.RowConversion;
import servitor.service.runs.RunRow;
import servitor.service.runs.RunStore;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * What people do about what waits for them: they answer approvals after a while, some of them never; they write again when
 * they are asked; they resolve what was handed over to them.
 */
final class SimulatedPeople {
    private static final List<String> APPROVERS =
            List.of("sunniva", "lucja", "osei", "teun", "priya", "halvard", "dagny", "maren");
    private static final Map<String, String> RESOLVERS =
            Map.of("passengers", "sunniva", "it", "teun", "people", "priya");

    private final ApprovalStore approvalStore;
    private final RunStore runStore;
    private final CaseStore caseStore;
    private final Approvals approvals;
    private final WrittenMails mails;
    private final Cases cases;
    private final Map<String, Person> people;
    private final RandomGenerator random;
    private final Set<String> planned = new HashSet<>();
    private final PriorityQueue<Deed> deeds = new PriorityQueue<>(Comparator.comparing(Deed::at));

    /** Something somebody is going to do. */
    record Deed(Instant at, Runnable what) {}

    SimulatedPeople(
            ApprovalStore approvalStore,
            RunStore runStore,
            CaseStore caseStore,
            Approvals approvals,
            Cases cases,
            WrittenMails mails,
            Map<String, Person> people,
            RandomGenerator random) {
        this.mails = mails;
        this.approvalStore = approvalStore;
        this.runStore = runStore;
        this.caseStore = caseStore;
        this.approvals = approvals;
        this.cases = cases;
        this.people = people;
        this.random = random;
    }

    /** What will be done next; null for nothing. */
    @Nullable
    Deed next() {
        return deeds.peek();
    }

    void doNext() {
        deeds.remove().what().run();
    }

    /** Sees what of a case waits for people now, and who will do something about it when. */
    void lookAt(String caseId, Instant now) {
        for (ApprovalRow row : approvalStore.ofCase(caseId)) {
            if (row.state().equals("open") && planned.add(row.id() + row.version())) {
                plan(row, now);
            }
        }
        for (RunRow row : runStore.ofCase(caseId)) {
            RunState state = RowConversion.run(row);
            if (state.waitsFor("reply", "")
                    && planned.add(row.id() + state.step() + state.used().visits())) {
                planReply(state, now);
            }
        }
        CaseRow row = caseStore.find(caseId).orElseThrow();
        if (row.state().equals("with-people") && planned.add(caseId + "-in-hand")) {
            planResolution(row, now);
        }
    }

    private void plan(ApprovalRow row, Instant now) {
        ApprovalRequest request = Approvals.request(row);
        List<Person> asked = APPROVERS.stream()
                .map(people::get)
                .filter(person ->
                        approvals.isAsked(person, row) && !request.not().contains(person.id()))
                .toList();
        if (asked.isEmpty() || random.nextInt(25) == 0) {
            return; // nobody gets round to it
        }
        Person by = asked.get(random.nextInt(asked.size()));
        Instant at = atWork(now.plus(delay(request.within())));
        deeds.add(new Deed(at, () -> answer(by, row.id(), row.version())));
    }

    /** A while that is mostly short for what is given, and now and then too long. */
    private Duration delay(@Nullable Duration within) {
        long most = within == null ? 36_000 : Math.min(36_000, within.toSeconds());
        double share = random.nextDouble();
        return Duration.ofSeconds((long) (40 + most * share * share * 1.05));
    }

    /** The same time, or the next morning when nobody works then. */
    private static Instant atWork(Instant at) {
        ZonedDateTime local = at.atZone(Script.ZONE);
        if (local.getHour() >= 22) {
            return local.plusDays(1).withHour(7).toInstant();
        }
        return local.getHour() < 6 ? local.withHour(7).toInstant() : at;
    }

    private void answer(Person by, String id, int version) {
        Optional<ApprovalRow> found = approvalStore.find(id).filter(row -> row.version() == version);
        if (found.isEmpty() || !found.get().state().equals("open")) {
            return; // too late
        }
        ApprovalRow row = found.get();
        ApprovalRequest request = Approvals.request(row);
        approvals.answer(by, id, decision(request, row.digest()));
    }

    private Decision decision(ApprovalRequest request, String digest) {
        int mood = random.nextInt(20);
        if (mood < 2 && request.rounds() > 0) {
            return new Decision(Says.FEEDBACK, digest, "A little warmer, please.", Map.of(), null, Via.CONSOLE);
        }
        if (mood == 2) {
            return new Decision(Says.DECLINE, digest, "Not this time.", Map.of(), null, Via.CONSOLE);
        }
        Map<String, String> texts = new LinkedHashMap<>();
        if (mood < 6) {
            request.texts().forEach((key, text) -> texts.put(key, text + " Safe travels."));
        }
        return new Decision(Says.APPROVE, digest, "", texts, form(request), Via.CONSOLE);
    }

    private @Nullable ObjectNode form(ApprovalRequest request) {
        if (!request.sheet().has("form")) {
            return null;
        }
        String shown = Json.write(request.sheet().path("show"));
        JsonNode fields = request.sheet().path("form").path("schema").path("properties");
        ObjectNode form = Json.object();
        for (String field : fields.propertyNames()) {
            JsonNode options = fields.path(field).path("enum");
            if (field.equals("sure")) {
                form.put(field, true);
            } else if (!options.isEmpty()) {
                form.put(field, options.get(random.nextInt(options.size())).asString(""));
            } else {
                Matcher number = Pattern.compile("[FK]-\\d\\d").matcher(shown);
                form.put(field, number.find() ? number.group() : "none");
            }
        }
        return form;
    }

    private void planReply(RunState state, Instant now) {
        CaseRow about = caseStore.find(state.caseId()).orElseThrow();
        boolean writes = random.nextInt(10) < (about.kind().equals("lost-thing") ? 7 : 2);
        if (writes) {
            Instant at = atWork(now.plus(Duration.ofMinutes(random.nextLong(20, 1_500))));
            String text = about.kind().equals("lost-thing")
                    ? "It is " + List.of("red", "blue", "black").get(random.nextInt(3)) + ", and it was yesterday."
                    : "Thank you for the answer. Who do I speak with about the ticket?";
            deeds.add(new Deed(at, () -> reply(about, text)));
        }
    }

    /** By mail where they asked by mail. */
    private void reply(CaseRow about, String text) {
        if (!about.channel().equals("mail") || !mails.answer(about, text)) {
            cases.note(Objects.requireNonNull(people.get(about.requester())), about.id(), text, false);
        }
    }

    private void planResolution(CaseRow row, Instant now) {
        if (random.nextInt(30) == 0) {
            return; // it stays on the pile
        }
        Person by = Objects.requireNonNull(people.get(RESOLVERS.get(row.desk())));
        Instant at = atWork(now.plus(Duration.ofMinutes(random.nextLong(15, 2_200))));
        List<String> how = List.of(
                "Spoke with them on the phone; all is well.",
                "Looked into it and wrote to them myself.",
                "Sorted out at the counter.");
        deeds.add(new Deed(at, () -> {
            boolean inHand = caseStore
                    .find(row.id())
                    .filter(found -> found.state().equals("with-people"))
                    .isPresent();
            if (inHand) {
                cases.resolve(by, row.id(), how.get(random.nextInt(how.size())));
            }
        }));
    }
}

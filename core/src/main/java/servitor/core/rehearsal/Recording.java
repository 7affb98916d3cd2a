package servitor.core.rehearsal;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.consent.Plan;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Opening;
import servitor.core.handbook.Place;
import servitor.core.handbook.Places;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.About;
import servitor.core.handbook.Rehearsal.CallOf;
import servitor.core.handbook.Rehearsal.Calls;
import servitor.core.handbook.Rehearsal.Comes;
import servitor.core.handbook.Rehearsal.Cue;
import servitor.core.handbook.Rehearsal.Fails;
import servitor.core.handbook.Rehearsal.Gives;
import servitor.core.handbook.Rehearsal.ModelSays;
import servitor.core.handbook.Rehearsal.Must;
import servitor.core.handbook.Rehearsal.Paper;
import servitor.core.handbook.Rehearsal.PeopleSay;
import servitor.core.handbook.Rehearsal.Silent;
import servitor.core.handbook.Rehearsal.ToolSays;
import servitor.core.handbook.Rehearsal.Unasked;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Telling;
import servitor.core.handbook.Verb;
import servitor.core.json.Json;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.TrailEntry;
import servitor.core.trail.TrailEvent;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Makes a rehearsal of what really happened: the answers that the trail of a case holds, and what came of them. */
public final class Recording {
    private static final Place NOWHERE = new Place("rehearsals/", 1, 1);

    /** What the house itself did later than it should have. */
    private static final String TIMER = "that the time of a page was up before anybody saw it";

    private final Handbook handbook;
    private final About about;
    private final List<RecordedEntry> trail;
    private final Papers papers;
    private final List<Asked> cues = new ArrayList<>();
    private final Set<String> left = new LinkedHashSet<>();
    private final Set<String> settled = new HashSet<>();
    private final Map<String, Heard> runs = new LinkedHashMap<>(); // in the order in which they began
    private final Map<String, TrailEntry> opened = new HashMap<>();
    private @Nullable Instant waitingSince;
    private @Nullable Come come;

    /** What came last, and when. */
    private record Come(Instant at, Asked cue) {}

    /** A call that was sent, and the entry that says so. */
    private record Sent(String tool, long as) {}

    /** What is known of a run so far. */
    private static final class Heard {
        private String page = "";
        private Instant started = Instant.EPOCH; // without the time it stood
        private Instant paused = Instant.EPOCH;
        private boolean timeSeen;
        private final Map<String, JsonNode> proposed = new LinkedHashMap<>();
        private final Map<String, Sent> sent = new LinkedHashMap<>();
        private final Set<String> keys = new HashSet<>();
        private boolean asked;
        private final List<CallOf> wanted = new ArrayList<>();
        private String askedAt = "";
        private long askedAs;
        private long heldAs;
        private Instant since = Instant.EPOCH;
        private Duration thought = Duration.ZERO;
        private Instant judged = Instant.EPOCH;
        private Instant decided = Instant.EPOCH;
        private Instant answered = Instant.EPOCH;
        private boolean lookedUp;
        private @Nullable TrailEntry doubt;
        private @Nullable Sent awaited;
        private String awaitedKey = "";
        private @Nullable TrailEntry asking;
        private String at = "";
        private boolean ended;
    }

    private Recording(Handbook handbook, About about, List<RecordedEntry> trail, Papers papers) {
        this.papers = papers;
        this.handbook = handbook;
        this.about = about;
        this.trail = trail;
    }

    /** Documents that came to the case, by their names. */
    public interface Papers {
        /** What stands in it; null when it isn't to be had. */
        @Nullable
        Paper named(String name);
    }

    /**
     * A rehearsal out of a trail.
     *
     * @param left what couldn't be taken over, in words
     */
    public record Made(Rehearsal rehearsal, List<String> left) {
        public Made {
            left = List.copyOf(left);
        }
    }

    /**
     * Takes the answers out of the trail of a case.
     *
     * @param handbook of the edition that its runs were on
     * @param name what the rehearsal is called
     * @param about the case as it was opened
     * @param trail of the case, and of those that were opened for it
     * @param state the case was left in
     */
    public static Made of(
            Handbook handbook,
            String name,
            String title,
            About about,
            List<RecordedEntry> trail,
            String state,
            Papers papers) {
        Recording recording = new Recording(handbook, about, trail, papers);
        trail.forEach(recording::hear);
        recording.runs.values().forEach(recording::end);
        List<Cue> cues = recording.cues();
        Rehearsal heard = new Rehearsal(name, title, about, cues, nothing(), new Places(NOWHERE, Map.of()));
        Played asItWas = new Played(heard, state, trail, List.of(), List.of(), Map.of());
        return new Made(
                new Rehearsal(name, title, about, cues, recording.must(asItWas), heard.places()),
                List.copyOf(recording.left));
    }

    /** What was said, and the entry by which it was asked for. */
    private record Asked(long as, Cue cue) {}

    private void put(long as, Cue cue) {
        cues.add(new Asked(as, cue));
    }

    /** In the order in which they were asked for: of several at the same time each hears what was said to it. */
    private List<Cue> cues() {
        return cues.stream()
                .sorted(Comparator.comparingLong(Asked::as))
                .map(Asked::cue)
                .toList();
    }

    private static Must nothing() {
        return new Must(null, List.of(), List.of(), List.of(), Map.of(), List.of(), List.of(), Map.of());
    }

    private Must must(Played asItWas) {
        Map<String, String> verdicts = new LinkedHashMap<>();
        asItWas.verdicts().forEach((tool, said) -> verdicts.put(tool, said.get(0)));
        Set<String> steps = new LinkedHashSet<>();
        trail.stream()
                .filter(entry -> entry.entry().what().equals(TrailWord.STEP.word()) && entry.data() != null)
                .forEach(entry -> steps.add(text(entry.data(), "title")));
        List<CallOf> acting = asItWas.calls().stream()
                .filter(call -> handbook.tools().containsKey(call.tool())
                        && handbook.tool(call.tool()).effect().acts()
                        && !Telling.tells(call.tool()))
                .toList();
        return new Must(
                asItWas.state(), List.copyOf(steps), acting, List.of(), verdicts, List.of(), asItWas.asked(), Map.of());
    }

    private static String text(@Nullable JsonNode data, String field) {
        return data == null ? "" : data.path(field).asString("");
    }

    private void hear(RecordedEntry recorded) {
        JsonNode data = recorded.data();
        TrailWord what = TrailWord.of(recorded.entry().what()).orElse(null);
        if (what == null || data == null) {
            return;
        }
        String step = recorded.entry().step();
        Heard run = runs.computeIfAbsent(recorded.entry().runId(), id -> new Heard());
        switch (what) {
            case STEP -> {
                if (!run.timeSeen && itsTimeIsUp(run, recorded)) {
                    left.add(TIMER);
                }
                run.decided = recorded.entry().at();
                run.at = step;
                run.asking = null;
            }
            case RUN_STARTED -> {
                run.page = text(data, "page");
                run.started = recorded.entry().at();
            }
            case MODEL_ASKED -> {
                flush(run);
                run.asked = true;
                run.askedAt = step;
                run.askedAs = recorded.entry().seq();
                run.since = recorded.entry().at();
            }
            case DRAFTED -> answered(run, recorded, data, drafted(data));
            case ASSESSED, PURSUED -> answered(run, recorded, data, judged(data, data.path("answer")));
            case PLANNED -> planned(run, recorded, data);
            case PROBLEM -> {
                boolean justAnswered = recorded.entry().at().equals(run.answered)
                        && !recorded.entry().at().equals(run.decided);
                run.decided = recorded.entry().at();
                if (Pace.isPageUp(recorded)) {
                    run.timeSeen = true;
                    neverAnswered(run);
                    if (justAnswered) {
                        afterItsTime();
                    }
                }
                run.asking = null;
                if (run.asked && run.wanted.isEmpty()) {
                    answered(run, recorded, data, new Fails(text(data, "problem"), text(data, "detail")));
                }
            }
            case CALL_PROPOSED -> {
                run.proposed.put(text(data, "tool"), data.path("inputs"));
                if (run.asked) {
                    if (run.wanted.isEmpty()) {
                        run.thought =
                                Duration.between(run.since, recorded.entry().at());
                    }
                    run.wanted.add(new CallOf(text(data, "tool"), free(run, step, data), NOWHERE));
                }
            }
            case VERDICT -> {
                run.judged = recorded.entry().at();
                run.asking = null;
                run.awaitedKey = "";
                boolean sends = text(data, "verdict").equals("allow") || data.has("settled");
                run.awaited = sends && !data.has("beforehand")
                        ? new Sent(text(data, "tool"), recorded.entry().seq())
                        : null;
            }
            case CALL_SENT -> {
                String key = text(data, "key");
                run.awaitedKey = run.awaitedKey.isEmpty() ? key : run.awaitedKey;
                if (run.keys.add(key)) {
                    run.sent.put(
                            key, new Sent(text(data, "tool"), recorded.entry().seq()));
                }
            }
            case CALL_HELD -> {
                run.heldAs = recorded.entry().seq();
                run.awaited = null;
            }
            case CALL_ANSWERED -> ofTool(run, recorded, data, new Gives(data.path("answer")));
            case CALL_FAILED -> ofTool(run, recorded, data, new Fails(text(data, "problem"), text(data, "detail")));
            case DONE_BY_HAND ->
                put(
                        run.heldAs,
                        new ToolSays(
                                text(data, "tool"),
                                Json.object(),
                                text(data, "did").equals("nothing")
                                        ? new Fails(Problem.DECLINED.word(), text(data, "reason"))
                                        : new Gives(data.path("result")),
                                false,
                                Duration.between(run.judged, recorded.entry().at()),
                                NOWHERE));
            case LOOKING_UP -> {
                run.awaited = null;
                run.lookedUp = true;
                doubt(run, recorded, text(data, "key"));
            }
            case IN_DOUBT -> {
                run.awaited = null;
                if (!run.lookedUp) {
                    run.sent.keySet().stream().reduce((one, next) -> next).ifPresent(key -> doubt(run, recorded, key));
                }
                run.lookedUp = false;
                run.doubt = recorded.entry();
            }
            case APPROVAL_OPENED -> {
                opened.put(text(data, "approval"), recorded.entry());
                run.asking = recorded.entry();
            }
            case APPROVAL_ANSWERED -> said(recorded, data);
            case APPROVAL_EXPIRED -> {
                silent(opened.getOrDefault(text(data, "approval"), recorded.entry()), Duration.ZERO);
                run.asking = null;
            }
            case APPROVAL_WITHDRAWN -> {
                TrailEntry asked = opened.getOrDefault(text(data, "approval"), recorded.entry());
                silent(asked, Duration.between(asked.at(), recorded.entry().at()));
                run.asking = null;
            }
            case RUN_FINISHED -> run.ended = true;
            case WAITING -> waitingSince = recorded.entry().at();
            case NOTE_ADDED -> reply(recorded, data);
            case EVENT_REPORTED -> comes(recorded, "event", text(data, "name"), data.path("data"), null);
            case DOCUMENT_ADDED -> document(recorded, text(data, "name"));
            case EVENT_TAKEN_IN -> {
                if (!text(data, "became").equals("opened")) {
                    left.add("what ‘" + text(data, "intake") + "’ said of it");
                }
            }
            case CASE_RESOLVED -> resolved(recorded, data);
            case CASE_WITHDRAWN -> unasked(recorded, Unasked.WITHDRAW, text(data, "why"));
            case STEP_RETRIED -> mended(run, recorded, "retry", null);
            case STEP_SKIPPED -> mended(run, recorded, PeopleSay.SKIP, data.path("result"));
            case TAKEN_OVER -> mended(run, recorded, "take-over", null);
            case RUN_PAUSED -> {
                run.paused = recorded.entry().at();
                unasked(recorded, "pause", text(data, "reason"));
            }
            case RUN_RESUMED -> {
                run.started = run.started.plus(
                        Duration.between(run.paused, recorded.entry().at()));
                unasked(recorded, "resume", "");
            }
            case AGENT_ADVISED -> unasked(recorded, "advise", text(data, "text"));
            case RUN_STOPPED -> {
                neverAnswered(run);
                run.asking = null;
                if (!recorded.entry().actor().equals(TrailEvent.person("servitor"))) { // by the page that followed it
                    unasked(recorded, "stop", text(data, "reason"));
                }
                run.ended = true;
            }
            case ARRIVED -> {
                if (data.has("case") && !settled.remove(text(data, "case"))) {
                    put(
                            recorded.entry().seq(),
                            new Comes("case", "resolved", Json.object(), null, false, waited(recorded), NOWHERE));
                }
                awaited(recorded, text(data, "what"));
            }
            case SETTLED -> settled(run, recorded, data);
            case RUN_MOVED -> left.add("what a person did by hand: " + what.says(data));
            default -> {}
        }
    }

    /** The inputs that a model chose: those that the page fixes are none. */
    private JsonNode free(Heard run, String step, JsonNode data) {
        ObjectNode inputs = data.path("inputs").isObject()
                ? (ObjectNode) data.path("inputs").deepCopy()
                : Json.object();
        Step at = handbook.runbooks().containsKey(run.page)
                ? handbook.page(run.page).step(step).orElse(null)
                : null;
        if (at != null && at.verb() instanceof Verb.Pursue pursue) {
            pursue.tools().stream()
                    .filter(offer -> offer.tool().equals(text(data, "tool")))
                    .forEach(offer -> offer.fixed().fieldNames().forEach(inputs::remove));
        }
        return inputs;
    }

    private void flush(Heard run) {
        if (!run.wanted.isEmpty()) {
            Calls wanted = new Calls(run.wanted);
            put(run.askedAs, new ModelSays(run.askedAt, wanted, ModelSays.usual(wanted), run.thought, NOWHERE));
            run.wanted.clear();
        }
        run.asked = false;
    }

    /** What was still waited for when the run ended never came. */
    private void end(Heard run) {
        if (run.asked && run.wanted.isEmpty()) {
            put(run.askedAs, new ModelSays(run.askedAt, new Silent(), 0, Duration.ZERO, NOWHERE));
        }
        flush(run);
        Sent sent = run.awaited;
        if (sent != null) {
            put(
                    sent.as(),
                    new ToolSays(sent.tool(), named(run, sent.tool()), new Silent(), false, Duration.ZERO, NOWHERE));
        }
    }

    private void answered(Heard run, RecordedEntry recorded, JsonNode data, Rehearsal.Result result) {
        Duration thought = Duration.between(run.since, recorded.entry().at());
        flush(run);
        int tokens = data.path("tokens").asInt(ModelSays.usual(result));
        put(run.askedAs, new ModelSays(recorded.entry().step(), result, tokens, thought, NOWHERE));
    }

    private static Rehearsal.Result drafted(JsonNode data) {
        ObjectNode answer = Json.object();
        answer.set(data.path("text").isObject() ? "texts" : "text", data.path("text"));
        if (data.has("cites")) {
            answer.set("cites", data.get("cites"));
        }
        return judged(data, answer);
    }

    private static Rehearsal.Result judged(JsonNode data, JsonNode answer) {
        ObjectNode whole = answer.isObject() ? (ObjectNode) answer.deepCopy() : Json.object();
        whole.set("reason", data.path("reason"));
        whole.set("sure", data.path("sure"));
        return new Gives(whole);
    }

    private void planned(Heard run, RecordedEntry recorded, JsonNode data) {
        if (data.path("beyond").asBoolean(false)) {
            return; // the call that was beyond the plan follows, and has people asked again
        } else if (data.path("revised").asBoolean(false)) {
            left.add("a plan that the model changed on its way");
        } else {
            answered(
                    run,
                    recorded,
                    data,
                    judged(
                            data,
                            Json.object().set("plan", Plan.of(data.path("plan")).json())));
        }
    }

    /** A document that came after the case had been opened; others were there then. */
    private void document(RecordedEntry recorded, String name) {
        Paper paper = papers.named(name);
        boolean later = recorded.entry().at().isAfter(about.at())
                && about.documents().stream().noneMatch(first -> first.name().equals(name));
        if (later && paper != null) {
            comes(recorded, "document", name, Json.object(), paper);
        } else if (later) {
            left.add("a document that came to the case");
        }
    }

    /** Something comes, with nobody waiting for it unless that is heard of it next. */
    private void comes(RecordedEntry recorded, String what, String named, JsonNode value, @Nullable Paper paper) {
        come = new Come(
                recorded.entry().at(),
                new Asked(
                        recorded.entry().seq(),
                        new Comes(
                                what,
                                named,
                                value,
                                paper,
                                true,
                                Duration.between(about.at(), recorded.entry().at()),
                                NOWHERE)));
        cues.add(come.cue());
    }

    /** Somebody waited for what has just come. */
    private void awaited(RecordedEntry recorded, String what) {
        Come last = come;
        if (last != null
                && last.at().equals(recorded.entry().at())
                && last.cue().cue() instanceof Comes comes
                && comes.what().equals(what)) {
            cues.remove(last.cue());
            put(
                    last.cue().as(),
                    new Comes(what, comes.named(), comes.value(), comes.paper(), false, waited(last.at()), NOWHERE));
            come = null;
        }
    }

    /** The end of another case that this one waited for, or what somebody did by hand. */
    private void resolved(RecordedEntry recorded, JsonNode data) {
        if (recorded.entry().caseId().equals(trail.get(0).entry().caseId())) {
            unasked(recorded, Unasked.RESOLVE, text(data, "how"));
        } else {
            settled.add(recorded.entry().caseId());
            put(
                    recorded.entry().seq(),
                    new Comes("case", "resolved", Json.object(), null, false, waited(recorded), NOWHERE));
        }
    }

    /** An answer that comes after this changes nothing any more. */
    private void doubt(Heard run, RecordedEntry recorded, String key) {
        Sent call = run.sent.remove(key);
        if (call != null) {
            put(
                    call.as(),
                    new ToolSays(
                            call.tool(),
                            Json.object(),
                            new Rehearsal.Doubt(text(recorded.data(), "detail")),
                            false,
                            Duration.between(run.judged, recorded.entry().at()),
                            NOWHERE));
        }
    }

    /** What a person said of a call in doubt; what a lookup said has been heard as the answer of a tool. */
    private void settled(Heard run, RecordedEntry recorded, JsonNode data) {
        TrailEntry doubt = run.doubt;
        run.lookedUp = false;
        run.doubt = null;
        if (doubt != null) {
            boolean happened = data.path("happened").asBoolean(false);
            put(
                    doubt.seq(),
                    new PeopleSay(
                            recorded.entry().step(),
                            happened ? PeopleSay.HAPPENED : PeopleSay.NOT_HAPPENED,
                            by(recorded),
                            text(data, "reason"),
                            Map.of(),
                            happened ? data.path("result") : null,
                            Duration.between(doubt.at(), recorded.entry().at()),
                            NOWHERE));
        }
    }

    private void mended(Heard run, RecordedEntry recorded, String says, @Nullable JsonNode gives) {
        run.ended = says.equals("take-over");
        run.started = recorded.entry().at(); // its time begins anew
        run.timeSeen = false;
        put(
                recorded.entry().seq(),
                new PeopleSay(
                        recorded.entry().step(),
                        says,
                        by(recorded),
                        text(recorded.data(), "reason"),
                        Map.of(),
                        gives == null || gives.isNull() || gives.isMissingNode() ? null : gives,
                        Duration.between(run.decided, recorded.entry().at()),
                        NOWHERE));
    }

    private void unasked(RecordedEntry recorded, String does, String says) {
        String at = recorded.entry().step();
        Heard of = runs.get(recorded.entry().runId());
        List<Heard> there = runs.values().stream()
                .filter(run -> !run.ended && run.at.equals(at))
                .toList();
        put(
                recorded.entry().seq(),
                new Unasked(
                        does,
                        at,
                        Math.max(1, there.indexOf(of) + 1),
                        by(recorded),
                        says,
                        Duration.between(about.at(), recorded.entry().at()),
                        NOWHERE));
    }

    private static String by(RecordedEntry recorded) {
        return recorded.entry().actor().replaceFirst("^person:", "");
    }

    private void ofTool(Heard run, RecordedEntry recorded, JsonNode data, Rehearsal.Result result) {
        String key = text(data, "key");
        run.answered = recorded.entry().at();
        if (run.awaitedKey.isEmpty() || run.awaitedKey.equals(key)) {
            run.awaited = null;
        }
        Sent sent = run.sent.getOrDefault(key, new Sent("", recorded.entry().seq()));
        String tool = sent.tool();
        boolean openedBySelf = result instanceof Gives && tool.equals(Opening.OPEN);
        if (!tool.isEmpty() && !openedBySelf) {
            put(
                    sent.as(),
                    new ToolSays(
                            tool,
                            Telling.tells(tool) ? Json.object() : named(run, tool),
                            result,
                            false,
                            Duration.between(run.judged, recorded.entry().at()),
                            NOWHERE));
        }
    }

    /** The inputs of a call, without the key of another call: it won't have that when it is played again. */
    private static JsonNode named(Heard run, String tool) {
        JsonNode inputs = run.proposed.getOrDefault(tool, Json.object());
        if (inputs.isObject() && inputs.properties().stream().anyMatch(e -> isKey(run, e.getValue()))) {
            ObjectNode without = (ObjectNode) inputs.deepCopy();
            without.properties().removeIf(e -> isKey(run, e.getValue()));
            return without;
        }
        return inputs;
    }

    private static boolean isKey(Heard run, JsonNode value) {
        return value.isString() && run.keys.contains(value.asString());
    }

    private boolean itsTimeIsUp(Heard run, RecordedEntry recorded) {
        Runbook page = handbook.runbooks().get(run.page);
        Duration time = page == null ? null : page.limits().time();
        return time != null && !recorded.entry().at().isBefore(run.started.plus(time));
    }

    /** What ended with the page's time came after that, if only just: it was the timer that came first. */
    private void afterItsTime() {
        int last = cues.size() - 1;
        if (last >= 0 && cues.get(last).cue() instanceof ToolSays says && says.result() instanceof Gives) {
            cues.set(
                    last,
                    new Asked(
                            cues.get(last).as(),
                            new ToolSays(
                                    says.tool(),
                                    says.with(),
                                    says.result(),
                                    says.again(),
                                    says.after().plusNanos(1),
                                    says.place())));
        }
    }

    private void said(RecordedEntry recorded, JsonNode data) {
        Map<String, String> texts = new LinkedHashMap<>();
        data.path("edited")
                .properties()
                .forEach(e -> texts.put(e.getKey(), e.getValue().asString("")));
        TrailEntry asked = opened.getOrDefault(text(data, "approval"), recorded.entry());
        put(
                asked.seq(),
                new PeopleSay(
                        recorded.entry().step(),
                        text(data, "answer"),
                        by(recorded),
                        text(data, "reason"),
                        texts,
                        data.has("form") ? data.get("form") : null,
                        Duration.between(asked.at(), recorded.entry().at()),
                        NOWHERE));
    }

    private void silent(TrailEntry asked, Duration after) {
        put(asked.seq(), new PeopleSay(asked.step(), PeopleSay.NOTHING, "", "", Map.of(), null, after, NOWHERE));
    }

    /** What people were asked when the run ended. */
    private void neverAnswered(Heard run) {
        if (run.asking != null) {
            silent(run.asking, Duration.ZERO);
        }
    }

    private void reply(RecordedEntry recorded, JsonNode data) {
        if (recorded.entry().actor().equals(TrailEvent.person(about.requester().id()))) {
            comes(recorded, "reply", "", Json.object().put("text", text(data, "text")), null);
        }
    }

    private Duration waited(RecordedEntry recorded) {
        return waited(recorded.entry().at());
    }

    private Duration waited(Instant at) {
        return waitingSince == null ? Duration.ZERO : Duration.between(waitingSince, at);
    }
}

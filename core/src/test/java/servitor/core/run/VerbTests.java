package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static servitor.core.run.Scripted.play;
import static servitor.core.run.Scripted.step;

import java.math.BigDecimal;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.core.approval.ApprovalState;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.prompt.Prompt.Wanted;
import servitor.core.run.RunState.Allowance;
import servitor.core.trail.TrailWord;

/** Every verb on the pure machine, as pages use it. */
class VerbTests {
    private static final String DONE = step("Done", "finish: resolved");

    private static String read(Play play, String name, String field) {
        return play.state.saved().get(name).value().path(field).asString("");
    }

    // assess

    private static final String ASSESS = step("Judge", """
            assess: case
            answer: { mood: "one of [angry, calm]", days: whole number, heart: text }
            unsure-below: 0.6
            save: seen
            go: { sure: done, unsure: hand over }
            """) + DONE;

    @Test
    void aTypedAnswerIsSavedWithItsReason() {
        Play play = play(ASSESS).start();
        assertThat(play.only(Command.AskModel.class).prompt().contract().violations(Play.read("{\"mood\":\"sad\"}")))
                .isNotEmpty();
        play.answerModel(
                "{\"mood\":\"angry\",\"days\":2,\"heart\":\"The boat was late.\",\"reason\":\"r\",\"sure\":0.9}");
        assertThat(read(play, "seen", "mood")).isEqualTo("angry");
        assertThat(play.logged("assessed").path("answer").path("reason").asString())
                .isEqualTo("r");
        assertThat(play.state.caseState()).isEqualTo("resolved");
    }

    @Test
    void anUnsureAnswerGoesItsOwnWay() {
        Play play = play(ASSESS).start();
        play.answerModel("{\"mood\":\"calm\",\"days\":2,\"heart\":\"Hm.\",\"reason\":\"r\",\"sure\":0.4}");
        assertThat(play.state.caseState()).isEqualTo("with-people");
        assertThat(play.state.problem().name()).isEqualTo("unsure");
    }

    @Test
    void wordsOfAJudgementArentToldUnreadButItsChoicesAre() {
        String tell = step("Tell", "tell: requester\ntext: \"About ${seen.mood}: ${seen.days} days\"") + DONE;
        Play play = play(ASSESS.replace("sure: done", "sure: tell").replace(DONE, "") + tell)
                .start();
        play.answerModel(
                "{\"mood\":\"calm\",\"days\":2,\"heart\":\"The boat was late.\",\"reason\":\"r\",\"sure\":0.9}");
        assertThat(play.only(Command.CallTool.class).call().args().path("text").asString())
                .isEqualTo("About calm: 2 days");
        assertThat(servitor.core.handbook.check.CheckedHandbook.of(Scripted.files(
                                "",
                                (ASSESS.replace("sure: done", "sure: tell").replace(DONE, "") + tell)
                                        .replace("${seen.mood}", "${seen.heart}")))
                        .findings())
                .anyMatch(finding -> finding.code() == servitor.core.handbook.finding.Code.UNREVIEWED);
    }

    // draft

    @Test
    void aDraftInSeveralLanguagesIsAMapAndEachTextIsApproved() {
        Play play = play(step("Write", "draft: text\nlanguage: [en, de]\ncite: true\nsave: news")
                        + step("Read", "approve: Send?\nof: passengers\nedit: news\ngo: { declined: hand over }")
                        + step("Tell", "tell: requester\ntext: \"${news.de}\"")
                        + DONE)
                .start();
        assertThat(play.only(Command.AskModel.class).prompt().user()).contains("language: en, de");
        play.answerModel(
                "{\"texts\":{\"en\":\"Found.\",\"de\":\"Gefunden.\"},\"reason\":\"r\",\"sure\":1,\"cites\":[\"requester\"]}");
        assertThat(play.approval().texts()).containsEntry("news.en", "Found.").containsEntry("news.de", "Gefunden.");
        play.close(ApprovalState.APPROVED, "", Map.of("news.de", "Wir haben ihn gefunden."));
        assertThat(play.only(Command.CallTool.class).call().args().path("text").asString())
                .isEqualTo("Wir haben ihn gefunden.");
    }

    @Test
    void tokensAreAnAllowance() {
        Play play = play(
                        "limits: { model-tokens: 100 }\n",
                        step("One", "draft: text\nsave: a")
                                + step("Two", "draft: text\nsave: b\non: { exhausted: done }")
                                + DONE)
                .start()
                .write("Something.");
        assertThat(play.state.caseState()).isEqualTo("resolved");
        assertThat(play.logged("problem").path("problem").asString()).isEqualTo("exhausted");
    }

    // approve

    private static final String FEEDBACK = step("Write", "draft: text\nsave: answer")
            + step("Read", """
            approve: Send?
            of: passengers
            edit: answer
            feedback: { rounds: 2 }
            save: verdict
            go: { approved: done, declined: hand over, exhausted: worn out }
            """)
            + DONE
            + step("Worn out", "hand-over: passengers\nwhy: \"Sent back too often: ${verdict.reason}\"");

    @Test
    void feedbackGoesBackToTheDraftAndRoundsRunOut() {
        Play play = play(FEEDBACK).start().write("First.");
        play.feedback("Name the ship.");
        String again = play.only(Command.AskModel.class).prompt().user();
        assertThat(again).contains("Name the ship.").contains("First.").contains("# Earlier versions");
        play.write("Second, on the Grey Heron.");
        assertThat(play.approval().rounds()).isEqualTo(1);
        play.feedback("Shorter.").write("Third.");
        assertThat(play.approval().rounds()).isZero();
        play.feedback("Longer.");
        assertThat(play.state.caseState()).isEqualTo("with-people");
        assertThat(play.only(Command.NoteForStaff.class).text()).contains("Longer.");
    }

    @Test
    void aVersionThatIsWrittenAgainIsShownBesideTheLast() {
        Play play = play(FEEDBACK).start().write("First.");
        assertThat(play.approval().sheet().has("before")).isFalse();
        play.feedback("Name the ship.").write("Second, on the Grey Heron.");
        assertThat(play.approval().sheet().path("before").toString())
                .isEqualTo("{\"said\":\"Name the ship.\",\"versions\":{\"answer\":\"First.\"}}");
        play.feedback("Shorter.").write("Third.");
        assertThat(play.approval().sheet().at("/before/versions/answer").asString())
                .isEqualTo("Second, on the Grey Heron.");
    }

    @Test
    void whatWasDraftedAndWhatWasReleasedIsSaved() {
        Play play = play(FEEDBACK).start().write("First.");
        play.close(ApprovalState.APPROVED, "", Map.of("answer", "First, and mended."));
        TracedValue verdict = play.state.known().get("verdict");
        assertThat(verdict.value().path("drafted").asString()).isEqualTo("First.");
        assertThat(verdict.value().path("released").asString()).isEqualTo("First, and mended.");
        assertThat(verdict.value().path("changed").asBoolean()).isTrue();
        assertThat(verdict.at(List.of("drafted")).written()).isTrue();
        TracedValue as =
                play(FEEDBACK).start().write("First.").approve().state.known().get("verdict");
        assertThat(as.value().path("changed").asBoolean()).isFalse();
        assertThat(as.value().path("released").asString()).isEqualTo("First.");
    }

    @Test
    void onlyTheVersionThatWasApprovedCountsAsRead() {
        Play play = play(FEEDBACK)
                .start()
                .write("First.")
                .feedback("Again.")
                .write("Second.")
                .approve();
        assertThat(play.state.written())
                .contains(
                        new RunState.WrittenText("First.", false, null),
                        new RunState.WrittenText("Second.", true, null));
    }

    @Test
    void aFormIsSavedForLaterSteps() {
        Play play = play(step(
                                "Ask",
                                "approve: How much?\nof: passengers\nform: { cost: number, fine: yes/no }\nsave: said\ngo: { "
                                        + "declined: hand over }")
                        + step(
                                "Which",
                                "decide:\n  - when: said.fine && said.cost < 20.0\n    go: done\n  - otherwise: hand over")
                        + DONE)
                .start();
        assertThat(play.approval()
                        .sheet()
                        .path("form")
                        .path("fields")
                        .path(0)
                        .path("name")
                        .asString())
                .isIn("cost", "fine");
        play.close(ApprovalState.APPROVED, "", Map.of(), Play.read("{\"cost\": 12, \"fine\": true}"));
        assertThat(play.state.caseState()).isEqualTo("resolved");
    }

    private static final String BEFOREHAND = step("Find", """
            call: fares.find-booking
            with: { reference: "${case.fields.booking}" }
            save: booking
            """) + step("Ask first", """
            approve: Pay ${booking.paid}?
            of: duty-managers
            for: pay
            go: { declined: hand over }
            """) + step("Pay", """
            call: fares.pay-refund
            with: { reference: "${booking.reference}", amount: "${booking.paid}", reason: goodwill }
            """) + DONE;

    @Test
    void whoApprovedACallBeforehandIsntAskedAgainButOnlyOnceAndOnlyForThatCall() {
        Play play = play("starts: []\n", BEFOREHAND).start().answerTool(Play.BOOKING.replace("84.5", "310.0"));
        assertThat(play.approval()
                        .sheet()
                        .path("call")
                        .path("inputs")
                        .path("amount")
                        .asDouble())
                .isEqualTo(310.0);
        play.approve();
        assertThat(play.only(Command.CallTool.class).call().tool()).isEqualTo("fares.pay-refund");
        assertThat(play.logged("verdict").path("settled").asString()).contains("exactly this call");
        assertThat(play.state.memory().approved()).isEmpty();
    }

    @Test
    void aCallTheMandateRefusesIsntAskedAboutAtAll() {
        Play play = play(BEFOREHAND).start().answerTool(Play.BOOKING.replace("84.5", "900.0"));
        assertThat(play.commands).noneMatch(Command.OpenApproval.class::isInstance);
        assertThat(play.logged("problem").path("problem").asString()).isEqualTo("refused");
    }

    @Test
    void theManagerIsAskedByName() {
        Play play = play(step(
                                "Ask",
                                "approve: May they?\nof: \"${requester.manager}\"\nnot: [duty-managers]\nquorum: all\ngo: { "
                                        + "declined: hand over }")
                        + DONE)
                .start();
        assertThat(play.approval().of()).containsExactly("person:osei");
        assertThat(play.approval().not()).containsExactly("duty-managers");
    }

    // await

    private static Play waiting(String kind, String more) {
        return play(step(
                                "Wait",
                                "await: " + kind + "\n" + more
                                        + "within: P2D\nsave: got\ngo: { arrived: done, expired: hand over }")
                        + DONE)
                .start();
    }

    @Test
    void whatComesIsSavedAndTheTimerIsSet() {
        Play play = waiting("reply", "");
        assertThat(play.only(Command.SetTimer.class).at()).isEqualTo(play.now.plus(Duration.ofDays(2)));
        assertThat(play.state.waitsFor("reply", "")).isTrue();
        assertThat(play.state.waitsFor("document", "x")).isFalse();
        play.give(new RunInput.Arrived(
                play.state.pending().id(), TracedValue.of(Json.object().put("text", "It was red."), Origin.REQUESTER)));
        assertThat(play.state.caseState()).isEqualTo("resolved");
        assertThat(play.state.saved().get("got").originsAt("text")).containsExactly(Origin.REQUESTER);
    }

    @Test
    void aWaitThatIsOverTakesTheExpiredWayAndLateThingsChangeNothing() {
        Play play = waiting("event", "named: boat-arrived\n");
        assertThat(play.state.waitsFor("event", "boat-arrived")).isTrue();
        assertThat(play.state.waitsFor("event", "boat-left")).isFalse();
        String wait = play.state.pending().id();
        play.give(new RunInput.TimeUp(play.only(Command.SetTimer.class).id()));
        assertThat(play.state.caseState()).isEqualTo("with-people");
        play.give(new RunInput.Arrived(wait, TracedValue.of(Json.object(), Origin.PERSON)));
        assertThat(play.logged("late").path("what").asString()).isEqualTo("Arrived");
    }

    @Test
    void aTimeIsWaitedFor() {
        Play play = play(step("Wait", "await: time\nuntil: \"2026-11-30\"\nsave: then") + DONE)
                .start();
        assertThat(play.only(Command.SetTimer.class).at().toString()).isEqualTo("2026-11-30T00:00:00Z");
        play.give(new RunInput.TimeUp(play.only(Command.SetTimer.class).id()));
        assertThat(play.state.caseState()).isEqualTo("resolved");
        Play never = play(step("Wait", "await: time\nuntil: \"soon\"") + DONE).start();
        assertThat(never.logged("problem").path("detail").asString()).contains("no time to wait for");
    }

    // set, finish, hand-over, loops and limits

    @Test
    void theCaseIsChangedAndSeenChangedAtOnce() {
        Play play = play(
                        "starts: []\n",
                        step(
                                        "Set",
                                        "set: { state: with-people, priority: high, labels: [late], fields: { booking: SK-2 }, relations: { "
                                                + "same-as: C-1 } }")
                                + step(
                                        "Ask",
                                        "approve: \"${case.priority} ${case.fields.booking} ${case.labels[0]}\"\nof: passengers\ngo: { "
                                                + "declined: hand over }")
                                + DONE)
                .start();
        assertThat(play.only(Command.ChangeCase.class)
                        .changes()
                        .path("relations")
                        .path("same-as")
                        .asString())
                .isEqualTo("C-1");
        assertThat(play.approval().question()).isEqualTo("high SK-2 late");
        assertThat(play.state.caseState()).isEqualTo("with-people");
        play.approve();
        assertThat(play.state.caseState()).isEqualTo("resolved");
    }

    @Test
    void aStepIsTakenAsOftenAsItMayAndNoMore() {
        Play play = play(step("Round", "set: { labels: [x] }\nat-most: 3\non: { exhausted: done }\ngo: round") + DONE)
                .start();
        assertThat(play.state.caseState()).isEqualTo("resolved");
        assertThat(play.trail.stream().filter(h -> h.what() == TrailWord.CASE_CHANGED))
                .hasSize(3);
    }

    @Test
    void thePagesTimeRunsOut() {
        Play play = play(
                        "limits: { time: P1D }\n",
                        step(
                                        "Ask",
                                        "approve: Well?\nof: passengers\ngo: { declined: hand over }\non: { exhausted: done }")
                                + DONE)
                .start();
        String approval = play.approval().id();
        play.give(new RunInput.TimeUp(play.only(Command.SetTimer.class).id()));
        assertThat(play.only(Command.WithdrawApproval.class).id()).isEqualTo(approval);
        assertThat(play.state.caseState()).isEqualTo("resolved");
    }

    @Test
    void aCallUnderWayIsAwaitedBeforeTheTimeIsUp() {
        Play play = play(
                        "limits: { time: P1D }\n",
                        step("Find", "call: fares.find-sailing\nwith: { number: S-1 }\nsave: s") + DONE)
                .start();
        play.give(new RunInput.TimeUp("r1-deadline"));
        assertThat(play.state.status()).isEqualTo(RunStatus.WORKING);
    }

    // in doubt

    private static Play inDoubt() {
        Play play = play(BEFOREHAND).start().answerTool(Play.BOOKING).approve();
        play.give(new RunInput.ToolInDoubt(play.only(Command.CallTool.class).id(), "the connection broke"));
        assertThat(play.state.status()).isEqualTo(RunStatus.IN_DOUBT);
        return play;
    }

    @Test
    void whatHappenedGoesOnAsIfItHadBeenAnswered() {
        Play play = inDoubt();
        play.give(new RunInput.Settled(
                play.state.pending().id(),
                "osei",
                true,
                Play.read("{\"refund\":\"RF-1\",\"reference\":\"SK-48213\",\"amount\":84.5,\"currency\":\"EUR\"}"),
                "seen"));
        assertThat(play.state.caseState()).isEqualTo("resolved");
        assertThat(play.logged("settled").path("happened").asBoolean()).isTrue();
    }

    @Test
    void whatDidNotHappenIsJudgedAndSentAgainUnderANewKey() {
        Play play = inDoubt();
        String before = play.state.pending().id();
        play.give(new RunInput.Settled(before, "osei", false, Json.object(), "not there"));
        assertThat(play.only(Command.CallTool.class).id()).isNotEqualTo(before);
    }

    // follow and each

    private static final String CHILD =
            "---\ntitle: Child\ndesk: passengers\nagent: purser\ntakes: { number: text }\ngives: { ship: "
                    + "\"${sailing.ship}\" }\nlimits: { calls: 3, model-tokens: 500 }\n---\n"
                    + step("Find", "call: fares.find-sailing\nwith: { number: \"${takes.number}\" }\nsave: sailing")
                    + DONE;
    private static final String SAILING =
            "{\"number\":\"S-1\",\"ship\":\"Grey Heron\",\"from\":\"a\",\"to\":\"b\",\"departs\":\"x\",\"state\":\"sailed\"}";

    private static Map<String, String> withChild(String front, String steps) {
        Map<String, String> files = Scripted.files(front, steps);
        files.put("runbooks/child.md", CHILD);
        return files;
    }

    private static RunInput.PageEnded ended(String id, String outcome, String ship, int calls) {
        return new RunInput.PageEnded(
                id,
                outcome,
                "why",
                TracedValue.of(Json.object().put("ship", ship), Origin.LOOKUP),
                List.of(),
                List.of(),
                calls,
                10);
    }

    @Test
    void aFollowedPageGetsInputsAndGivesBack() {
        Play play = new Play(
                        servitor.core.DemoHandbook.edition(withChild(
                                "limits: { calls: 2 }\n",
                                step(
                                                "Follow",
                                                "follow: child\nwith: { number: S-1 }\nsave: got\non: { trouble: hand over }")
                                        + step(
                                                "Ok",
                                                "decide:\n  - when: got.ship == \"Grey Heron\"\n    go: done\n  - otherwise: hand over")
                                        + DONE)),
                        "test")
                .start();
        Command.StartPage start = play.only(Command.StartPage.class);
        assertThat(start.takes().value().path("number").asString()).isEqualTo("S-1");
        assertThat(start.allowance()).as("the smaller of both").isEqualTo(new Allowance(2, 500));
        play.give(ended(start.id(), "resolved", "Grey Heron", 2));
        assertThat(play.state.caseState()).isEqualTo("resolved");
        assertThat(play.state.calls()).isEqualTo(2);
    }

    @Test
    void aPageTellsItsCallerWhatCameOfIt() {
        Play child = new Play(servitor.core.DemoHandbook.edition(withChild("", DONE)), "child");
        child.state = RunState.followed(
                "r2",
                new Play(child.edition, "cancelled-sailing-refund").state,
                new Command.StartPage(
                        "r1-1",
                        "child",
                        TracedValue.of(Json.object().put("number", "S-1"), Origin.REQUESTER),
                        new Allowance(3, 500),
                        List.of(),
                        List.of(),
                        false));
        child.start().answerTool(SAILING);
        Command.GiveBack back = child.only(Command.GiveBack.class);
        assertThat(back.toRun()).isEqualTo("r1");
        assertThat(back.ended().id()).isEqualTo("r1-1");
        assertThat(back.ended().gives().value().path("ship").asString()).isEqualTo("Grey Heron");
    }

    @Test
    void aPageInTroubleIsAProblemOfItsCaller() {
        Play play = new Play(
                        servitor.core.DemoHandbook.edition(withChild(
                                "",
                                step("Follow", "follow: child\nwith: { number: S-1 }\non: { trouble: done }") + DONE)),
                        "test")
                .start();
        play.give(ended(play.only(Command.StartPage.class).id(), "with-people", "", 1));
        assertThat(play.state.problem().name()).isEqualTo("trouble");
        assertThat(play.state.caseState()).isEqualTo("resolved");
    }

    private static Play each(String more) {
        return new Play(
                        servitor.core.DemoHandbook.edition(withChild(
                                "limits: { calls: 9 }\n",
                                step("List", "call: fares.find-lost\nwith: { words: scarf }\nsave: found")
                                        + step(
                                                "Each",
                                                "each: \"${found.items}\"\nas: thing\nfollow: child\nwith: { number: \"${thing.number}\" }\nsave: "
                                                        + "all\n"
                                                        + more)
                                        + DONE)),
                        "test")
                .start()
                .answerTool("{\"items\":["
                        + String.join(
                                ",",
                                java.util.stream.IntStream.range(1, 5)
                                        .mapToObj(
                                                i -> "{\"number\":\"F-" + i
                                                        + "\",\"what\":\"w\",\"ship\":\"s\",\"day\":\"2026-11-01\",\"kept\":\"k\"}")
                                        .toList())
                        + "]}");
    }

    private static List<Command.StartPage> started(Play play) {
        return play.commands.stream()
                .filter(Command.StartPage.class::isInstance)
                .map(Command.StartPage.class::cast)
                .toList();
    }

    @Test
    void itemsRunAtOnceWithinOneAllowanceAndComeBackInOrder() {
        Play play = each("at-once: 2\n");
        List<Command.StartPage> first = started(play);
        assertThat(first).hasSize(2);
        assertThat(first.stream().mapToInt(start -> start.allowance().calls()).sum())
                .as("8 calls are left")
                .isLessThanOrEqualTo(8);
        play.give(ended(first.get(1).id(), "resolved", "B", 1));
        Command.StartPage third = play.only(Command.StartPage.class);
        play.give(ended(first.get(0).id(), "resolved", "A", 1));
        Command.StartPage fourth = play.only(Command.StartPage.class);
        play.give(ended(fourth.id(), "resolved", "D", 1)).give(ended(third.id(), "resolved", "C", 1));
        assertThat(play.state.caseState()).isEqualTo("resolved");
        var all = play.state.saved().get("all").value();
        assertThat(List.of(0, 1, 2, 3))
                .extracting(i -> all.path(i).path("gives").path("ship").asString())
                .containsExactly("A", "B", "C", "D");
        assertThat(play.state.calls()).isEqualTo(5);
    }

    @Test
    void trouleWithOneItemEndsItUnlessThePageSaysGoOn() {
        Play stops = each("on: { trouble: hand over }\n");
        stops.give(ended(started(stops).get(0).id(), "with-people", "", 1));
        assertThat(stops.state.caseState()).isEqualTo("with-people");
        Play goesOn = each("on-item-trouble: go on\n");
        goesOn.give(ended(started(goesOn).get(0).id(), "with-people", "", 1));
        for (int i = 0; i < 3; i++) {
            goesOn.give(ended(started(goesOn).get(0).id(), "resolved", "x", 1));
        }
        assertThat(goesOn.state.caseState()).isEqualTo("resolved");
        assertThat(goesOn.state
                        .saved()
                        .get("all")
                        .value()
                        .path(0)
                        .path("outcome")
                        .asString())
                .isEqualTo("trouble");
    }

    // pursue

    private static final String PURSUE = step("Find", """
            pursue: the booking's ship
            tools:
              - fares.find-booking: { reference: "${case.fields.booking}" }
              - fares.find-sailing
            answer: { ship: text, sailed: yes/no }
            save: result
            on: { refused: hand over, exhausted: hand over }
            """) + DONE;

    private static Play pursue(String more) {
        return play("starts: []\n", PURSUE.replace("save: result", more + "save: result"));
    }

    private static RunInput wants(Play play, String tool, String args) {
        return new RunInput.ModelCalled(
                play.only(Command.AskModel.class).id(), "m", List.of(new Wanted("c1", tool, Play.read(args))), 10);
    }

    @Test
    void aModelWorksWithToolsThroughTheGate() {
        Play play = pursue("").start();
        assertThat(play.only(Command.AskModel.class)
                        .prompt()
                        .tools()
                        .get(0)
                        .inputs()
                        .path("properties")
                        .has("reference"))
                .as("a fixed input isn't offered")
                .isFalse();
        play.give(wants(play, "fares.find-booking", "{\"reference\":\"SK-00000\"}"));
        assertThat(play.only(Command.CallTool.class)
                        .call()
                        .args()
                        .path("reference")
                        .asString())
                .as("what is fixed stays fixed")
                .isEqualTo("SK-48213");
        play.answerTool(Play.BOOKING);
        assertThat(play.only(Command.AskModel.class).prompt().exchanges().get(0).result())
                .contains("Grey Heron");
        play.give(wants(play, "fares.find-sailing", "{\"number\":\"S-311\"}"));
        assertThat(play.only(Command.CallTool.class).call().input("number").originsAt(""))
                .as("the model took it from the lookup")
                .containsExactly(Origin.LOOKUP);
        assertThat(play.only(Command.CallTool.class).call().places())
                .containsEntry("number", "answer 1.sailing.number");
        assertThat(play.logged("call-proposed").path("places").path("number").asString())
                .isEqualTo("answer 1.sailing.number");
        play.answerTool(SAILING).answerModel("{\"ship\":\"Grey Heron\",\"sailed\":true,\"reason\":\"r\",\"sure\":0.9}");
        assertThat(read(play, "result", "ship")).isEqualTo("Grey Heron");
        assertThat(play.state.caseState()).isEqualTo("resolved");
    }

    @Test
    void refusedCallsAreToldAndThreeInARowEndIt() {
        Play play = pursue("").start();
        for (int i = 0; i < 2; i++) {
            play.give(wants(play, "fares.pay-refund", "{}"));
            assertThat(play.only(Command.AskModel.class)
                            .prompt()
                            .exchanges()
                            .get(i)
                            .result())
                    .startsWith("refused");
        }
        play.give(wants(play, "fares.pay-refund", "{}"));
        assertThat(play.state.caseState()).isEqualTo("with-people");
    }

    @Test
    void aNumberTheModelMadeUpHasNoOriginButTheModel() {
        Play play = pursue("").start();
        play.give(wants(play, "fares.find-sailing", "{\"number\":\"S-999\"}"));
        assertThat(play.only(Command.CallTool.class).call().input("number").originsAt(""))
                .containsExactly(Origin.MODEL);
    }

    @Test
    void whatTheStepHasConfirmedIsAskedAboutThoughTheMandateAllowsIt() {
        Play play = pursue("confirm: [fares.find-sailing]\n").start();
        play.give(wants(play, "fares.find-booking", "{}"));
        play.answerTool(Play.BOOKING);
        play.give(wants(play, "fares.find-sailing", "{\"number\":\"S-311\"}"));
        assertThat(play.commands).noneMatch(Command.CallTool.class::isInstance);
        assertThat(play.logged("verdict").toString()).contains("but the step has people confirm it");
        play.approve();
        assertThat(play.only(Command.CallTool.class).call().tool()).isEqualTo("fares.find-sailing");
    }

    @Test
    void whoeverTakesOverReadsWhatWasTried() {
        Play play = pursue("limits: { calls: 2 }\n").start();
        play.give(wants(play, "fares.find-booking", "{}")).answerTool(Play.BOOKING);
        play.give(wants(play, "fares.pay-refund", "{\"amount\":9}"));
        String note = play.commands.stream()
                .filter(Command.NoteForStaff.class::isInstance)
                .map(command -> ((Command.NoteForStaff) command).text())
                .findFirst()
                .orElseThrow();
        assertThat(note)
                .startsWith("Purser tried: ")
                .contains("fares.find-booking", "fares.pay-refund (amount 9): refused: there is no tool");
        assertThat(play.state.caseState()).isEqualTo("with-people");
    }

    @Test
    void whatModelsCostAddsUpWhereTheyHaveAPrice() {
        Play play = pursue("").start();
        assertThat(play.state.used().cost()).isNull();
        play.give(new RunInput.ModelCalled(
                play.only(Command.AskModel.class).id(),
                "m",
                List.of(new Wanted("c1", "fares.find-booking", Json.object())),
                10,
                new BigDecimal("0.25")));
        play.answerTool(Play.BOOKING);
        play.give(new RunInput.ModelAnswered(
                play.only(Command.AskModel.class).id(),
                "m",
                Play.read("{\"ship\":\"Grey Heron\",\"sailed\":true,\"reason\":\"r\",\"sure\":0.9}"),
                10,
                null,
                new BigDecimal("0.5")));
        assertThat(play.state.used().cost()).isEqualByComparingTo("0.75");
        assertThat(play.logged("pursued").path("cost").decimalValue()).isEqualByComparingTo("0.5");
    }

    @Test
    void callsOfAPursuitAreLimited() {
        Play play = pursue("limits: { calls: 1 }\n").start();
        play.give(wants(play, "fares.find-booking", "{}")).answerTool(Play.BOOKING);
        assertThat(play.logged("problem").path("problem").asString()).isEqualTo("exhausted");
    }

    @Test
    void aDocumentOfAnotherTypeDoesntEndTheWait() {
        Play play = play(step("Wait", "await: document\ntype: [pdf]\nsave: sent") + DONE)
                .start();
        String wait = play.state.pending().id();
        play.give(new RunInput.Arrived(
                wait, TracedValue.of(Json.object().put("name", "a.png").put("type", "image/png"), Origin.REQUESTER)));
        assertThat(play.state.pending().id()).isEqualTo(wait);
        assertThat(play.logged("arrived").path("instead").asString()).isEqualTo("image/png");
        play.give(new RunInput.Arrived(
                wait,
                TracedValue.of(Json.object().put("name", "a.pdf").put("type", "application/pdf"), Origin.REQUESTER)));
        assertThat(play.state.caseState()).isEqualTo("resolved");
    }

    @Test
    void aModelThatKnowsTooLittleSaysSoByAWayOfItsOwn() {
        String nothing = "{\"text\":\"Hm.\",\"reason\":\"nobody says when\",\"sure\":0}";
        Play named = play(step("Write", "draft: text\nsave: news\non: { too-little: done }") + DONE)
                .start();
        named.answerModel(nothing);
        assertThat(named.state.problem().name()).isEqualTo("too-little");
        assertThat(named.state.problem().detail()).isEqualTo("nobody says when");
        assertThat(named.state.saved()).isEmpty();
        assertThat(named.state.caseState()).isEqualTo("resolved");
        Play unnamed = play(step("Write", "draft: text\nsave: news") + DONE).start();
        unnamed.answerModel(nothing);
        assertThat(unnamed.state.caseState()).isEqualTo("with-people");
        Play judged = play(ASSESS).start();
        judged.answerModel("{\"mood\":\"calm\",\"days\":2,\"heart\":\"Hm.\",\"reason\":\"r\",\"sure\":0}");
        assertThat(judged.state.problem().name())
                .as("the step has a way for what is unsure")
                .isEqualTo("unsure");
    }

    private static final String PAYS = step("Find", """
            pursue: pay it back
            tools: [fares.find-booking, fares.pay-refund]
            answer: { done: yes/no }
            save: result
            on: { refused: hand over, exhausted: hand over }
            """) + DONE;

    private static final String SAYS_DONE = "{\"done\":true,\"reason\":\"r\",\"sure\":0.9}";

    @Test
    void anEndThatClaimsWhatNeverHappenedIsntTaken() {
        Play play = play("starts: []\n", PAYS).start();
        play.give(wants(
                play, "fares.pay-refund", "{\"reference\":\"SK-48213\",\"amount\":9000,\"reason\":\"goodwill\"}"));
        play.answerModel(SAYS_DONE);
        assertThat(play.state.problem().name()).isEqualTo("refused");
        assertThat(play.state.problem().detail()).contains("nothing it tried was", "fares.pay-refund, refused");
        assertThat(play.state.caseState()).isEqualTo("with-people");
        assertThat(play.state.saved()).doesNotContainKey("result");
    }

    @Test
    void whoeverOnlyLookedMayEnd() {
        Play play = play("starts: []\n", PAYS).start();
        play.give(wants(play, "fares.find-booking", "{\"reference\":\"SK-48213\"}"));
        play.failTool("not-found");
        play.answerModel(SAYS_DONE);
        assertThat(play.state.caseState()).isEqualTo("resolved");
    }

    @Test
    void aModelThatGoesRoundInCirclesIsStopped() {
        Play play = play("starts: []\n", PAYS).start();
        for (int i = 0; i < 3; i++) {
            play.give(wants(play, "fares.find-booking", "{\"reference\":\"SK-48213\"}"));
            play.failTool("not-found");
        }
        play.give(wants(play, "fares.find-booking", "{\"reference\":\"SK-48213\"}"));
        assertThat(play.state.problem().name()).isEqualTo("exhausted");
        assertThat(play.state.problem().detail()).contains("round in circles");
    }
}

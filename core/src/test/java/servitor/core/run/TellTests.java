package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.DemoHandbook;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Finding;

/** Who is told something, and in which way. */
class TellTests {
    private static final String DESKS = """
            desks:
              passengers:
                title: Passenger desk
                mail: { connection: outgoing, from: passengers@line.example, name: Passenger desk }
              it: { title: IT desk, room: harbour }
              people: People desk
            groups: { colleagues: Everybody, duty-managers: { title: Duty managers, room: harbour }, payroll-leads: P, it-resolvers: I,
              people-partners: P, safety-officers: S, auditors: A, machines: M }
            rooms:
              harbour: { title: The harbour, connection: chat }
            """;

    private static Map<String, String> files(String tell) {
        Map<String, String> files = DemoHandbook.files();
        files.put("desks.yaml", DESKS);
        files.put("runbooks/say.md", """
                ---
                title: Say
                desk: passengers
                agent: purser
                ---
                ## Say it
                ```step
                %s
                ```

                ## Done
                ```step
                finish: resolved
                ```
                """.formatted(tell));
        files.put("mandates/tells.yaml", """
                title: Tells
                for: [purser]
                ask: duty-managers
                grants:
                  - { name: tell, tools: ["case.*", "fares.*"], verdict: allow }
                """);
        files.remove("mandates/purser.yaml");
        return files;
    }

    private static Play play(String tell, String channel) {
        Play play = new Play(DemoHandbook.edition(files(tell)), "say");
        play.channel = channel;
        return play.start();
    }

    /** It isn't known whether the mail went out, and the time to look has come. */
    private static void inDoubt(Play play) {
        play.give(new RunInput.ToolInDoubt(play.only(Command.CallTool.class).id(), "nothing came back"));
        play.give(new RunInput.TimeUp(play.only(Command.SetTimer.class).id()));
    }

    @ParameterizedTest
    @CsvSource({
        "requester, same-way, note, case.reply, ",
        "requester, same-way, webhook, case.reply, ",
        "requester, same-way, mail, case.mail, requester",
        "requester, note, mail, case.reply, ",
        "requester, mail, note, case.mail, requester",
        "duty-managers, mail, note, case.mail, duty-managers",
        "duty-managers, chat, note, case.chat, duty-managers",
        "it, chat, note, case.chat, it",
        "it, note, note, case.note, it",
        "person:teun, note, note, case.note, person:teun",
        "person:ines, mail, note, case.mail, requester",
        "'${requester.manager}', mail, note, case.mail, person:osei",
    })
    void whoeverIsToldIsToldByOneTool(String to, String by, String came, String tool, String told) {
        var call = play("tell: \"" + to + "\"\nby: " + by + "\ntext: The boat is back.", came)
                .only(Command.CallTool.class)
                .call();
        assertThat(call.tool()).isEqualTo(tool);
        assertThat(call.args().path("to").asString("")).isEqualTo(told == null ? "" : told);
        assertThat(call.args().path("text").asString()).isEqualTo("The boat is back.");
    }

    @Test
    void aMailThatMayHaveGoneOutIsLookedFor() {
        Play play = play("tell: requester\nby: mail\ntext: The boat is back.", "note");
        inDoubt(play);
        var look = play.only(Command.CallTool.class).call();
        assertThat(look.tool()).isEqualTo("case.find-mail");
        assertThat(look.args().path("key").asString()).isNotBlank();
        play.answerTool("{\"found\":true}");
        assertThat(play.state.status()).isEqualTo(RunStatus.FINISHED);
    }

    @Test
    void aMailThatIsNotFoundWhereCopiesAreFiledIsSentOnceMoreByAnotherKey() {
        Play play = play("tell: requester\nby: mail\ntext: The boat is back.", "note");
        String key = play.only(Command.CallTool.class).key();
        inDoubt(play);
        play.answerTool("{\"found\":false}");
        assertThat(play.only(Command.CallTool.class).call().tool()).isEqualTo("case.mail");
        assertThat(play.only(Command.CallTool.class).key()).isNotEqualTo(key);
    }

    @Test
    void aMailOfWhichNothingIsKnownIsAskedAbout() {
        Play play = play("tell: requester\nby: mail\ntext: The boat is back.", "note");
        inDoubt(play);
        play.failTool("unavailable");
        assertThat(play.state.status()).isEqualTo(RunStatus.IN_DOUBT);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "tell: everybody\\nby: note | everybody",
                "tell: it\\nby: same-way | Only the requester came some way",
                "tell: it | Only the requester came some way",
                "tell: people\\nby: chat | ‘people’ has no room",
                "tell: requester\\nby: chat | Only desks and groups have rooms",
                "tell: person:ewan\\nby: chat | Only desks and groups have rooms",
                "tell: '${requester.id}'\\nby: note | one of the people of the house",
                "tell: requester\\nby: pigeon | There is no channel ‘pigeon’",
            })
    void whoeverCantBeToldIsAFinding(String tell, String what) {
        assertThat(CheckedHandbook.of(files(tell.replace("\\n", "\n") + "\ntext: x"))
                        .findings())
                .extracting(Finding::what)
                .anyMatch(said -> said.contains(what));
    }

    @Test
    void aDeskThatSendsNoMailsTellsNobodyByMail() {
        Map<String, String> files = files("tell: requester\nby: mail\ntext: x");
        files.computeIfPresent("runbooks/say.md", (name, page) -> page.replace("desk: passengers", "desk: it"));
        assertThat(CheckedHandbook.of(files).findings())
                .extracting(Finding::what)
                .contains("The desk ‘it’ sends no mails.");
    }

    @Test
    void whoeverComesByMailAndIsToldByANoteIsAFinding() {
        Map<String, String> files = files("tell: requester\ntext: x");
        files.computeIfPresent("runbooks/say.md", (name, page) -> page.replace("desk: passengers", "desk: it"));
        files.put("intake/it-mail.yaml", "title: IT\nfrom: mail\nconnection: in\nkind: locked-out\n");
        assertThat(CheckedHandbook.of(files).findings())
                .extracting(Finding::what)
                .anyMatch(said -> said.contains("told by a note all the same"));
    }

    @Test
    void whatIsNotGrantedIsFoundBeforehand() {
        Map<String, String> files = files("tell: requester\nby: mail\ntext: x");
        files.computeIfPresent("mandates/tells.yaml", (name, mandate) -> mandate.replace("\"case.*\"", "case.reply"));
        assertThat(CheckedHandbook.of(files).findings())
                .extracting(Finding::what)
                .anyMatch(said -> said.contains("never allows ‘case.mail’"));
        files.computeIfPresent("mandates/tells.yaml", (name, mandate) -> mandate.replace("case.reply", "case.mail"));
        assertThat(CheckedHandbook.of(files).findings())
                .extracting(Finding::what)
                .anyMatch(said -> said.contains("doesn't allow ‘case.find-mail’"))
                .noneMatch(said -> said.contains("never allows ‘case.mail’"));
    }

    @Test
    void anAcknowledgementSaysWhatIsKnownOfACase() {
        Map<String, String> files = files("tell: requester\ntext: x");
        files.put(
                "intake/refunds.yaml",
                "title: R\nfrom: mail\nconnection: in\nkind: refund\nfields: { booking: SK-48213 }\nacknowledge: \"It is ${case.id}, ${case.nothing}.\"\n");
        assertThat(CheckedHandbook.of(files).findings())
                .extracting(Finding::what)
                .anyMatch(said -> said.contains("nothing"));
        files.put(
                "intake/it-mail.yaml",
                "title: IT\nfrom: mail\nconnection: in\nkind: locked-out\nacknowledge: We have it.\n");
        assertThat(CheckedHandbook.of(files).findings())
                .extracting(Finding::what)
                .contains("The desk ‘it’ sends no mails, so that nothing can be acknowledged.");
    }

    @Test
    void whatIsSentToARoomIsChecked() {
        Map<String, String> files = files("tell: requester\ntext: x");
        files.computeIfPresent(
                "desks.yaml",
                (name, text) ->
                        text.replace("connection: chat }", "connection: chat, body: { text: \"${message.words}\" } }"));
        assertThat(CheckedHandbook.of(files).findings())
                .extracting(Finding::what)
                .anyMatch(said -> said.contains("words"));
    }
}

package servitor.core.handbook.check;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Intake;
import servitor.core.handbook.finding.Finding;
import servitor.core.intake.OutsideEvent;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;

/** Intake files: what checking says of them, and what becomes of messages. */
class IntakeTests {
    private static final String FILE = "intake/harbour-kiosks.yaml";
    private static final String NOW = "2026-06-01T10:00:00Z";

    private static final String HEAD = """
            title: Orders
            from: webhook
            kind: refund
            message: { id: whole number, booking: text, price: number }
            """;

    private static CheckedHandbook checked(String text) {
        Map<String, String> files = DemoHandbook.files();
        files.put(FILE, text);
        return CheckedHandbook.of(files);
    }

    private static List<String> codes(String text) {
        return checked(text).findings().stream()
                .filter(finding -> finding.place().file().equals(FILE))
                .map(finding -> finding.place().line() + " " + finding.code())
                .toList();
    }

    private static Intake.Outcome read(String text, String message) {
        CheckedHandbook checked = checked(text);
        assertThat(checked.findings()).as("findings").noneMatch(f -> f.severity() == Finding.Severity.ERROR);
        return checked.handbook().intake().get("harbour-kiosks").read(Json.read(message, JsonNode.class), NOW);
    }

    @Test
    void everyExpressionIsCheckedAgainstTheMessageAndEveryFieldAgainstTheKind() {
        assertThat(codes(HEAD + """
                        when: message.prise > 1.0
                        once-per: "${massage.id}"
                        subject: "Order ${message.id}"
                        fields: { booking: "${message.price}", bookink: "${message.booking}" }
                        """))
                .containsExactly("5 unknown-field", "6 unknown-name", "8 input-value", "8 unknown-field");
        assertThat(codes("title: Orders\nfrom: webhook\nkind: refunt\n")).contains("1 missing-key", "3 unknown-kind");
        assertThat(codes(HEAD + "subject: x\nwhen: message.id\nfields: { booking: SK-1000 }\n"))
                .containsExactly("6 types");
    }

    @Test
    void aMessageIsCutDownToWhatIsDeclaredAndFillsACase() {
        Intake.Outcome outcome =
                read(HEAD + """
                        when: message.price >= 80.0
                        once-per: "${message.id}"
                        subject: "Order ${message.id}"
                        fields: { booking: "${message.booking}" }
                        """, "{\"id\": 7, \"booking\": \"SK-4821\", \"price\": 80, \"secret\": {\"deep\": [1]}}");
        assertThat(outcome)
                .isEqualTo(new Intake.Asked(
                        Json.read("{\"id\": 7, \"booking\": \"SK-4821\", \"price\": 80.0}", JsonNode.class),
                        "7",
                        null,
                        "Order 7",
                        "",
                        null,
                        Map.of("booking", Json.of("SK-4821")),
                        Map.of()));
    }

    @Test
    void aMessageThatDoesNotFitIsSaidToBeSo() {
        String file = HEAD + "subject: x\nwhen: 100.0 / message.price > 1.0\nfields: { booking: SK-1000 }\n";
        assertThat(read(file, "{\"id\": 7, \"booking\": \"SK-4821\", \"price\": 500}"))
                .isInstanceOf(Intake.LeftOut.class);
        for (String message : List.of("[]", "null", "\"x\"", "{}", "{\"id\": \"7\", \"booking\": [], \"price\": {}}")) {
            assertThat(read(file, message)).as(message).isInstanceOf(Intake.Unreadable.class);
        }
    }

    @Test
    void whatAMailHoldsIsKnownAndCheckedLikeEverythingElse() {
        String mail = "title: Lost\nfrom: mail\nconnection: mailbox\nkind: lost-thing\n";
        assertThat(codes(mail + "fields: { thing: \"${message.subject}\" }\n")).isEmpty();
        assertThat(codes(mail + "when: message.proof == 'verifyed'\nfields: { thing: \"${message.subjekt}\" }\n"))
                .contains("6 unknown-field");
        assertThat(codes(mail + "message: { id: text }\nonce-per: x\nfields: { thing: x }\n"))
                .containsExactly("5 intake", "6 intake");
        assertThat(codes("title: Lost\nfrom: mail\nkind: lost-thing\nfields: { thing: x }\n"))
                .containsExactly("1 missing-key");
        assertThat(codes(HEAD + "subject: x\nfolder: INBOX\nfields: { booking: SK-1000 }\n"))
                .contains("6 intake");

        Intake.Outcome outcome = read(
                mail
                        + "when: message.attachments.exists(a, a.type == 'image/png')\nfields: { thing: \"${message.subject}\" }\n",
                """
                {"from": "ines@skerryline.example", "name": "", "to": [], "cc": [], "subject": "A scarf", "text": "Red.",
                 "folder": "INBOX", "language": "", "size": 100, "proof": "claimed", "headers": [],
                 "attachments": [{"name": "a.png", "type": "image/png", "size": 3}]}
                """);
        assertThat(outcome).isInstanceOfSatisfying(Intake.Asked.class, asked -> {
            assertThat(asked.requester()).isEqualTo("ines@skerryline.example");
            assertThat(asked.subject()).isEqualTo("A scarf");
            assertThat(asked.text()).isEqualTo("Red.");
        });
    }

    private static final String LOST = """
            title: Lost
            from: webhook
            connection: kiosk-hooks
            kind: lost-thing
            message: { number: text, thing: text }
            requester: ines
            subject: "${message.thing}"
            fields: { thing: "${message.thing}" }
            """;

    @Test
    void whatAMessageBelongsToIsCheckedAgainstOpenCasesOfItsKind() {
        String ends =
                "belongs-to: case.fields.thing == message.thing && case.requester == 'ines'\ncount-within: PT30M\n";
        assertThat(codes(LOST + ends)).isEmpty();
        assertThat(codes(LOST + ends.replace("fields.thing", "fields.booking"))).containsExactly("9 unknown-field");
        assertThat(codes(LOST + ends.replace("message.thing", "message.text"))).containsExactly("9 unknown-field");
        assertThat(codes(LOST + "belongs-to: event.subject in case.relations.item\n"))
                .isEmpty();
        assertThat(codes(LOST + "belongs-to: message.thing\n")).containsExactly("9 types");
        assertThat(codes(LOST + "belongs-to: new-case\ncount-within: PT30M\n")).containsExactly("10 intake");
        assertThat(codes(LOST + "count-within: soon\n")).contains("9 duration");
        assertThat(codes(LOST + "acknowledge: We have it.\n")).containsExactly("9 intake");
        assertThat(codes(LOST.replace("requester: ines\n", ""))).containsExactly("3 missing-key");
        assertThat(codes(LOST + "relations: { item: \"${event.subjekt}\" }\n")).containsExactly("9 unknown-field");
    }

    @Test
    void aMessageSaysWhichOpenCaseItIsAbout() {
        String file = LOST + """
                once-per: "${event.source} ${message.number}"
                relations: { item: "${event.subject}" }
                belongs-to: event.subject in case.relations.item || case.fields.thing == message.thing
                """;
        Intake intake = checked(file).handbook().intake().get("harbour-kiosks");
        OutsideEvent event = new OutsideEvent(
                "1",
                "/kiosks/2",
                "lost",
                "K-7",
                "",
                Json.object().put("number", "7").put("thing", "a scarf"));
        Intake.Asked asked = (Intake.Asked) intake.read(event, NOW);
        assertThat(asked.key()).isEqualTo("/kiosks/2 7");
        assertThat(asked.relations()).isEqualTo(Map.of("item", "K-7"));
        assertThat(intake.about(asked, event, NOW).test(open("a scarf", "none")))
                .isTrue();
        assertThat(intake.about(asked, event, NOW).test(open("a hat", "K-7"))).isTrue();
        assertThat(intake.about(asked, event, NOW).test(open("a hat", "K-8"))).isFalse();
        assertThat(intake.about(asked, event, NOW).test(Json.object()))
                .as("a condition without a value")
                .isFalse();
    }

    @Test
    void aScheduleSaysWhenAndForWhom() {
        String round = """
                title: Round
                from: schedule
                cron: "30 6 * * 1-5"
                kind: complaint
                requester: ines
                subject: "Round of ${message.date}"
                """;
        assertThat(codes(round)).isEmpty();
        assertThat(codes(round.replace("30 6 * * 1-5", "soon"))).containsExactly("3 intake");
        assertThat(codes(round.replace("cron:", "crone:"))).contains("1 missing-key");
        assertThat(codes(round.replace("requester: ines\n", ""))).containsExactly("3 missing-key");
        assertThat(codes(round.replace("message.date", "message.day"))).containsExactly("6 unknown-field");
        assertThat(codes(round + "message: { id: text }\n")).containsExactly("7 intake");
        assertThat(codes(LOST + "cron: \"30 6 * * *\"\n")).containsExactly("9 intake");
    }

    @Test
    void aLineHoldsTheGroupsOfItsPattern() {
        String lines = """
                title: Log
                from: lines
                pattern: "ERROR (?P<unit>[a-z]+)"
                kind: complaint
                subject: "${message.unit}: ${message.line}"
                """;
        assertThat(codes(lines)).isEmpty();
        assertThat(codes(lines.replace("message.unit", "message.level"))).containsExactly("5 unknown-field");
        assertThat(codes(lines.replace("(?P<unit>[a-z]+)", "("))).contains("3 intake");
        assertThat(codes(lines + "message: { unit: text }\n")).containsExactly("6 intake");
        assertThat(codes(lines + "once-per: \"${message.unit}\"\n")).containsExactly("6 intake");
        assertThat(codes(lines.replaceFirst("pattern: .*\n", ""))).contains("1 missing-key");
    }

    @Test
    void whatIsNotReadOfAMessageIsKnown() {
        Intake intake = checked(HEAD.replace("price: number }", "price: number, order: { item: text } }")
                        + "subject: x\nfields: { booking: SK-1000 }\n")
                .handbook()
                .intake()
                .get("harbour-kiosks");
        assertThat(intake.ignored(Json.read(
                        "{\"id\": 7, \"more\": {\"a\": 1}, \"order\": {\"item\": \"x\", \"note\": 1}}",
                        JsonNode.class)))
                .containsExactly("more", "order.note");
        assertThat(intake.ignored(Json.of("a text"))).isEmpty();
    }

    private static JsonNode open(String thing, String item) {
        var known = Json.object().put("id", "C-1").put("requester", "ines");
        known.putObject("fields").put("thing", thing);
        known.putObject("relations").putArray("item").add(item);
        return known;
    }

    @Test
    void aTextThatHasToBeTheSameRulesOutWhatTheConditionWouldRuleOut() {
        String file = LOST + "belongs-to: event.subject in case.relations.item && case.fields.thing == message.thing\n";
        Intake intake = checked(file).handbook().intake().get("harbour-kiosks");
        OutsideEvent event = new OutsideEvent(
                "1",
                "/kiosks/2",
                "lost",
                "K-7",
                "",
                Json.object().put("number", "7").put("thing", "a scarf"));
        var about = intake.about((Intake.Asked) intake.read(event, NOW), event, NOW);
        assertThat(about.test(open("a scarf", "K-7"))).isTrue();
        assertThat(about.test(open("a hat", "K-7"))).isFalse();
        assertThat(about.test(open("a scarf", "K-8"))).isFalse();
        assertThat(about.test(Json.object())).isFalse();
    }

    @Test
    void whoeverWaitsForTheMessagesOfAnIntakeKnowsWhatTheyHold() {
        Map<String, String> files = DemoHandbook.files();
        files.put(FILE, LOST);
        String waits = """
                ---
                title: Waits
                desk: passengers
                agent: purser
                starts:
                  - on: case-changed
                    kind: lost-thing
                    to: resolved
                ---

                ## wait
                ```step
                await: event
                named: harbour-kiosks
                within: P1D
                save: told
                go: { arrived: tell it, expired: hand over }
                ```

                ## tell it
                ```step
                finish: resolved
                summary: "${told.data.%s}"
                ```
                """;
        files.put("runbooks/waits.md", waits.formatted("thing"));
        assertThat(of(files)).isEmpty();
        files.put("runbooks/waits.md", waits.formatted("think"));
        assertThat(of(files)).containsExactly("unknown-field");
    }

    private static List<String> of(Map<String, String> files) {
        return CheckedHandbook.of(files).findings().stream()
                .filter(finding -> finding.place().file().equals("runbooks/waits.md"))
                .map(finding -> finding.code().toString())
                .toList();
    }
}

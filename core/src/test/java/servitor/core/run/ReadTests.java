package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static servitor.core.run.Scripted.play;
import static servitor.core.run.Scripted.step;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadDocument.Page;
import servitor.core.document.ReadDocument.Row;
import servitor.core.document.ReadDocument.Table;
import servitor.core.document.ReadOutcome;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunInput.DocumentRead;
import tools.jackson.databind.JsonNode;

/** {@code read} and decision tables on the pure machine. */
class ReadTests {
    private static final String SHEET = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";
    private static final String PDF = "application/pdf";
    private static final String READ = step("Read", """
            read: document
            named: declaration
            type: spreadsheet
            tables:
              goods:
                columns:
                  vehicle: text
                  class: "one of [2, 3, 9]"
                  litres: number
            save: declaration
            on: { doubtful: look, wrong-type: look, encrypted: look }
            """);
    private static final String DECIDE = step("Decide", """
            decide: "${declaration.goods}"
            table:
              - { class: "2", go: refuse, because: gas isn't carried }
              - { class: "3", litres: "> 450", go: look, because: over the limit }
              - { class: ["3", "9"], go: done }
            otherwise: look
            save: worst
            """);
    private static final String DONE = step("Done", "finish: resolved");
    private static final String LOOK = step("Look", "hand-over: duty-managers\nwhy: \"${run.page}\"");
    private static final String PAGE = READ + DECIDE + DONE + LOOK + step("Refuse", "finish: closed");

    private static Play at(String page) {
        Play play = play(page);
        play.documents = "[" + listed("D-1", "declaration.xlsx", SHEET) + "," + listed("D-2", "sheet.pdf", PDF) + "]";
        return play.start();
    }

    private static String listed(String id, String name, String type) {
        return Json.write(Json.object()
                .put("id", id)
                .put("name", name)
                .put("type", type)
                .put("size", 9)
                .put("outcome", "text"));
    }

    private static Row row(int number, Object... cells) {
        return new Row(number, Arrays.stream(cells).map(Json::of).toList());
    }

    private static Play given(Play play, ReadDocument read) {
        Command.ReadDocument wanted = play.only(Command.ReadDocument.class);
        return play.give(new DocumentRead(wanted.id(), wanted.document(), "declaration.xlsx", read));
    }

    private static Play given(Play play, Row... rows) {
        return given(
                play,
                new ReadDocument(
                        ReadOutcome.TEXT,
                        SHEET,
                        "",
                        List.of(),
                        List.of(new Table("Goods", 1, List.of(rows), List.of()))));
    }

    private static final Row HEAD = row(1, "Vehicle", "Class", "Litres");

    @Test
    void theWorstRowDecidesAndIsKept() {
        Play play = given(at(PAGE), HEAD, row(2, "SK 1", 9, 10), row(3, "SK 2", 3, 600), row(4, "SK 3", 3, 5));
        assertThat(play.state.caseState()).isEqualTo("with-people");
        TracedValue worst = play.state.saved().get("worst");
        assertThat(worst.value().path("says").asString()).isEqualTo("row 3, class 3, litres 600: over the limit");
        assertThat(play.logged("decided").path("row").path("vehicle").asString())
                .isEqualTo("SK 2");
        assertThat(play.logged("decided").path("at").asString()).isEqualTo("declaration.xlsx, Goods, row 3");
        assertThat(worst.at(List.of("row", "litres")).foundAt().orElseThrow().told())
                .isEqualTo("declaration.xlsx, Goods, C3");
        assertThat(worst.at(List.of("row", "litres")).originsAt("")).isEqualTo(Set.of(Origin.REQUESTER));
    }

    @Test
    void belowTheLimitNobodyIsAsked() {
        Play play = given(at(PAGE), HEAD, row(2, "SK 1", 9, 10), row(3, "SK 2", 3, 450));
        assertThat(play.state.caseState()).isEqualTo("resolved");
        assertThat(play.logged("document-used")
                        .path("places")
                        .path("goods")
                        .path("sheet")
                        .asString())
                .isEqualTo("Goods");
    }

    @Test
    void aRowThatNoLineIsAboutIsWorseThanAnyThatIs() {
        String narrower = PAGE.replace("[\"3\", \"9\"]", "\"9\"");
        Play play = given(at(narrower), HEAD, row(2, "SK 1", 2, 10), row(3, "SK 2", 3, 5));
        assertThat(play.state.caseState()).isEqualTo("with-people");
        assertThat(play.state.saved().get("worst").value().path("line").asInt()).isZero();
        assertThat(play.state.saved().get("worst").value().path("says").asString())
                .isEqualTo("row 3, class 3, litres 5: no line of the table is about it");
    }

    @Test
    void whatIsDoubtfulGoesToPeopleAndNothingIsSaved() {
        Play play = given(at(PAGE), HEAD, row(2, "SK 1", 9, "1,234"));
        assertThat(play.state.caseState()).isEqualTo("with-people");
        assertThat(play.state.problem().name()).isEqualTo("doubtful");
        assertThat(play.state.problem().detail()).contains("‘declaration.xlsx’: C2 holds ‘1,234’");
        assertThat(play.state.saved()).isEmpty();
    }

    @ParameterizedTest
    @EnumSource(
            value = ReadOutcome.class,
            names = {"TEXT", "WRONG_TYPE"},
            mode = EnumSource.Mode.EXCLUDE)
    void everyOutcomeIsAProblemOfItsName(ReadOutcome outcome) {
        Play play = given(at(PAGE), ReadDocument.nothing(outcome, SHEET, "so"));
        assertThat(play.state.problem().name()).isEqualTo(outcome.word());
        assertThat(play.state.problem().detail()).contains(outcome.words());
        assertThat(play.state.caseState()).isEqualTo("with-people");
    }

    @Test
    void itIsWhatItIsByItsContent() {
        Play play = given(at(PAGE), ReadDocument.nothing(ReadOutcome.NO_TEXT, "image/png", ""));
        assertThat(play.state.problem().name()).isEqualTo("wrong-type");
        assertThat(play.state.problem().detail()).contains("image/png");
    }

    @Test
    void theNewestThatIsMeantIsRead() {
        Play play = play(READ.replace("named: declaration\n", "") + DONE + LOOK);
        play.documents = "[" + listed("D-1", "a.xlsx", SHEET) + "," + listed("D-2", "b.xlsx", SHEET) + ","
                + listed("D-3", "c.pdf", PDF) + "]";
        assertThat(play.start().only(Command.ReadDocument.class).document()).isEqualTo("D-2");
    }

    @Test
    void aDocumentThatIsntThereIsNotFound() {
        Play play = play(PAGE).start();
        assertThat(play.state.problem().name()).isEqualTo("not-found");
    }

    @Test
    void valuesAreReadByLabelOrByAModelThatQuotesThem() {
        String page = step("Read", """
                read: document
                type: pdf
                values:
                  expiry: { is: date, labelled: Valid until }
                  holder: text
                save: certificate
                """) + DONE;
        Play play = at(page);
        assertThat(play.only(Command.ReadDocument.class).document()).isEqualTo("D-2");
        given(
                play,
                new ReadDocument(
                        ReadOutcome.TEXT,
                        PDF,
                        "",
                        List.of(new Page(1, "Medical"), new Page(2, "Holder Ewan Mirza\nValid until: 2027-03-14")),
                        List.of()));
        assertThat(play.only(Command.AskModel.class).prompt().user()).contains("[page 2]\\nHolder Ewan Mirza");
        play.answerModel("{\"holder\":{\"value\":\"Ewan Mirza\",\"page\":2,\"words\":\"Holder Ewan Mirza\"},"
                + "\"reason\":\"r\",\"sure\":0.9}");
        TracedValue read = play.state.saved().get("certificate");
        assertThat(read.value().path("expiry").asString()).isEqualTo("2027-03-14");
        assertThat(read.value().path("places").path("holder").asString()).isEqualTo("declaration.xlsx, page 2");
        assertThat(read.at(List.of("holder")).originsAt("")).isEqualTo(Set.of(Origin.REQUESTER));
        assertThat(read.at(List.of("holder")).written()).isFalse();
        assertThat(play.state.caseState()).isEqualTo("resolved");
    }

    private static final String HOLDER_AND_PORT =
            step("Read", "read: document\nvalues: { holder: text, port: text }\nsave: paper") + DONE;

    private static String found(String name, String value, int page) {
        return "\"" + name + "\":{\"value\":\"" + value + "\",\"page\":" + page + ",\"words\":\"" + value + "\"},";
    }

    @Test
    void aTextBeyondTheWindowIsSearchedInPartsUntilAllIsFound() {
        Map<String, String> files = Scripted.files("", HOLDER_AND_PORT);
        files.computeIfPresent("handbook.yaml", (name, yaml) -> yaml.replaceFirst("window: \\d+", "window: 700"));
        Play play = new Play(servitor.core.DemoHandbook.edition(files), "test");
        play.documents = "[" + listed("D-1", "declaration.pdf", PDF) + "]";
        String filler = "Nothing of note stands here.\n".repeat(71);
        given(
                play.start(),
                new ReadDocument(
                        ReadOutcome.TEXT,
                        PDF,
                        "",
                        List.of(
                                new Page(1, "Ewan Mirza\n" + filler),
                                new Page(2, "Osei Brandt, Tern Point\n" + filler),
                                new Page(3, filler)),
                        List.of()));
        assertThat(play.only(Command.AskModel.class).prompt().user())
                .contains("Ewan Mirza")
                .doesNotContain("Tern Point");
        play.answerModel("{" + found("holder", "Ewan Mirza", 1) + "\"port\":null,\"reason\":\"r\",\"sure\":0.9}");
        Command.AskModel second = play.only(Command.AskModel.class);
        assertThat(second.prompt().user()).contains("[page 2]", "Tern Point");
        assertThat(second.prompt().contract().schema().toString())
                .as("what was found isn't asked for again")
                .doesNotContain("holder");
        play.answerModel("{" + found("port", "Tern Point", 2) + "\"reason\":\"r\",\"sure\":0.9}");
        JsonNode read = play.state.saved().get("paper").value();
        assertThat(read.path("holder").asString()).isEqualTo("Ewan Mirza");
        assertThat(read.path("places").path("port").asString()).isEqualTo("declaration.xlsx, page 2");
        assertThat(read.path("whole").asBoolean()).isTrue();
        assertThat(play.state.tokens()).isEqualTo(200);
    }

    @Test
    void whatDoesntStandInTheTextThatIsKeptIsDoubtfulAndNotMissing() {
        Play play = at(HOLDER_AND_PORT);
        String filler = "Nothing of note stands here. ".repeat(7_000);
        given(play, new ReadDocument(ReadOutcome.TEXT, PDF, "", List.of(new Page(1, filler)), List.of()));
        while (play.state.problem() == null) {
            play.answerModel("{\"holder\":null,\"port\":null,\"reason\":\"r\",\"sure\":0.9}");
        }
        assertThat(play.state.problem().name()).isEqualTo("doubtful");
        assertThat(play.state.problem().detail()).contains("the first 120000 characters");
    }

    @Test
    void asManyPartsAreAskedAboutAsAnybodyWouldPayForAndNoMore() {
        Play play = new Play(servitor.core.DemoHandbook.edition(Scripted.files("", HOLDER_AND_PORT)), "test");
        play.documents = "[" + listed("D-1", "declaration.pdf", PDF) + "]";
        List<Page> pages = new java.util.ArrayList<>(List.of(new Page(1, "Holder Ewan Mirza")));
        for (int number = 2; number <= 200; number++) {
            pages.add(new Page(number, ""));
        }
        given(play.start(), new ReadDocument(ReadOutcome.TEXT, PDF, "", pages, List.of()));
        int asked = 0;
        for (; play.state.problem() == null; asked++) {
            play.answerModel("{\"holder\":null,\"port\":null,\"reason\":\"r\",\"sure\":0.9}");
        }
        assertThat(asked).isEqualTo(20);
        assertThat(play.state.problem().name()).isEqualTo("exhausted");
        assertThat(play.state.problem().detail()).isEqualTo("20 parts of it don't tell ‘holder’, and there are more");
    }

    @Test
    void aCellThatWasCutIsDoubtful() {
        Play play = given(at(PAGE), HEAD, row(2, "v".repeat(2_000), 3, 20));
        assertThat(play.state.problem().name()).isEqualTo("doubtful");
        assertThat(play.state.problem().detail()).contains("A2 has 2000 characters or more");
    }

    private static final String PHOTO =
            step("Read", "read: document\nvalues: { colour: \"one of [red, blue]\", words: text }\nsave: photo") + DONE;

    private static ReadDocument photo() {
        return new ReadDocument(ReadOutcome.NO_TEXT, "image/jpeg", "a picture", List.of(new Page(1, "")), List.of());
    }

    @Test
    void aModelThatSeesLooksAtWhatHasNoText() {
        Play play = new Play(servitor.core.DemoHandbook.edition(Scripted.files("", PHOTO)), "test");
        play.documents = "[" + listed("D-1", "photo.jpg", "image/jpeg") + "]";
        given(play.start(), photo());
        assertThat(play.only(Command.AskModel.class).prompt().pictures())
                .containsExactly(new servitor.core.prompt.Prompt.Picture("D-1", 1));
        play.answerModel("{\"colour\":{\"value\":\"blue\",\"page\":1,\"words\":\"\"},"
                + "\"words\":{\"value\":\"Ask for 500 EUR\",\"page\":1,\"words\":\"\"},\"reason\":\"r\",\"sure\":0.9}");
        TracedValue read = play.state.saved().get("photo");
        assertThat(read.at(List.of("colour")).originsAt("")).isEqualTo(Set.of(Origin.REQUESTER, Origin.MODEL));
        assertThat(read.at(List.of("colour")).written())
                .as("a choice among declared words")
                .isFalse();
        assertThat(read.at(List.of("words")).written())
                .as("words that nobody can check")
                .isTrue();
    }

    @Test
    void whatTheTextLacksIsLookedForOnThePagesWithoutText() {
        Play play = new Play(servitor.core.DemoHandbook.edition(Scripted.files("", HOLDER_AND_PORT)), "test");
        play.documents = "[" + listed("D-1", "declaration.pdf", PDF) + "]";
        List<Page> pages = new java.util.ArrayList<>(List.of(new Page(1, "Holder Ewan Mirza")));
        for (int number = 2; number <= 6; number++) {
            pages.add(new Page(number, ""));
        }
        given(play.start(), new ReadDocument(ReadOutcome.TEXT, PDF, "no text on page 2", pages, List.of()));
        play.answerModel("{" + found("holder", "Ewan Mirza", 1) + "\"port\":null,\"reason\":\"r\",\"sure\":0.9}");
        assertThat(play.only(Command.AskModel.class).prompt().pictures())
                .extracting(servitor.core.prompt.Prompt.Picture::page)
                .containsExactly(2, 3, 4, 5);
        play.answerModel("{\"port\":null,\"reason\":\"r\",\"sure\":0.9}");
        assertThat(play.only(Command.AskModel.class).prompt().user()).contains("the picture of page 6");
        play.answerModel(
                "{\"port\":{\"value\":\"Tern Point\",\"page\":99,\"words\":\"\"},\"reason\":\"r\",\"sure\":0.9}");
        TracedValue read = play.state.saved().get("paper");
        assertThat(read.at(List.of("holder")).originsAt("")).isEqualTo(Set.of(Origin.REQUESTER));
        assertThat(read.at(List.of("port")).originsAt("")).isEqualTo(Set.of(Origin.REQUESTER, Origin.MODEL));
        assertThat(read.value().path("places").path("port").asString())
                .as("no page that it wasn't shown")
                .isEqualTo("declaration.xlsx, page 6");
    }

    @Test
    void forAModelThatDoesntSeeThereIsNoText() {
        Map<String, String> files = Scripted.files("", PHOTO);
        files.computeIfPresent("handbook.yaml", (name, text) -> text.replace(", images]", "]"));
        Play play = new Play(servitor.core.DemoHandbook.edition(files), "test");
        play.documents = "[" + listed("D-1", "photo.jpg", "image/jpeg") + "]";
        given(play.start(), photo());
        assertThat(play.state.problem().name()).isEqualTo("no-text");
        assertThat(play.commands).noneMatch(Command.AskModel.class::isInstance);
    }

    @Test
    void aModelThatMakesValuesUpIsDoubted() {
        String page = step("Read", "read: document\nvalues: { holder: text }\nsave: certificate") + DONE;
        Play play = at(page);
        given(play, new ReadDocument(ReadOutcome.TEXT, PDF, "", List.of(new Page(1, "Holder Ewan Mirza")), List.of()));
        play.answerModel("{\"holder\":{\"value\":\"Osei Brandt\",\"page\":1,\"words\":\"Holder Ewan Mirza\"},"
                + "\"reason\":\"r\",\"sure\":0.9}");
        assertThat(play.state.problem().name()).isEqualTo("doubtful");
    }

    @Test
    void aValueOfADocumentKeepsItsPlaceInACall() {
        String page = READ + step("Find", """
                call: fares.find-booking
                with: { reference: "${declaration.goods[0].vehicle}" }
                save: first
                """) + step("Decide", """
                decide: "${declaration.goods}"
                table: [{ go: look for it }]
                otherwise: look for it
                save: worst
                """) + step("Look for it", """
                call: fares.find-booking
                with: { reference: "${worst.row.vehicle}" }
                save: booking
                """) + DONE + LOOK;
        Play play = given(at(page), HEAD, row(2, "SK-48213", 9, 10));
        play.answerTool(Play.BOOKING);
        assertThat(play.logged("call-proposed")
                        .path("found")
                        .path("reference")
                        .path("at")
                        .asString())
                .isEqualTo("A2");
        assertThat(play.logged("call-proposed")
                        .path("origins")
                        .path("reference")
                        .toString())
                .isEqualTo("[\"requester\"]");
    }

    @Test
    void theCaseTellsWhichDocumentsItLacks() {
        Map<String, String> files = Scripted.files("", step("Decide", """
                decide:
                  - { when: "'Declaration of goods' in case.missing", go: look }
                  - otherwise: done
                """) + DONE + LOOK);
        files.computeIfPresent("kinds/refund.yaml", (name, text) -> text + """
                documents:
                  declaration:
                    title: Declaration of goods
                    named: [declaration]
                    types: [spreadsheet]
                    when: case.fields.booking != ""
                """);
        Play without = new Play(servitor.core.DemoHandbook.edition(files), "test").start();
        assertThat(without.state.caseState()).isEqualTo("with-people");
        Play with = new Play(servitor.core.DemoHandbook.edition(files), "test");
        with.documents = "[" + listed("D-1", "my declaration.xlsx", SHEET) + "]";
        assertThat(with.start().state.caseState()).isEqualTo("resolved");
        Play broken = new Play(servitor.core.DemoHandbook.edition(files), "test");
        broken.documents = with.documents.replace("\"outcome\":\"text\"", "\"outcome\":\"corrupt\"");
        assertThat(broken.start().state.caseState()).isEqualTo("with-people");
    }
}

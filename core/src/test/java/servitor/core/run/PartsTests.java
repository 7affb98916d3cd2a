package servitor.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static servitor.core.run.Scripted.step;

import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Problem;
import tools.jackson.databind.JsonNode;

/** Texts that are longer than a model's window are read in parts, each statement with its page. */
class PartsTests {
    private static final String LONG = IntStream.rangeClosed(1, 6)
            .mapToObj(page -> "[page " + page + "]\n" + ("Page " + page + " says something. ").repeat(40))
            .collect(Collectors.joining("\n\n"));
    private static final String DRAFT = step("Sum it up", """
            draft: text
            about: { sheet: { name: a, text: "${case.text}" }, other: "${case.id}" }
            save: summary
            """) + step("Done", "finish: resolved");

    private static Play longText(String text, int window) {
        Map<String, String> files = Scripted.files("", DRAFT);
        files.computeIfPresent("handbook.yaml", (name, yaml) -> yaml.replaceFirst("window: \\d+", "window: " + window));
        Play play = new Play(DemoHandbook.edition(files), "test");
        play.text = text;
        return play.start();
    }

    private static List<Integer> pages(Play play) {
        return play.only(Command.AskModel.class)
                .prompt()
                .contract()
                .schema()
                .at("/properties/statements/items/properties/page/enum")
                .valueStream()
                .map(JsonNode::asInt)
                .toList();
    }

    @Test
    void eachPartIsNotedAndTheNotesStandInItsPlace() {
        Play play = longText(LONG, 700);
        assertThat(pages(play)).containsExactly(1, 2);
        assertThat(play.only(Command.AskModel.class).prompt().user())
                .contains("part 1 of 3", "Do this as one would expect");
        play.answerModel("{\"statements\":[{\"says\":\"It burns.\",\"page\":2}]}");
        assertThat(pages(play)).containsExactly(3, 4);
        play.answerModel("{\"statements\":[]}");
        assertThat(pages(play)).containsExactly(5, 6);
        play.answerModel("{\"statements\":[{\"says\":\"Foam puts it out.\",\"page\":6}]}");
        String user = play.only(Command.AskModel.class).prompt().user();
        String facts = user.substring(user.indexOf("# Facts"), user.indexOf("# The request"));
        assertThat(facts)
                .contains("It burns.", "Foam puts it out.", "\"page\":2", "\"page\":6", "\"other\":\"c1\"")
                .doesNotContain("says something");
        play.write("It burns (page 2), foam puts it out (page 6).");
        assertThat(play.state.caseState()).isEqualTo("resolved");
        assertThat(play.state.tokens()).isEqualTo(400);
    }

    @Test
    void whatFitsIsGivenWhole() {
        assertThat(longText(LONG, 16_000).only(Command.AskModel.class).prompt().user())
                .contains("Page 6 says something");
    }

    @Test
    void moreThanAnybodyWouldPayForIsAProblem() {
        Play play = longText(LONG.repeat(12), 1_000);
        assertThat(play.state.problem().name()).isEqualTo(Problem.EXHAUSTED.word());
    }

    @Test
    void noWordIsLostBetweenParts() {
        List<String> parts = Parts.split(LONG, 700);
        assertThat(parts.get(1)).as("the page that a part begins on").startsWith("[page 1]");
        assertThat(parts).allMatch(part -> part.length() <= 720);
        assertThat(String.join("", parts).replaceAll("\\[page \\d]|\\s", ""))
                .isEqualTo(LONG.replaceAll("\\[page \\d]|\\s", ""));
    }
}

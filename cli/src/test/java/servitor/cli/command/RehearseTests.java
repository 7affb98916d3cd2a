package servitor.cli.command;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import javax.xml.parsers.DocumentBuilderFactory;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.w3c.dom.Element;
import servitor.cli.client.Client;
import servitor.core.catalogue.Catalogue;

/** {@code handbook rehearse} on a folder: what it prints, its report, and its exit codes. */
class RehearseTests {
    @TempDir
    Path folder;

    private Path file;

    private record Said(int code, String out, String err) {}

    private Said rehearse(String... more) {
        StringWriter out = new StringWriter();
        StringWriter err = new StringWriter();
        String[] all = new String[more.length + 3];
        all[0] = "handbook";
        all[1] = "rehearse";
        all[2] = folder.toString();
        System.arraycopy(more, 0, all, 3, more.length);
        int code = Servitor.run(Map.of(), new PrintWriter(out, true), new PrintWriter(err, true), all);
        return new Said(code, out.toString(), err.toString());
    }

    @BeforeEach
    void begin() {
        HandbookFolder.write(
                folder, Catalogue.adapt(Catalogue.find("file-a-task").orElseThrow(), Map.of(), Map.of()));
        file = folder.resolve("rehearsals/task-filed.yaml");
    }

    private void change(String from, String to) throws IOException {
        String text = Files.readString(file);
        assertThat(text).contains(from);
        Files.writeString(file, text.replace(from, to));
    }

    @Test
    void whatIsAsRehearsedIsZero() {
        Said said = rehearse("--untouched");
        assertThat(said.code()).as(said.err()).isZero();
        assertThat(said.out())
                .contains("as rehearsed  task-filed", "1 played, all as rehearsed.", "Untouched: 0 of 3 steps");
        assertThat(rehearse("--trail").out()).contains("‘file it’ call-sent {\"tool\":\"board.file-task\"");
    }

    @Test
    void whatIsNotSoIsOneAndStandsInTheReport() throws Exception {
        change("told: [T-12]", "told: [\"<T-13> & more\"]");
        Path report = folder.resolve("report.xml");
        Said said = rehearse("--report", report.toString());
        assertThat(said.code()).isEqualTo(1);
        assertThat(said.out()).contains("NOT SO", "nobody is told ‘<T-13> & more’; what is told is: Good day");
        Element suite = DocumentBuilderFactory.newInstance()
                .newDocumentBuilder()
                .parse(report.toFile())
                .getDocumentElement();
        assertThat(suite.getAttribute("failures")).isEqualTo("1");
        assertThat(suite.getElementsByTagName("failure").item(0).getTextContent())
                .contains("<T-13> & more");
    }

    @Test
    void programsGetJson() {
        var answer = Client.JSON.readTree(rehearse("--json").out());
        assertThat(answer.at("/rehearsals/0/name").asString()).isEqualTo("task-filed");
        assertThat(answer.at("/rehearsals/0/passed").asBoolean()).isTrue();
        assertThat(answer.at("/untouched/allSteps").asInt()).isEqualTo(3);
    }

    @Test
    void aHandbookWithErrorsIsntPlayed() throws IOException {
        change("kind: work", "kind: wrok");
        Said said = rehearse();
        assertThat(said.code()).isEqualTo(1);
        assertThat(said.err()).contains("There is no kind ‘wrok’", "they come first");
    }

    @Test
    void aNameThatIsntThereIsWrongUsage() {
        assertThat(rehearse("nothing").code()).isEqualTo(2);
        assertThat(rehearse("task-filed").code()).isZero();
    }
}

package servitor.core.handbook.read;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Agent.Example;
import servitor.core.handbook.check.CheckedHandbook;

/** Briefs as they are written in {@code agents/}. */
class AgentFileTests {
    private static CheckedHandbook checked(String brief) {
        Map<String, String> files = DemoHandbook.files();
        files.put("agents/steward.yaml", "title: Steward\ndesk: people\nmodel: writer\nbrief:\n" + brief.indent(2));
        return CheckedHandbook.of(files);
    }

    private static Agent read(String brief) {
        CheckedHandbook checked = checked(brief);
        assertThat(checked.findings()).noneMatch(found -> found.place().file().equals("agents/steward.yaml"));
        return checked.handbook().agents().get("steward");
    }

    @Test
    void aListOfRulesIsWhatItAlwaysDoes() {
        Agent agent = read("job: Help.\nrules: [Name the month.]\nexamples: [Good day.]\n");
        assertThat(agent.brief().rules().always()).containsExactly("Name the month.");
        assertThat(agent.brief().examples()).containsExactly(new Example("", "Good day.", ""));
    }

    @Test
    void rulesHaveSortsAndExamplesSayWhatWasAsked() {
        Agent agent = read("""
                job: Help.
                rules:
                  always: [Name the month.]
                  never: [Guess an amount.]
                  writing: Two sentences.
                examples:
                  - { asked: Is it paid?, good: "Yes, on 3 May." }
                  - { asked: Is it paid?, bad: Sure!, why: no date }
                """);
        assertThat(agent.brief().rules().all())
                .containsExactly("Name the month.", "Never: Guess an amount.", "Writing: Two sentences.");
        assertThat(agent.brief().examples()).extracting(Example::isGood).containsExactly(true, false);
        assertThat(agent.brief().examples().get(1).words())
                .isEqualTo("Asked: Is it paid? – Not: Sure! – Because: no date");
    }

    @Test
    void aBadExampleSaysWhyAndNoneIsBoth() {
        List<String> said =
                checked("job: Help.\nexamples:\n  - bad: Sure!\n  - { good: a, bad: b, why: c }\n  - []\n")
                        .findings()
                        .stream()
                        .filter(found -> found.place().file().equals("agents/steward.yaml"))
                        .map(found -> found.what())
                        .toList();
        assertThat(said)
                .containsExactlyInAnyOrder(
                        "‘why’ is missing.",
                        "An example is good or bad, and this one is both.",
                        "This example should be a text, or a map of what was asked and what is good or bad.");
    }

    private static CheckedHandbook sampled(String samples) {
        Map<String, String> files = DemoHandbook.files();
        files.computeIfPresent("agents/steward.yaml", (name, yaml) -> yaml + "samples:\n" + samples.indent(2));
        return CheckedHandbook.of(files);
    }

    @Test
    void samplesAreForStepsOfOnesOwnPagesThatAskAModel() {
        CheckedHandbook sound = sampled(
                "- { page: sea-medical, step: What is it instead?, text: My hat, facts: { photo: { colour: red } } }\n");
        Agent.Sample sample = sound.handbook().agents().get("steward").samples().get(0);
        assertThat(sample.facts().get("photo").path("colour").asString()).isEqualTo("red");
        assertThat(sample.language()).isEqualTo("en");
        assertThat(sound.findings()).noneMatch(found -> found.place().file().equals("agents/steward.yaml"));
        assertThat(
                        sampled("- { page: lost-property, step: x }\n- { page: sea-medical, step: Enter it }\n")
                                .findings()
                                .stream()
                                .filter(found -> found.place().file().equals("agents/steward.yaml"))
                                .map(found -> found.what()))
                .containsExactly(
                        "‘steward’ works no page ‘lost-property’, so the sample is tried nowhere.",
                        "‘sea-medical’ has no step ‘Enter it’ that asks a model.");
    }
}

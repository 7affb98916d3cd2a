package servitor.core.handbook.read;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Agent.Allowance;
import servitor.core.handbook.Agent.Brief;
import servitor.core.handbook.Agent.Example;
import servitor.core.handbook.Agent.Rules;
import servitor.core.handbook.Agent.Sample;
import servitor.core.handbook.WayOfWorking;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import tools.jackson.databind.JsonNode;

/** Reads a file of {@code agents/}. */
final class AgentFile {
    private final Findings findings;

    AgentFile(Findings findings) {
        this.findings = findings;
    }

    Agent read(String name, Yaml file) {
        Keys keys =
                Keys.of(file, findings, List.of("title", "desk", "model", "works", "allowance", "brief", "samples"));
        return new Agent(
                name,
                keys.required("title"),
                keys.required("desk"),
                keys.required("model"),
                works(keys, findings),
                allowance(keys.value("allowance")),
                brief(keys.value("brief")),
                keys.value("samples").items().stream().map(this::sample).toList(),
                keys.places());
    }

    /** How much an agent or a tool is trusted; what nobody says or knows is read as alone. */
    static WayOfWorking works(Keys keys, Findings findings) {
        String word = keys.text("works", WayOfWorking.ALONE.word());
        return WayOfWorking.of(word).orElseGet(() -> {
            findings.error(
                    keys.value("works").place(),
                    Code.WORKS,
                    "‘" + word + "’ is not a way of working.",
                    "Write ‘alone’, ‘supervised’ or ‘shadow’.");
            return WayOfWorking.ALONE;
        });
    }

    private Allowance allowance(Yaml value) {
        Keys keys = Keys.of(value, findings, List.of("tokens-a-day", "cost-a-day"));
        int tokens = keys.number("tokens-a-day", 0);
        return new Allowance(tokens == 0 ? null : tokens, keys.amount("cost-a-day"));
    }

    private Sample sample(Yaml item) {
        Keys keys = Keys.of(item, findings, List.of("page", "step", "subject", "text", "language", "facts"));
        Map<String, JsonNode> facts = new LinkedHashMap<>();
        keys.entries("facts").forEach((name, value) -> facts.put(name, value.json()));
        return new Sample(
                keys.required("page"),
                keys.required("step"),
                keys.text("subject", ""),
                keys.text("text", ""),
                keys.text("language", "en"),
                facts);
    }

    private Brief brief(Yaml value) {
        Keys brief = Keys.of(value, findings, List.of("job", "audience", "rules", "examples"));
        return new Brief(brief.required("job"), brief.text("audience", ""), rules(brief), examples(brief));
    }

    /** A list is what it always does. */
    private Rules rules(Keys brief) {
        if (!brief.value("rules").isMap()) {
            return new Rules(brief.texts("rules"), List.of(), List.of());
        }
        Keys rules = Keys.of(brief.value("rules"), findings, List.of("always", "never", "writing"));
        return new Rules(rules.texts("always"), rules.texts("never"), rules.texts("writing"));
    }

    /** A text is good work; a map tells what was asked, or what is bad about it. */
    private List<Example> examples(Keys brief) {
        Yaml value = brief.value("examples");
        if (!value.isList()) {
            return brief.texts("examples").stream().map(AgentFile::good).toList();
        }
        List<Example> examples = new ArrayList<>();
        for (Yaml item : value.items()) {
            if (item.isMap()) {
                examples.add(example(Keys.of(item, findings, List.of("asked", "good", "bad", "why"))));
            } else if (item.isList() || item.isEmptyValue()) {
                findings.error(
                        item.place(),
                        Code.TYPE,
                        "This example should be a text, or a map of what was asked and what is good or bad.",
                        "Write ‘- asked: …’ and below it ‘good: …’, or ‘bad: …’ with ‘why: …’.");
            } else {
                examples.add(good(item.text()));
            }
        }
        return examples;
    }

    private static Example good(String text) {
        return new Example("", text, "");
    }

    private Example example(Keys item) {
        String asked = item.text("asked", "");
        if (!item.has("bad")) {
            return new Example(asked, item.required("good"), "");
        }
        if (item.has("good")) {
            findings.error(
                    item.placeOf("good"),
                    Code.TYPE,
                    "An example is good or bad, and this one is both.",
                    "Make two of it.");
        }
        return new Example(asked, item.required("bad"), item.required("why"));
    }
}

package servitor.core.handbook.read;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.commonmark.node.FencedCodeBlock;
import org.commonmark.node.Heading;
import org.commonmark.node.Node;
import org.commonmark.node.SourceSpan;
import org.commonmark.parser.IncludeSourceSpans;
import org.commonmark.parser.Parser;
import servitor.core.expression.Template;
import servitor.core.handbook.CaseChange;
import servitor.core.handbook.Place;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Runbook.Limits;
import servitor.core.handbook.Step;
import servitor.core.handbook.Verb;
import servitor.core.handbook.Words;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;

/** Reads a page: front matter, headings, prose and step blocks, each with its line. */
final class RunbookReader {
    private static final Parser MARKDOWN =
            Parser.builder().includeSourceSpans(IncludeSourceSpans.BLOCKS).build();

    /** The keys of a page's front matter. */
    static final List<String> KEYS =
            List.of("title", "desk", "agent", "starts", "takes", "gives", "limits", "on-trouble");

    private static final int MOST_STEPS = 300;

    private final String file;
    private final String name;
    private final List<String> lines;
    private final Findings findings;
    private int bodyStart;

    RunbookReader(String file, String name, String text, Findings findings) {
        this.file = file;
        this.name = name;
        this.lines = text.replace("\uFEFF", "")
                .replace("\r\n", "\n")
                .replace('\r', '\n')
                .lines()
                .toList();
        this.findings = findings;
    }

    Runbook read() {
        Yaml front = Yaml.empty(Place.top(file));
        if (!lines.isEmpty() && lines.get(0).strip().equals("---")) {
            int close = 1;
            while (close < lines.size() && !lines.get(close).strip().equals("---")) {
                close++;
            }
            front = Yaml.read(file, 2, String.join("\n", lines.subList(1, close)), findings);
            if (close == lines.size()) {
                findings.error(
                        Place.top(file),
                        Code.FRONT_MATTER,
                        "The front matter is never closed.",
                        "End it with a line ‘---’.");
            }
            bodyStart = Math.min(close + 1, lines.size());
        } else {
            findings.error(
                    Place.top(file),
                    Code.FRONT_MATTER,
                    "The page has no front matter.",
                    "Begin it with ‘---’, then ‘title’, ‘desk’ and ‘agent’, then ‘---’.");
        }
        List<Section> sections = sections();
        List<Step> steps = new ArrayList<>();
        if (sections.size() > MOST_STEPS + 1) {
            findings.error(
                    Place.top(file),
                    Code.TOO_LONG,
                    "This page has more than " + MOST_STEPS + " steps; the rest isn't read.",
                    "Split it into pages that follow each other.");
        }
        sections.stream().skip(1).limit(MOST_STEPS).forEach(section -> step(section, steps));
        return page(front, sections.get(0).prose(), steps);
    }

    private Runbook page(Yaml front, String intro, List<Step> steps) {
        Keys keys = Keys.of(front, findings, KEYS);
        List<String> kinds = new ArrayList<>();
        List<CaseChange> changes = new ArrayList<>();
        for (Yaml start : keys.value("starts").items()) {
            Keys entry = Keys.of(start, findings, List.of("on", "kind", "to", "field", "label", "when"));
            String on = entry.required("on");
            if (on.equals("case-opened")) {
                kinds.add(entry.required("kind"));
                List.of("to", "field", "label", "when").forEach(key -> onlyOfChanges(entry, key));
            } else if (on.equals("case-changed")) {
                changes.add(change(entry));
            } else {
                findings.error(
                        entry.value("on").place(),
                        Code.START,
                        "‘" + entry.text("on", "") + "’ is nothing a page can start on.",
                        "Write ‘on: case-opened’ or ‘on: case-changed’.");
            }
        }
        Keys limits = Keys.of(
                keys.has("limits") ? keys.value("limits") : Yaml.empty(keys.place()),
                findings,
                List.of("calls", "model-tokens", "cost", "time"));
        String trouble = Step.address(keys.text("on-trouble", Step.HAND_OVER));
        return new Runbook(
                name,
                keys.required("title"),
                keys.required("desk"),
                keys.required("agent"),
                kinds,
                changes,
                new ShapeReader(findings).map(keys.value("takes")),
                gives(keys),
                new Limits(
                        limits.number("calls", Limits.DEFAULT.calls()),
                        limits.number("model-tokens", Limits.DEFAULT.modelTokens()),
                        limits.amount("cost"),
                        limits.duration("time")),
                trouble,
                intro,
                steps,
                front.places(keys.place()));
    }

    private void onlyOfChanges(Keys entry, String key) {
        if (entry.has(key)) {
            findings.error(
                    entry.value(key).place(),
                    Code.START,
                    "‘" + key + "’ says nothing where a page starts on a case that is opened.",
                    "Leave it out, or write ‘on: case-changed’.");
        }
    }

    /** One change, by exactly one of its three keys. */
    private CaseChange change(Keys entry) {
        List<String> said = Stream.of("to", "field", "label").filter(entry::has).toList();
        String to = entry.text("to", "");
        if (said.size() != 1 || entry.has("to") && !CaseChange.What.states().contains(to)) {
            findings.error(
                    said.isEmpty() ? entry.place() : entry.value(said.get(0)).place(),
                    Code.START,
                    said.size() == 1
                            ? "‘" + to + "’ is nothing that a case can become here."
                            : "A change is said by one key.",
                    "Write one of ‘to: " + String.join("’, ‘to: ", CaseChange.What.states())
                            + "’, ‘field: NAME’ and ‘label: NAME’.");
        }
        CaseChange.What what = entry.has("field")
                ? CaseChange.What.FIELD
                : entry.has("label")
                        ? CaseChange.What.LABEL
                        : Words.find(CaseChange.What.class, to).orElse(CaseChange.What.RESOLVED);
        return new CaseChange(
                entry.required("kind"), what, entry.text("field", entry.text("label", "")), entry.condition("when"));
    }

    private static Map<String, Template> gives(Keys keys) {
        Map<String, Template> gives = new LinkedHashMap<>();
        keys.entries("gives").forEach((given, value) -> gives.put(given, keys.template(value)));
        return gives;
    }

    /** A heading with the text and the step blocks under it; the first section has no heading. */
    private record Section(String title, int line, List<FencedCodeBlock> blocks, List<String> proseLines) {
        String prose() {
            return String.join("\n", proseLines).strip();
        }
    }

    private List<Section> sections() {
        String body = String.join("\n", lines.subList(bodyStart, lines.size()));
        TreeMap<Integer, Section> byLine = new TreeMap<>();
        byLine.put(-1, new Section("", bodyStart, new ArrayList<>(), new ArrayList<>()));
        boolean[] taken = new boolean[lines.size() - bodyStart];
        for (Node node = parse(body).getFirstChild(); node != null; node = node.getNext()) {
            List<SourceSpan> spans = node.getSourceSpans();
            if (spans.isEmpty()) {
                continue;
            }
            int line = spans.get(0).getLineIndex();
            if (node instanceof Heading heading && heading.getLevel() == 2) {
                spans.forEach(span -> taken[span.getLineIndex()] = true);
                byLine.put(
                        line,
                        new Section(title(line + bodyStart), line + bodyStart, new ArrayList<>(), new ArrayList<>()));
            } else if (node instanceof FencedCodeBlock block && "step".equals(block.getInfo())) {
                spans.forEach(span -> taken[span.getLineIndex()] = true);
                byLine.floorEntry(line).getValue().blocks().add(block);
            }
        }
        for (int i = 0; i < taken.length; i++) {
            if (!taken[i]) {
                byLine.floorEntry(i).getValue().proseLines().add(lines.get(i + bodyStart));
            }
        }
        return new ArrayList<>(byLine.values());
    }

    private Node parse(String body) {
        try {
            return MARKDOWN.parse(body);
        } catch (StackOverflowError e) {
            findings.error(
                    Place.top(file),
                    Code.TOO_LONG,
                    "The Markdown of this page is nested too deeply to read.",
                    "Make it flatter.");
            return MARKDOWN.parse("");
        }
    }

    private String title(int line) {
        return lines.get(line).strip().replaceFirst("^#+\\s*", "").replaceFirst("\\s+#+$", "");
    }

    private void step(Section section, List<Step> steps) {
        Place place = new Place(file, section.line() + 1, 1);
        String title = section.title();
        String address = Step.address(title);
        java.util.regex.Matcher given =
                java.util.regex.Pattern.compile("^(.*?)\\s*\\{#([^}]+)}$").matcher(title);
        if (given.matches()) {
            title = given.group(1);
            address = Step.address(given.group(2));
        }
        String taken = address;
        if (address.isEmpty() || Step.isReserved(address)) {
            findings.error(
                    place,
                    Code.STEP_NAME,
                    address.isEmpty()
                            ? "This heading has no words that could be an address."
                            : "‘" + address + "’ is a reserved way and can't be a step.",
                    "Use another heading, or set an address with {#short-name}.");
            return;
        }
        if (steps.stream().anyMatch(step -> step.address().equals(taken))) {
            findings.error(
                    place,
                    Code.STEP_NAME,
                    "Two steps have the address ‘" + address + "’.",
                    "Rename one, or set another address with {#short-name}.");
            return;
        }
        if (section.blocks().size() != 1) {
            findings.error(
                    place,
                    Code.STEP_BLOCK,
                    section.blocks().isEmpty()
                            ? "This step has no step block."
                            : "This step has " + section.blocks().size() + " step blocks.",
                    "Put exactly one block that begins with ```step under the heading; use a deeper heading for prose alone.");
            return;
        }
        FencedCodeBlock block = section.blocks().get(0);
        int firstLine = bodyStart + block.getSourceSpans().get(0).getLineIndex() + 2;
        Yaml yaml = Yaml.read(file, firstLine, block.getLiteral(), findings);
        StepReader reader = new StepReader(yaml, findings);
        Verb verb = reader.verb();
        if (verb != null) {
            steps.add(new Step(
                    address,
                    title,
                    section.prose(),
                    place,
                    reader.go(),
                    reader.on(),
                    reader.atMost(),
                    reader.model(),
                    yaml.places(place),
                    verb));
        }
    }
}

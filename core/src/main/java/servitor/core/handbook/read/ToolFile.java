package servitor.core.handbook.read;

import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Expression;
import servitor.core.handbook.Binding;
import servitor.core.handbook.Effect;
import servitor.core.handbook.Place;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Tool;
import servitor.core.handbook.WayOfWorking;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.finding.Suggest;
import servitor.core.handbook.openapi.ApiDescription;
import servitor.core.handbook.read.BindingReader.Bound;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Reads a file of tools. What a tool is bound to says which protocol carries it out. */
final class ToolFile {
    private static final Duration MOST_TIME = Duration.ofMinutes(2);
    private static final List<String> ABOUT = List.of(
            "description",
            "says",
            "effect",
            "works",
            "personal",
            "identifies",
            "speaks",
            "hints",
            "fixed",
            "conceal",
            "free-text",
            "own-words",
            "echoes",
            "formats",
            "examples",
            "problems",
            "settle-with",
            "job",
            "time-limit");
    private static final String OF_ANSWER = "answer.";

    private final String name;
    private final String file;
    private final Map<String, String> files;
    private final Map<String, Runbook> pages;
    private final Findings findings;
    private String desk = "";

    ToolFile(String name, String file, Map<String, String> files, Map<String, Runbook> pages, Findings findings) {
        this.name = name;
        this.file = file;
        this.files = files;
        this.pages = pages;
        this.findings = findings;
    }

    /** Adds the tools of the file, and the one that a test of their connection calls, by the connection. */
    void read(Map<String, Tool> tools, Map<String, String> checks) {
        Keys keys = Keys.of(
                Yaml.read(file, 1, Objects.requireNonNull(files.get(file)), findings),
                findings,
                List.of("desk", "connection", "openapi", "layout", "check", "tools"));
        desk = keys.text("desk", "");
        boolean onlyPages = keys.entries("tools").values().stream().allMatch(tool -> tool.get("page") != null);
        String connection = onlyPages ? keys.text("connection", "") : keys.required("connection");
        ApiDescription api = keys.has("openapi") ? description(keys) : null;
        BindingReader bindings =
                new BindingReader(connection, api, new LayoutReader(findings).read(keys), pages, findings);
        keys.entries("tools").forEach((operation, value) -> {
            Keys tool = Keys.of(value, findings, allowed(value));
            String full = name + "." + operation;
            Bound bound = bindings.read(tool);
            if (bound != null) {
                hints(tool, bound.inputs());
                tools.put(full, tool(full, tool, bound));
            }
        });
        if (keys.has("check")) {
            check(keys, tools).ifPresent(tool -> checks.put(connection, tool.name()));
        }
    }

    /** Whoever sets up a connection calls it, unasked: it changes nothing, reveals nobody, and needs no more than its example. */
    private Optional<Tool> check(Keys keys, Map<String, Tool> tools) {
        String called = keys.required("check");
        Tool tool = tools.get(name + "." + called);
        if (tool == null) {
            findings.error(
                    keys.value("check").place(),
                    Code.UNKNOWN_TOOL,
                    "This file has no tool ‘" + called + "’.",
                    Suggest.remedy(called, keys.entries("tools").keySet()));
            return Optional.empty();
        }
        boolean needs = !tool.given().path("required").isEmpty();
        if (tool.effect().acts() || tool.personal() || needs && tool.examples().isEmpty()) {
            findings.error(
                    keys.value("check").place(),
                    Code.BINDING,
                    "‘" + called + "’ can't be what a test of the connection calls.",
                    "Name a tool that only reads, reveals nothing personal, and has an example if it needs inputs.");
            return Optional.empty();
        }
        return Optional.of(tool);
    }

    /** Whose a tool is: as the file says, or else that of the page that it is. */
    private String owner(Bound bound) {
        return desk.isEmpty() && bound.to() instanceof Binding.PageTool page && pages.containsKey(page.page())
                ? pages.get(page.page()).desk()
                : desk;
    }

    private Tool tool(String full, Keys tool, Bound bound) {
        Keys job = tool.has("job") ? jobKeys(tool.value("job")) : null;
        Effect effect = tool.has("effect") || bound.effect() == null ? effect(tool) : bound.effect();
        JsonNode outputs = (job == null ? bound.outputs() : BindingReader.schema(job, "outputs")).deepCopy();
        formats(tool, bound.inputs(), outputs);
        return new Tool(
                full,
                owner(bound),
                tool.text("description", bound.description()),
                tool.has("says") ? tool.template("says") : null,
                effect,
                works(tool, effect),
                tool.yes("personal"),
                bound.inputs(),
                outputs,
                inputsNamed(tool, "identifies", bound.inputs()),
                inputsNamed(tool, "speaks", bound.inputs()),
                fixed(tool, bound.inputs()),
                outputsNamed(tool, "conceal", outputs),
                outputsNamed(tool, "free-text", outputs),
                tool.yes("own-words"),
                echoes(tool, bound.inputs(), outputs),
                examples(tool),
                problems(tool),
                tool.has("settle-with") ? settleWith(tool.value("settle-with")) : null,
                job == null ? null : job(job, bound),
                timeLimit(tool),
                bound.to(),
                tool.place());
    }

    private @Nullable ApiDescription description(Keys keys) {
        String path = "tools/" + keys.required("openapi");
        if (!files.containsKey(path)) {
            findings.error(
                    keys.value("openapi").place(),
                    Code.MISSING_FILE,
                    "There is no file ‘" + path + "’.",
                    Suggest.remedy(path, files.keySet()));
            return null;
        }
        Yaml description = Yaml.read(path, 1, files.get(path), findings);
        SecretRule.checkDescription(description, findings);
        return new ApiDescription(description.json());
    }

    private static List<String> allowed(Yaml tool) {
        List<String> allowed = new ArrayList<>(ABOUT);
        allowed.addAll(BindingReader.allowed(tool));
        return allowed;
    }

    /** Hints stand in the schema as descriptions, which is where models and people look. */
    private void hints(Keys tool, ObjectNode inputs) {
        tool.entries("hints").forEach((input, hint) -> {
            JsonNode property = inputs.path("properties").path(input);
            if (property instanceof ObjectNode own) {
                own.put("description", hint.text());
            } else {
                unknownInput(tool.placeOf("hints"), input, inputs);
            }
        });
    }

    /** What inputs and fields of the answer are, where the description doesn't say it. */
    private void formats(Keys tool, ObjectNode inputs, JsonNode outputs) {
        tool.entries("formats").forEach((name, format) -> {
            boolean ofAnswer = name.startsWith(OF_ANSWER);
            if (ofAnswer) {
                sayUnlessAnswered(name.substring(OF_ANSWER.length()), outputs, format.place());
            } else if (!inputs.path("properties").has(name)) {
                unknownInput(format.place(), name, inputs);
            }
            JsonNode at = ofAnswer ? outputs : inputs;
            for (String field : (ofAnswer ? name.substring(OF_ANSWER.length()) : name).split("\\.")) {
                at = at.path("items").isObject() ? at.path("items") : at;
                at = at.path("properties").path(field);
            }
            if (at instanceof ObjectNode own) {
                own.put("format", format.text());
            }
        });
    }

    private Map<String, JsonNode> fixed(Keys tool, ObjectNode inputs) {
        Map<String, JsonNode> fixed = new LinkedHashMap<>();
        tool.entries("fixed").forEach((input, value) -> {
            if (inputs.path("properties").has(input)) {
                fixed.put(input, value.json());
            } else {
                unknownInput(tool.placeOf("fixed"), input, inputs);
            }
        });
        return fixed;
    }

    private Set<String> outputsNamed(Keys tool, String key, JsonNode outputs) {
        List<String> paths = tool.texts(key);
        paths.forEach(path -> sayUnlessAnswered(path, outputs, tool.value(key).place()));
        return Set.copyOf(paths);
    }

    private void sayUnlessAnswered(String path, JsonNode outputs, Place place) {
        JsonNode at = outputs;
        for (String field : path.split("\\.")) {
            at = at.path("items").isObject() ? at.path("items") : at;
            at = at.path("properties").path(field);
        }
        if (at.isMissingNode()) {
            findings.error(
                    place,
                    Code.UNKNOWN_FIELD,
                    "The answer has no field ‘" + path + "’.",
                    "Name a field of the answer, as in ‘account’ or ‘rows.account’.");
        }
    }

    /** Fields of the answer that repeat an input. */
    private Map<String, String> echoes(Keys tool, ObjectNode inputs, JsonNode outputs) {
        Map<String, String> echoes = new LinkedHashMap<>();
        tool.entries("echoes").forEach((path, input) -> {
            sayUnlessAnswered(path, outputs, input.place());
            if (!inputs.path("properties").has(input.text())) {
                unknownInput(input.place(), input.text(), inputs);
            }
            echoes.put(path, input.text());
        });
        return echoes;
    }

    private static List<JsonNode> examples(Keys tool) {
        return tool.value("examples").items().stream().map(Yaml::json).toList();
    }

    private Set<String> inputsNamed(Keys tool, String key, ObjectNode inputs) {
        List<String> named = tool.texts(key);
        named.stream()
                .filter(input -> !inputs.path("properties").has(input))
                .forEach(input -> unknownInput(tool.value(key).place(), input, inputs));
        return Set.copyOf(named);
    }

    private void unknownInput(Place place, String input, ObjectNode inputs) {
        findings.error(
                place,
                Code.UNKNOWN_INPUT,
                "The operation has no input ‘" + input + "’.",
                Suggest.remedy(input, List.copyOf(inputs.path("properties").propertyNames())));
    }

    private Duration timeLimit(Keys tool) {
        Duration limit = tool.duration("time-limit");
        if (limit != null && limit.compareTo(MOST_TIME) > 0) {
            findings.error(
                    tool.value("time-limit").place(),
                    Code.DURATION,
                    "A call may take at most two minutes.",
                    "For work that takes longer, let the tool start it and wait for what it reports.");
            return MOST_TIME;
        }
        return limit == null ? Tool.TIME_LIMIT : limit;
    }

    private Tool.@Nullable SettleWith settleWith(Yaml value) {
        Keys keys = Keys.of(value, findings, List.of("tool", "with", "happened", "result", "after", "otherwise"));
        String tool = keys.required("tool");
        keys.needed("happened");
        Expression happened = keys.condition("happened");
        String otherwise = keys.text("otherwise", "ask");
        if (!List.of("ask", "repeat").contains(otherwise)) {
            findings.error(
                    keys.value("otherwise").place(),
                    Code.SETTLE_WITH,
                    "‘" + otherwise + "’ is nothing to do about a call that hasn't happened.",
                    "Write ‘ask’ (people are told so) or ‘repeat’.");
        }
        Duration after = keys.duration("after");
        return happened == null
                ? null
                : new Tool.SettleWith(
                        tool,
                        keys.inputs("with"),
                        happened,
                        keys.template("result"),
                        after == null ? Duration.ofSeconds(10) : after,
                        otherwise.equals("repeat"));
    }

    private Keys jobKeys(Yaml value) {
        return Keys.of(
                value,
                findings,
                List.of("look", "with", "done", "failed", "result", "outputs", "every", "within", "calls-back"));
    }

    private Tool.@Nullable Job job(Keys keys, Bound bound) {
        String tool = keys.required("look");
        keys.needed("done");
        Expression done = keys.condition("done");
        Duration every = keys.duration("every");
        Duration within = keys.duration("within");
        String callsBack = keys.text("calls-back", "");
        if (!callsBack.isEmpty() && !bound.inputs().path("properties").has(callsBack)) {
            unknownInput(keys.value("calls-back").place(), callsBack, bound.inputs());
        }
        return done == null
                ? null
                : new Tool.Job(
                        bound.outputs(),
                        tool,
                        keys.inputs("with"),
                        done,
                        keys.condition("failed"),
                        keys.template("result"),
                        every == null ? Duration.ofSeconds(30) : every,
                        within == null ? Duration.ofDays(1) : within,
                        callsBack.isEmpty() ? null : callsBack);
    }

    /** What only reads has nothing to hold back. */
    private WayOfWorking works(Keys tool, Effect effect) {
        WayOfWorking works = AgentFile.works(tool, findings);
        if (works != WayOfWorking.ALONE && !effect.acts()) {
            findings.error(
                    tool.value("works").place(),
                    Code.WORKS,
                    "‘works: " + works.word() + "’ is for what acts, and this tool only reads.",
                    "Take ‘works’ out.");
        }
        return works;
    }

    private Effect effect(Keys tool) {
        String word = tool.required("effect");
        for (Effect effect : Effect.values()) {
            if (effect.word().equals(word)) {
                return effect;
            }
        }
        if (!word.isEmpty()) {
            findings.error(
                    tool.value("effect").place(),
                    Code.EFFECT,
                    "‘" + word + "’ is not an effect.",
                    "Write read, write or once.");
        }
        return Effect.ONCE; // until it is mended, the strictest
    }

    private Map<Integer, String> problems(Keys tool) {
        Map<Integer, String> problems = new LinkedHashMap<>();
        tool.entries("problems").forEach((status, problem) -> {
            if (status.matches("[45][0-9][0-9]")) {
                problems.put(Integer.valueOf(status), problem.text());
            } else {
                findings.error(
                        problem.place(),
                        Code.STATUS,
                        "‘" + status + "’ is not an error status.",
                        "Write a status from 400 to 599, as in ‘404: not-found’.");
            }
        });
        return problems;
    }
}

package servitor.core.handbook.read;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.regex.Pattern;
import java.util.regex.PatternSyntaxException;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import servitor.core.expression.Template;
import servitor.core.handbook.Binding;
import servitor.core.handbook.Binding.Dialogue;
import servitor.core.handbook.Binding.Directory;
import servitor.core.handbook.Binding.Line;
import servitor.core.handbook.Binding.Program;
import servitor.core.handbook.Binding.Query;
import servitor.core.handbook.Binding.RemoteTool;
import servitor.core.handbook.DirectoryAction;
import servitor.core.handbook.DirectoryLayout;
import servitor.core.handbook.Effect;
import servitor.core.handbook.Place;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.finding.Suggest;
import servitor.core.handbook.openapi.ApiDescription;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Reads what a tool is bound to: a table of the keys that bind, each with those that may stand beside it and what reads them. A new
 * protocol is a line here.
 */
final class BindingReader {
    private static final int MOST_ROWS = 1_000;

    /** What goes in and comes out: field by field, or as whole JSON Schemas. */
    private static final List<String> DECLARED = List.of("inputs", "outputs", "inputs-schema", "outputs-schema");

    private static final Map<String, Form> FORMS = new TreeMap<>();

    static {
        form("operation", List.of(), BindingReader::operation);
        form("directory", List.of(), BindingReader::directory);
        form("query", List.of("inputs", "outputs", "one", "rows"), BindingReader::query);
        form("dialogue", DECLARED, BindingReader::dialogue);
        form(
                "arguments",
                DECLARED,
                (reader, tool) -> declared(tool, new Program(reader.connection, tool.templates("arguments"))));
        form(
                "remote",
                Stream.concat(DECLARED.stream(), Stream.of("agreed")).toList(),
                (reader, tool) -> declared(
                        tool, new RemoteTool(reader.connection, tool.required("remote"), tool.text("agreed", ""))));
        form("page", List.of("outputs"), BindingReader::page);
    }

    private final String connection;
    private final @Nullable ApiDescription api;
    private final DirectoryLayout layout;
    private final Map<String, Runbook> pages;
    private final Findings findings;

    /** How one sort of binding is written, and what reads it. */
    private record Form(List<String> beside, Reader reader) {}

    /** Reads one binding; null after a finding. */
    private interface Reader {
        @Nullable
        Bound read(BindingReader reader, Keys tool);
    }

    /** What a binding says of a tool, whatever the tool's own keys add to it. */
    record Bound(
            String description,
            ObjectNode inputs,
            JsonNode outputs,
            @Nullable Effect effect,
            Binding to) {}

    /**
     * For the tools of one file.
     *
     * @param api the description that operations stand in; null when the file names none
     * @param layout how a directory keeps people and groups
     * @param pages the pages that can be tools
     */
    BindingReader(
            String connection,
            @Nullable ApiDescription api,
            DirectoryLayout layout,
            Map<String, Runbook> pages,
            Findings findings) {
        this.connection = connection;
        this.api = api;
        this.layout = layout;
        this.pages = pages;
        this.findings = findings;
    }

    private static void form(String key, List<String> beside, Reader reader) {
        FORMS.put(key, new Form(beside, reader));
    }

    /** The keys that may stand in {@code tool} because of what it is bound to. */
    static List<String> allowed(Yaml tool) {
        List<String> allowed = new ArrayList<>(FORMS.keySet());
        FORMS.forEach((key, form) -> {
            if (tool.get(key) != null) {
                allowed.addAll(form.beside());
            }
        });
        return allowed;
    }

    /** What {@code tool} is bound to; null after a finding. */
    @Nullable
    Bound read(Keys tool) {
        List<String> bindings = FORMS.keySet().stream().filter(tool::has).toList();
        if (bindings.size() != 1) {
            findings.error(
                    tool.place(),
                    Code.BINDING,
                    bindings.isEmpty()
                            ? "Nothing says how this tool is carried out."
                            : "This tool is bound twice: " + String.join(" and ", bindings) + ".",
                    "Give it exactly one of " + String.join(", ", FORMS.keySet()) + ".");
            return null;
        }
        return Objects.requireNonNull(FORMS.get(bindings.get(0))).reader().read(this, tool);
    }

    private Bound dialogue(Keys tool) {
        return declared(tool, new Dialogue(connection, lines(tool.value("dialogue"))));
    }

    private @Nullable Bound operation(Keys tool) {
        String id = tool.required("operation");
        if (api == null) {
            findings.error(
                    tool.value("operation").place(),
                    Code.BINDING,
                    "An operation needs the description it stands in.",
                    "Add ‘openapi: <file>’ beside ‘connection’.");
            return null;
        }
        ApiDescription.Operation found = api.operation(id, connection).orElse(null);
        if (found == null) {
            findings.error(
                    tool.value("operation").place(),
                    Code.UNKNOWN_OPERATION,
                    "The description has no operation ‘" + id + "’.",
                    Suggest.remedy(id, api.operations().keySet()));
            return null;
        }
        if (api.isSpent()) {
            findings.error(
                    tool.value("operation").place(),
                    Code.BINDING,
                    "Up to here the tools of this file take more from the description than is read of one.",
                    "Leave out operations, or make their schemas simpler.");
            return null;
        }
        Place at = tool.value("operation").place();
        found.faults()
                .forEach(fault -> findings.error(
                        at,
                        Code.NOT_SUPPORTED,
                        "This operation can't be called. " + fault,
                        "Choose another, or change the description."));
        found.notes()
                .forEach(note -> findings.warning(
                        at, Code.NOT_SUPPORTED, note, "See that the tool does without, or change the description."));
        return new Bound(found.summary(), found.inputs(), found.outputs(), null, found.binding());
    }

    private @Nullable Bound directory(Keys tool) {
        String word = tool.required("directory");
        for (DirectoryAction action : DirectoryAction.values()) {
            if (action.word().equals(word)) {
                return new Bound(
                        "",
                        action.inputs(),
                        action.outputs(),
                        action.effect(),
                        new Directory(connection, action, layout));
            }
        }
        findings.error(
                tool.value("directory").place(),
                Code.UNKNOWN_OPERATION,
                "‘" + word + "’ is nothing that can be done in a directory.",
                Suggest.remedy(
                        word,
                        List.of(DirectoryAction.values()).stream()
                                .map(DirectoryAction::word)
                                .toList()));
        return null;
    }

    private @Nullable Bound page(Keys tool) {
        String name = tool.required("page");
        Runbook page = pages.get(name);
        if (page == null) {
            findings.error(
                    tool.value("page").place(),
                    Code.UNKNOWN_PAGE,
                    "There is no page ‘" + name + "’.",
                    Suggest.remedy(name, pages.keySet()));
            return null;
        }
        ObjectNode outputs = schema(tool, "outputs");
        if (!tool.has("outputs")) {
            page.gives().keySet().forEach(given -> ((ObjectNode) outputs.path("properties")).putObject(given));
        }
        return new Bound(
                "",
                page.takes().schema().put("additionalProperties", false),
                outputs,
                null,
                new Binding.PageTool(name));
    }

    private Bound query(Keys tool) {
        String sql = tool.required("query");
        boolean one = tool.yes("one");
        int rows = Math.min(MOST_ROWS, tool.number("rows", 100));
        ObjectNode record = schema(tool, "outputs");
        JsonNode outputs = record;
        if (!one) {
            ObjectNode many = Json.object().put("type", "object");
            ObjectNode list = many.putObject("properties");
            list.putObject("rows").put("type", "array").set("items", record);
            list.putObject("more").put("type", "boolean");
            many.putArray("required").add("rows").add("more");
            outputs = many;
        }
        return new Bound(
                "", schema(tool, "inputs"), outputs, Effect.READ, new Query(connection, sql, one, one ? 2 : rows));
    }

    private static Bound declared(Keys tool, Binding to) {
        return new Bound("", schema(tool, "inputs"), schema(tool, "outputs"), null, to);
    }

    /** A whole schema where one is given; else fields and their schemas; all of them are there unless the schema says {@code optional: true}. */
    static ObjectNode schema(Keys tool, String key) {
        if (tool.has(key + "-schema") && tool.value(key + "-schema").json() instanceof ObjectNode whole) {
            return whole.deepCopy();
        }
        ObjectNode schema = Json.object().put("type", "object");
        ObjectNode properties = schema.putObject("properties");
        List<String> required = new ArrayList<>();
        tool.entries(key).forEach((field, value) -> {
            JsonNode given = value.json();
            if (given.isObject()) {
                ObjectNode own = (ObjectNode) given.deepCopy();
                JsonNode optional = own.remove("optional");
                properties.set(field, own);
                if (optional == null || !optional.asBoolean(false)) {
                    required.add(field);
                }
            } else {
                properties.putObject(field).put("type", given.asString("string"));
                required.add(field);
            }
        });
        schema.set("required", Json.of(required));
        return key.equals("inputs") ? schema.put("additionalProperties", false) : schema;
    }

    private List<Line> lines(Yaml list) {
        List<Line> lines = new ArrayList<>();
        for (Yaml item : list.items()) {
            Keys line = Keys.of(item, findings, List.of("send", "expect", "capture", "otherwise"));
            String expect = line.text("expect");
            pattern(line, "expect", expect);
            Map<String, Integer> capture = new LinkedHashMap<>();
            line.entries("capture")
                    .forEach((output, group) ->
                            capture.put(output, group.scalar().asInt(1)));
            Map<String, String> otherwise = new LinkedHashMap<>();
            line.entries("otherwise").forEach((found, problem) -> {
                pattern(line, "otherwise", found);
                otherwise.put(found, problem.text());
            });
            Template send = line.has("send") ? line.template("send") : null;
            lines.add(new Line(send, expect, capture, otherwise));
        }
        return lines;
    }

    private void pattern(Keys line, String key, @Nullable String regex) {
        try {
            Pattern.compile(regex == null ? "" : regex);
        } catch (PatternSyntaxException e) {
            findings.error(
                    line.value(key).place(),
                    Code.PATTERN,
                    "This pattern isn't a regular expression: " + e.getDescription() + ".",
                    "Mend it near character " + e.getIndex() + ".");
        }
    }
}

package servitor.core.handbook.read;

import java.time.DateTimeException;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.BiFunction;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Decision;
import servitor.core.handbook.FileRule;
import servitor.core.handbook.Grant;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.House;
import servitor.core.handbook.House.Model;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Kind.Field;
import servitor.core.handbook.Limit;
import servitor.core.handbook.Mandate;
import servitor.core.handbook.NeededDocument;
import servitor.core.handbook.Opening;
import servitor.core.handbook.Place;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Telling;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;
import servitor.core.handbook.finding.Suggest;

/** Reads the files of a handbook folder into a {@link Handbook}. */
public final class HandbookReader {
    private static final int MOST_CHARACTERS = 1_000_000;
    private static final List<String> FIELD_TYPES = List.of("text", "number", "yes/no", "date");

    private final Map<String, String> files;
    private final Findings findings;

    private HandbookReader(Map<String, String> files, Findings findings) {
        this.files = new TreeMap<>(files);
        this.findings = findings;
    }

    /**
     * Reads what can be read; everything else is a finding. Never throws, whatever the files hold.
     *
     * @param files text by path relative to the folder, with forward slashes
     */
    public static Handbook read(Map<String, String> files, Findings findings) {
        return new HandbookReader(files, findings).read();
    }

    private Handbook read() {
        files.forEach((file, text) -> {
            sayIfNotText(file, text);
            if (!file.endsWith(".openapi.yaml")) { // these are checked where they are read
                SecretRule.check(file, text, findings);
            }
        });
        DesksFile desksFile = new DesksFile(findings);
        DesksFile.Desks desks =
                files.containsKey(DesksFile.NAME) ? desksFile.read(yaml(DesksFile.NAME)) : desksFile.missing();
        Map<String, Tool> tools = new LinkedHashMap<>(Telling.tools());
        tools.put(Opening.OPEN, Opening.tool());
        Map<String, String> checks = new LinkedHashMap<>();
        Map<String, Runbook> pages = each(
                "runbooks/",
                ".md",
                (name, file) ->
                        new RunbookReader(file, name, Objects.requireNonNull(files.get(file)), findings).read());
        each("tools/", ".yaml", (name, file) -> {
            if (!name.endsWith(".openapi")) {
                new ToolFile(name, file, files, pages, findings).read(tools, checks);
            }
            return null;
        });
        House house = readHouse();
        sayUnknownFiles();
        return new Handbook(
                house,
                desks.desks(),
                desks.groups(),
                desks.rooms(),
                each("kinds/", ".yaml", this::readKind),
                each("intake/", ".yaml", (name, file) -> IntakeFile.read(name, yaml(file), findings)),
                each("agents/", ".yaml", this::readAgent),
                each("mandates/", ".yaml", this::readMandate),
                tools,
                checks,
                pages,
                each("rehearsals/", ".yaml", (name, file) -> RehearsalFile.read(name, yaml(file), findings)));
    }

    private <T> Map<String, T> each(String folder, String ending, BiFunction<String, String, T> reader) {
        Map<String, T> read = new LinkedHashMap<>();
        for (String file : files.keySet()) {
            if (file.startsWith(folder) && file.endsWith(ending) && !tooLong(file)) {
                String name = file.substring(folder.length(), file.length() - ending.length());
                if (!name.matches("[a-z0-9][a-z0-9.-]*")) {
                    findings.error(
                            Place.top(file),
                            Code.FILE_NAME,
                            "The file name ‘" + name + "’ can't be a name.",
                            "Use lower-case letters, digits and ‘-’.");
                }
                T value = reader.apply(name, file);
                if (value != null) {
                    read.put(name, value);
                }
            }
        }
        return read;
    }

    private void sayIfNotText(String file, String text) {
        int line = 1;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c == '\n') {
                line++;
            } else if (c < ' ' && c != '\t' && c != '\r' || c == '\uFFFD') {
                findings.error(
                        new Place(file, line, 1),
                        Code.NOT_TEXT,
                        "This line holds characters that no text has.",
                        "Save the file as UTF-8 text; attach pictures and other files elsewhere.");
                return;
            }
        }
    }

    private boolean tooLong(String file) {
        if (Objects.requireNonNull(files.get(file)).length() <= MOST_CHARACTERS) {
            return false;
        }
        findings.error(Place.top(file), Code.TOO_LONG, "This file is longer than a million characters.", "Split it.");
        return true;
    }

    private void sayUnknownFiles() {
        for (String file : files.keySet()) {
            boolean known = file.equals("handbook.yaml")
                    || file.equals("desks.yaml")
                    || file.matches("(kinds|intake|agents|mandates|tools|rehearsals)/[^/]+\\.yaml")
                    || file.matches("runbooks/[^/]+\\.md")
                    || file.matches("tools/[^/]+\\.openapi\\.json")
                    || file.matches("[^/]+\\.md");
            if (!known) {
                findings.warning(
                        Place.top(file),
                        Code.UNKNOWN_FILE,
                        "Nothing reads this file.",
                        "Handbook files are handbook.yaml, desks.yaml and those in kinds, intake, agents, mandates, tools, runbooks and rehearsals.");
            }
        }
    }

    private Yaml yaml(String file) {
        return Yaml.read(file, 1, files.getOrDefault(file, ""), findings);
    }

    private House readHouse() {
        String file = "handbook.yaml";
        if (!files.containsKey(file)) {
            findings.error(
                    Place.top(file),
                    Code.MISSING_FILE,
                    "The handbook has no handbook.yaml.",
                    "Add it with ‘title’, ‘time-zone’, ‘currency’ and ‘models’.");
            return new House("", ZoneId.of("UTC"), "EUR", false, List.of(), Map.of());
        }
        Keys keys =
                Keys.of(yaml(file), findings, List.of("title", "time-zone", "currency", "publish", "rules", "models"));
        Map<String, Model> models = new LinkedHashMap<>();
        keys.entries("models").forEach((name, value) -> {
            models.put(name, ModelReader.read(value, findings));
        });
        ModelReader.checkStandIns(keys.entries("models"), models, findings);
        String zone = keys.text("time-zone", "UTC");
        ZoneId timeZone = ZoneId.of("UTC");
        try {
            timeZone = ZoneId.of(zone);
        } catch (DateTimeException e) {
            findings.error(
                    keys.value("time-zone").place(),
                    Code.TIME_ZONE,
                    "‘" + zone + "’ is not a time zone.",
                    "Use a name such as Europe/Dublin.");
        }
        return new House(
                keys.required("title"),
                timeZone,
                keys.text("currency", "EUR"),
                secondEngineer(keys.value("publish")),
                keys.texts("rules"),
                models);
    }

    /** Whether a second engineer has to agree to what is published. */
    private boolean secondEngineer(Yaml publish) {
        Keys keys = Keys.of(publish, findings, List.of("consent"));
        if (keys.has("consent")) {
            findings.unknown(
                    Code.UNKNOWN_OPTION,
                    keys.text("consent", ""),
                    List.of("engineers"),
                    keys.value("consent").place());
        }
        return keys.has("consent");
    }

    private Kind readKind(String name, String file) {
        Keys keys = Keys.of(
                yaml(file),
                findings,
                List.of("title", "desk", "open-to", "personal", "files", "documents", "resolve-within", "fields"));
        Map<String, Field> fields = new LinkedHashMap<>();
        keys.entries("fields").forEach((fieldName, value) -> {
            Keys field = Keys.of(value, findings, List.of("title", "type", "required", "pattern", "hint"));
            String type = field.text("type", "text");
            if (!FIELD_TYPES.contains(type)) {
                findings.error(
                        field.value("type").place(),
                        Code.UNKNOWN_TYPE,
                        "‘" + type + "’ is not a type of field.",
                        Suggest.remedy(type, FIELD_TYPES));
            }
            String pattern = field.text("pattern", "");
            try {
                java.util.regex.Pattern.compile(pattern);
            } catch (java.util.regex.PatternSyntaxException e) {
                findings.error(
                        field.value("pattern").place(),
                        Code.PATTERN,
                        "This pattern isn't a regular expression: " + e.getDescription() + ".",
                        "Mend it near character " + e.getIndex() + ".");
                pattern = "";
            }
            fields.put(
                    fieldName,
                    new Field(
                            fieldName,
                            field.text("title", fieldName),
                            type,
                            field.yes("required"),
                            pattern,
                            field.text("hint", "")));
        });
        return new Kind(
                name,
                keys.required("title"),
                keys.required("desk"),
                Set.copyOf(keys.texts("open-to")),
                keys.yes("personal"),
                fileRule(keys),
                documents(keys),
                keys.duration("resolve-within"),
                fields,
                keys.places());
    }

    private Map<String, NeededDocument> documents(Keys kind) {
        Map<String, NeededDocument> documents = new LinkedHashMap<>();
        kind.entries("documents").forEach((name, value) -> {
            Keys keys = Keys.of(value, findings, List.of("title", "named", "types", "required", "when"));
            List<String> types = keys.texts("types");
            ReadSteps.types(types, keys.value("types"), findings);
            if (!name.matches("[a-z][a-z0-9_-]*") || name.equals(Verb.Read.ANY)) {
                findings.error(
                        value.place(),
                        Code.FILES,
                        "‘" + name + "’ can't be the name of a document.",
                        "Use small letters, digits and ‘-’, and not ‘document’ itself, as in ‘safety-sheet’.");
            }
            documents.put(
                    name,
                    new NeededDocument(
                            name,
                            keys.text("title", name),
                            keys.texts("named"),
                            types,
                            keys.yes("required") || keys.has("when"),
                            keys.condition("when")));
        });
        return documents;
    }

    private FileRule fileRule(Keys kind) {
        if (!kind.has("files")) {
            return FileRule.USUAL;
        }
        Keys files = Keys.of(kind.value("files"), findings, List.of("at-most", "megabytes", "types"));
        int megabytes = files.number("megabytes", FileRule.USUAL.megabytes());
        if (megabytes > FileRule.MOST_MEGABYTES) {
            findings.error(
                    files.value("megabytes").place(),
                    Code.FILES,
                    "A file can't have " + megabytes + " MB here.",
                    "Write " + FileRule.MOST_MEGABYTES + " or less.");
        }
        for (Yaml type : files.value("types").items()) {
            if (!type.text().matches("[a-z]+/([a-z0-9.+-]+|\\*)")) {
                findings.error(
                        type.place(),
                        Code.FILES,
                        "‘" + type.text() + "’ is no media type.",
                        "Write it as in application/pdf or image/*.");
            }
        }
        return new FileRule(
                files.number("at-most", FileRule.USUAL.most()),
                Math.min(megabytes, FileRule.MOST_MEGABYTES),
                Set.copyOf(files.texts("types")));
    }

    private Agent readAgent(String name, String file) {
        return new AgentFile(findings).read(name, yaml(file));
    }

    private Mandate readMandate(String name, String file) {
        Keys keys = Keys.of(yaml(file), findings, List.of("title", "for", "ask", "grants", "never"));
        List<Grant> grants = readGrants(keys.value("grants"), false);
        List<Grant> never = readGrants(keys.value("never"), true);
        Set<String> names = new HashSet<>();
        for (Grant grant : grants) {
            if (!names.add(grant.name())) {
                findings.error(
                        keys.placeOf("grants"),
                        Code.DUPLICATE_GRANT,
                        "Two grants are named ‘" + grant.name() + "’.",
                        "Give each its own name: verdicts and counters go by it.");
            }
        }
        return new Mandate(
                name,
                keys.required("title"),
                Set.copyOf(keys.texts("for")),
                keys.text("ask"),
                grants,
                never,
                keys.places());
    }

    private List<Grant> readGrants(Yaml list, boolean never) {
        List<Grant> grants = new ArrayList<>();
        if (!list.isList() && !list.isMap()) {
            return grants;
        }
        if (list.isMap() && !list.entries().isEmpty()) {
            findings.error(
                    list.place(), Code.TYPE, "Here should stand a list of grants.", "Start each with ‘- name: …’.");
        }
        for (Yaml item : list.items()) {
            List<String> allowed = never
                    ? List.of("name", "tools", "when")
                    : List.of("name", "tools", "when", "verdict", "of", "limits", "over-limit");
            Keys grant = Keys.of(item, findings, allowed);
            String verdict = never ? "deny" : grant.required("verdict");
            Decision decision = Decision.DENY;
            if (Set.of("allow", "ask", "deny").contains(verdict)) {
                decision = Decision.of(verdict);
            } else if (!verdict.isEmpty()) {
                findings.error(
                        grant.value("verdict").place(),
                        Code.VERDICT,
                        "‘" + verdict + "’ is not a verdict.",
                        "Write allow, ask or deny.");
            }
            List<Limit> limits = new ArrayList<>();
            for (Yaml limit : grant.value("limits").items()) {
                Limit read = LimitReader.read(limit, findings);
                if (read != null) {
                    limits.add(read);
                }
            }
            grants.add(new Grant(
                    grant.required("name"),
                    grant.texts("tools"),
                    grant.condition("when"),
                    decision,
                    grant.text("of"),
                    limits,
                    LimitReader.overLimit(grant, findings)));
        }
        return grants;
    }
}

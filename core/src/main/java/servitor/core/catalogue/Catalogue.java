package servitor.core.catalogue;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;

/**
 * The starting points that ship with the product. Each lies among the resources as a folder of handbook files, in which
 * {@code {{name}}} stands for what is asked.
 */
public final class Catalogue {
    private static final String ROOT = "/servitor/catalogue/";
    /** Files every handbook has; where one is there already, it stays as it is. */
    private static final List<String> SHARED = List.of("handbook.yaml", "desks.yaml");

    private Catalogue() {}

    /**
     * A starting point.
     *
     * @param asks what must be told to adapt it
     * @param files the handbook files it makes
     */
    public record Entry(String name, String title, String summary, List<Ask> asks, List<String> files) {}

    /**
     * A name that is asked for, such as that of a desk.
     *
     * @param otherwise taken when nothing is told
     * @param choices where those come from that there are; null when anything may be told
     */
    public record Ask(
            String name,
            String title,
            String otherwise,
            @Nullable Choices choices) {}

    /**
     * What a reading tool of the starting point itself gives to choose from.
     *
     * @param given what it is called with, in which {@code {{name}}} stands for what was asked before
     * @param list where its answer has them
     * @param value what is told of the one that was chosen, and {@code title} what people read
     */
    public record Choices(String tool, Map<String, String> given, String list, String value, String title) {
        /** What the tool is called with once names are told. */
        public Map<String, String> given(Map<String, String> told) {
            Map<String, String> filled = new LinkedHashMap<>();
            given.forEach((name, text) -> filled.put(name, filled(text, told)));
            return filled;
        }
    }

    /** Every starting point. */
    public static List<Entry> entries() {
        return text("index.txt")
                .lines()
                .filter(line -> !line.isBlank())
                .map(name -> entry(name.strip()))
                .toList();
    }

    public static Optional<Entry> find(String name) {
        return entries().stream().filter(entry -> entry.name().equals(name)).findFirst();
    }

    @SuppressWarnings("unchecked") // these files are the product's own, and a test reads each of them
    private static Entry entry(String name) {
        Map<String, Object> read = (Map<String, Object>)
                new Load(LoadSettings.builder().build()).loadFromString(text(name + "/entry.yaml"));
        List<Ask> asks = new ArrayList<>();
        Objects.requireNonNull(((Map<String, List<Object>>) read.get("asks")))
                .forEach((ask, about) -> asks.add(new Ask(
                        ask,
                        (String) about.get(0),
                        (String) about.get(1),
                        about.size() < 3 ? null : choices((Map<String, Object>) about.get(2)))));
        return new Entry(
                name,
                Objects.requireNonNull((String) read.get("title")),
                Objects.requireNonNull((String) read.get("summary")),
                asks,
                Objects.requireNonNull((List<String>) read.get("files")));
    }

    @SuppressWarnings("unchecked")
    private static Choices choices(Map<String, Object> read) {
        return new Choices(
                Objects.requireNonNull((String) read.get("tool")),
                (Map<String, String>) read.getOrDefault("given", Map.of()),
                Objects.requireNonNull((String) read.get("list")),
                Objects.requireNonNull((String) read.get("value")),
                Objects.requireNonNull((String) read.get("title")));
    }

    /**
     * The files of a starting point, adapted.
     *
     * @param told values by the names that are asked; missing ones take what the entry has
     * @param there files that are in the handbook already: shared ones stay, another of the same path is refused
     * @throws IllegalArgumentException when a value can't be a name, or a file would be overwritten
     */
    public static Map<String, String> adapt(Entry entry, Map<String, String> told, Map<String, String> there) {
        Map<String, String> values = values(entry, told);
        Map<String, String> files = new LinkedHashMap<>();
        for (String path : entry.files()) {
            String adapted = filled(path, values);
            boolean shared = SHARED.contains(adapted);
            if (there.containsKey(adapted) && !shared) {
                throw new IllegalArgumentException(
                        "There is a file " + adapted + " already. Tell another name, or move that file first.");
            }
            if (!there.containsKey(adapted)) {
                String folder = shared ? "" : entry.name() + "/";
                files.put(adapted, filled(text(folder + path), values));
            }
        }
        return files;
    }

    /**
     * A value for everything that a starting point asks for.
     *
     * @throws IllegalArgumentException when one can't be a name, or isn't asked for
     */
    public static Map<String, String> values(Entry entry, Map<String, String> told) {
        Map<String, String> values = new LinkedHashMap<>();
        for (Ask ask : entry.asks()) {
            String value = told.getOrDefault(ask.name(), ask.otherwise()).strip();
            boolean ours = ask.choices() == null;
            if (!value.matches(ours ? "[a-z0-9][a-z0-9-]{0,59}" : "[A-Za-z0-9][A-Za-z0-9._-]{0,99}")) {
                throw new IllegalArgumentException("‘" + value + "’ can't be " + ask.title() + ": use "
                        + (ours ? "lower-case letters, digits and ‘-’." : "letters, digits, ‘.’, ‘_’ and ‘-’."));
            }
            values.put(ask.name(), value);
        }
        for (String name : told.keySet()) {
            if (!values.containsKey(name)) {
                throw new IllegalArgumentException("‘" + entry.name() + "’ doesn't ask for ‘" + name + "’. It asks for "
                        + String.join(", ", values.keySet()) + ".");
            }
        }
        return values;
    }

    private static String filled(String text, Map<String, String> values) {
        String filled = text;
        for (Map.Entry<String, String> value : values.entrySet()) {
            filled = filled.replace("{{" + value.getKey() + "}}", value.getValue());
        }
        return filled;
    }

    private static String text(String resource) {
        try (InputStream in = Catalogue.class.getResourceAsStream(ROOT + resource)) {
            if (in == null) {
                throw new IllegalStateException("the catalogue has no " + resource);
            }
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}

package servitor.core.handbook.read;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Asking;
import servitor.core.handbook.Desk;
import servitor.core.handbook.Group;
import servitor.core.handbook.Letterhead;
import servitor.core.handbook.Place;
import servitor.core.handbook.Room;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;

/** Reads {@code desks.yaml}: desks, groups, and the rooms they are told things in. */
final class DesksFile {
    static final String NAME = "desks.yaml";
    private static final String ADDRESS =
            "[^\\s@<>\",;:()\\[\\]\\\\]{1,64}@[A-Za-z0-9](?:[A-Za-z0-9.-]{0,250}[A-Za-z0-9])?";

    private final Findings findings;

    DesksFile(Findings findings) {
        this.findings = findings;
    }

    /** What the file declares. */
    record Desks(Map<String, Desk> desks, Map<String, Group> groups, Map<String, Room> rooms) {}

    Desks missing() {
        findings.error(
                Place.top(NAME),
                Code.MISSING_FILE,
                "The handbook has no desks.yaml.",
                "Add it with ‘desks’ and ‘groups’.");
        return new Desks(Map.of(), Map.of(), Map.of());
    }

    Desks read(Yaml yaml) {
        Keys keys = Keys.of(yaml, findings, List.of("desks", "groups", "rooms"));
        Map<String, Room> rooms = new LinkedHashMap<>();
        keys.entries("rooms").forEach((name, value) -> rooms.put(name, room(name, value)));
        Map<String, Desk> desks = new LinkedHashMap<>();
        keys.entries("desks").forEach((name, value) -> desks.put(name, desk(name, value, rooms)));
        Map<String, Group> groups = new LinkedHashMap<>();
        keys.entries("groups").forEach((name, value) -> groups.put(name, group(name, value, rooms)));
        return new Desks(desks, groups, rooms);
    }

    /** A desk is a title alone, or a map. */
    private Desk desk(String name, Yaml value, Map<String, Room> rooms) {
        if (!value.isMap()) {
            return new Desk(name, value.text(), null, null, null, Asking.QUIETLY);
        }
        Keys keys = Keys.of(value, findings, List.of("title", "mail", "room", "hours", "holidays", "approvals"));
        return new Desk(
                name,
                keys.required("title"),
                keys.has("mail") ? letterhead(keys.value("mail")) : null,
                in(keys, rooms),
                keys.has("hours") ? new HoursReader(findings).read(keys) : null,
                keys.has("approvals") ? asking(name, keys, rooms) : Asking.QUIETLY);
    }

    private Asking asking(String desk, Keys of, Map<String, Room> rooms) {
        Keys keys = Keys.of(of.value("approvals"), findings, List.of("mail", "wording", "footers", "room"));
        boolean mail = keys.yes("mail");
        if (mail && !of.has("mail")) {
            findings.error(
                    keys.placeOf("mail"),
                    Code.NO_MAIL,
                    "‘" + desk + "’ sends no mails, so nobody is asked by mail.",
                    "Give the desk ‘mail’ with its letterhead.");
        }
        if (keys.yes("wording") && !mail) {
            findings.error(
                    keys.placeOf("wording"),
                    Code.NO_MAIL,
                    "Wording is approved by mail only where people are asked by mail.",
                    "Add ‘mail: true’, or take this out.");
        }
        return new Asking(mail, keys.yes("wording"), keys.texts("footers"), in(keys, rooms));
    }

    private Group group(String name, Yaml value, Map<String, Room> rooms) {
        if (!value.isMap()) {
            return new Group(name, value.text(), null);
        }
        Keys keys = Keys.of(value, findings, List.of("title", "room"));
        return new Group(name, keys.required("title"), in(keys, rooms));
    }

    private @Nullable String in(Keys keys, Map<String, Room> rooms) {
        String room = keys.text("room");
        if (room != null) {
            findings.unknown(Code.UNKNOWN_ROOM, room, rooms.keySet(), keys.placeOf("room"));
        }
        return room;
    }

    private Room room(String name, Yaml value) {
        Keys keys = Keys.of(value, findings, List.of("title", "connection", "body"));
        return new Room(
                name,
                keys.text("title", name),
                keys.required("connection"),
                keys.has("body") ? keys.inputs("body") : null,
                keys.places());
    }

    private Letterhead letterhead(Yaml value) {
        Keys keys = Keys.of(
                value, findings, List.of("connection", "from", "name", "signature", "label", "personal", "language"));
        String from = keys.required("from");
        if (!from.isEmpty() && !from.matches(ADDRESS)) {
            findings.error(
                    keys.placeOf("from"),
                    Code.ADDRESS,
                    "‘" + from + "’ is no address that mails can be from.",
                    "Write it as in desk@line.example; what stands beside it is ‘name’.");
        }
        String language = keys.text("language", "en");
        return new Letterhead(
                keys.required("connection"),
                from,
                line(keys.text("name", "")),
                byLanguage(keys, "signature", language),
                byLanguage(keys, "label", language),
                byLanguage(keys, "personal", language),
                language);
    }

    /** A text in the desk's language, or a map of texts by language. */
    private static Map<String, String> byLanguage(Keys keys, String key, String language) {
        if (!keys.value(key).isMap()) {
            String text = keys.text(key, "").strip();
            return text.isEmpty() ? Map.of() : Map.of(language, text);
        }
        Map<String, String> texts = new LinkedHashMap<>();
        keys.entries(key).forEach((in, text) -> texts.put(in, text.text().strip()));
        return texts;
    }

    private static String line(String text) {
        return text.replaceAll("[\\p{Cntrl}]+", " ").strip();
    }
}

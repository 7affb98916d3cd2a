package servitor.core.handbook.openapi;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashSet;
import java.util.Set;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Copies what a part of a document refers to into it, at the place where the whole has it. */
final class Referred {
    private final Pointers whole;
    private final ObjectNode part;
    private final Set<String> done = new HashSet<>();
    private final Deque<JsonNode> toDo = new ArrayDeque<>();

    Referred(Pointers whole, ObjectNode part) {
        this.whole = whole;
        this.part = part;
    }

    void gather() {
        toDo.add(part.deepCopy());
        while (!toDo.isEmpty()) {
            JsonNode node = toDo.remove();
            JsonNode reference = node.path("$ref");
            if (reference.isString() && done.add(reference.stringValue())) {
                copy(reference.stringValue());
            }
            node.forEach(toDo::add);
        }
    }

    private void copy(String reference) {
        JsonNode target = whole.at(reference);
        if (target.isMissingNode()) {
            return; // said where it is read
        }
        String[] names = reference.substring(2).split("/", -1);
        ObjectNode at = part;
        for (int i = 0; i < names.length - 1; i++) {
            JsonNode next = at.path(unescaped(names[i]));
            if (next.isArray()) {
                return; // stands in a list that was copied whole
            }
            at = next instanceof ObjectNode object ? object : at.putObject(unescaped(names[i]));
        }
        String last = unescaped(names[names.length - 1]);
        if (!at.has(last)) {
            at.set(last, target);
        }
        toDo.add(target);
    }

    private static String unescaped(String name) {
        return name.replace("~1", "/").replace("~0", "~");
    }
}

package servitor.core.engine;

import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import servitor.core.handbook.Effect;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.mandate.ProposedCall;
import tools.jackson.databind.JsonNode;

/** The systems outside: they act, refuse, fall silent, and remember everything that was really done to them. */
final class World {
    private final Random random;
    private final Map<String, Integer> done = new HashMap<>();
    private final Map<String, JsonNode> answers = new HashMap<>();
    private final Set<String> once = new HashSet<>();
    boolean calm;

    World(Random random) {
        this.random = random;
    }

    /** Carries out a call under its key; whatever comes back, {@link #done} knows the truth. */
    Reply call(Tool tool, ProposedCall call, String key) {
        int chance = calm ? 0 : random.nextInt(100);
        if (chance >= 92) {
            return new Reply.NotSent("connection refused");
        } else if (chance >= 86) {
            return new Reply.Unknown("fell silent before it was done", chance % 2 == 0);
        } else if (chance >= 84) {
            return new Reply.Failed(503, "busy");
        } else if (chance >= 83) {
            return new Reply.Failed(422, "not like that");
        } else if (chance >= 81) {
            return new Reply.Failed(404, "no such thing");
        }
        JsonNode answer = act(tool, call, key);
        if (chance >= 72) {
            return new Reply.Unknown("fell silent after it was done", chance % 2 == 0);
        } else if (chance >= 70) {
            return new Reply.Unreadable("an answer that is no JSON");
        } else if (chance >= 68) {
            return new Reply.Answered(200, Json.of("not what was declared"));
        }
        return new Reply.Answered(200, answer);
    }

    /** The same call of a system that one talks with line by line. */
    Reply talk(Tool tool, ProposedCall call, String key) {
        return new Reply.WithTranscript(call(tool, call, key), "> " + key + "\n");
    }

    private JsonNode act(Tool tool, ProposedCall call, String key) {
        if (tool.effect() == Effect.ONCE) {
            once.add(key);
            done.merge(key, 1, Integer::sum); // this system doesn't know keys: each call is done
        } else if (tool.effect() == Effect.WRITE) {
            done.put(key, 1); // this one does the same key only once
        }
        JsonNode known = answers.get(key);
        if (known == null) {
            known = answer(tool, call);
            answers.put(key, known);
        }
        return known;
    }

    private JsonNode answer(Tool tool, ProposedCall call) {
        if (tool.name().equals("shop.look-up")) {
            String key = call.args().path("key").asString();
            return Json.object()
                    .put("done", wasDone(key))
                    .put(
                            "number",
                            wasDone(key) ? answers.get(key).path("number").asString() : "");
        }
        if (tool.effect() != Effect.READ) {
            return Json.object().put("number", "N-" + answers.size());
        }
        var found = Json.object()
                .put("ref", call.args().path("ref").asString("x"))
                .put("price", random.nextInt(90) == 0 ? 950.0 : (double) random.nextInt(500));
        var items = found.putArray("items");
        for (int i = random.nextInt(4); i > 0; i--) {
            items.add("item" + i);
        }
        return found;
    }

    boolean wasDone(String key) {
        return done.getOrDefault(key, 0) > 0;
    }

    JsonNode answerOf(String key) {
        return answers.get(key);
    }

    /** Every key under which something was done, with how often. */
    Map<String, Integer> done() {
        return done;
    }
}

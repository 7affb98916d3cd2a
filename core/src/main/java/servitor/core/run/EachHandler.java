package servitor.core.run;

import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import servitor.core.handbook.Problem;
import servitor.core.handbook.Verb.Each;
import servitor.core.handbook.Verb.OnTrouble;
import servitor.core.json.Json;
import servitor.core.origin.Origin;
import servitor.core.origin.TracedValue;
import servitor.core.run.RunInput.PageEnded;
import servitor.core.run.RunState.Allowance;
import servitor.core.run.RunState.Pending;
import servitor.core.run.StepProgress.Items;
import servitor.core.trail.TrailWord;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * {@code each}: another page for every item of a list, several at once. What is left of the allowance is shared among
 * those that run at the same time, so that together they never use more than the run has.
 */
final class EachHandler implements VerbHandler<Each> {
    private static final int MOST_ITEMS = 500;

    @Override
    public void enter(TransitionBuilder turn, Each verb) {
        TracedValue list = turn.fill(verb.in());
        if (list == null) {
            return;
        }
        if (!list.value().isArray() || list.value().size() > MOST_ITEMS) {
            turn.problem(Problem.INVALID, "‘each’ needs a list of at most " + MOST_ITEMS + " items");
            return;
        }
        turn.remember(turn.memory().itemsAt(new Items(list, 0, Map.of(), Map.of(), Map.of(), Set.of())));
        startMore(turn, verb);
    }

    private void startMore(TransitionBuilder turn, Each verb) {
        Items items = Objects.requireNonNull(turn.memory().items());
        boolean stopped = verb.onTrouble() == OnTrouble.STOP
                && items.ended().values().stream().anyMatch(EachHandler::inTrouble);
        while (!stopped
                && items.running().size() < verb.atOnce()
                && items.next() < items.all().value().size()) {
            Items more = start(turn, verb, items);
            if (more == null) {
                return;
            }
            items = more;
        }
        turn.remember(turn.memory().itemsAt(items));
        if (items.running().isEmpty()) {
            finish(turn, verb, items);
        } else {
            turn.awaitLong(
                    new Pending(Pending.Kind.PAGES, "", null, Set.of()),
                    items.ended().size() + " of " + items.all().value().size() + " × ‘"
                            + FollowHandler.title(turn, verb.page()) + "’");
        }
    }

    private @org.jspecify.annotations.Nullable Items start(TransitionBuilder turn, Each verb, Items items) {
        Map<String, TracedValue> scope = turn.scope();
        TracedValue item = items.all().at(List.of(String.valueOf(items.next())));
        scope.put(verb.as(), item);
        TracedValue takes = turn.fill(verb.with(), scope);
        if (takes == null) {
            return null;
        }
        String id = turn.usage().nextId();
        Allowance share = share(turn, verb, items);
        FollowHandler.start(turn, id, verb.page(), takes, share, turn.chain());
        Map<String, Integer> running = new LinkedHashMap<>(items.running());
        running.put(id, items.next());
        Map<String, Allowance> reserved = new LinkedHashMap<>(items.reserved());
        reserved.put(id, share);
        return new Items(items.all(), items.next() + 1, running, reserved, items.ended(), items.written());
    }

    private static Allowance share(TransitionBuilder turn, Each verb, Items items) {
        int calls = turn.usage().callsLeft();
        int tokens = turn.usage().tokensLeft();
        for (Allowance taken : items.reserved().values()) {
            calls -= taken.calls();
            tokens -= taken.tokens();
        }
        int left = items.all().value().size() - items.next();
        int sharing = Math.max(1, Math.min(verb.atOnce() - items.running().size(), left));
        return new Allowance(Math.max(0, calls / sharing), Math.max(0, tokens / sharing));
    }

    @Override
    public void resume(TransitionBuilder turn, Each verb, RunInput input) {
        Items items = turn.memory().items();
        if (!(input instanceof PageEnded ended) || items == null) {
            return;
        }
        FollowHandler.takeOver(turn, ended);
        int at = Objects.requireNonNull(items.running().get(ended.id()));
        ObjectNode result = Json.object()
                .put("outcome", FollowHandler.endedWell(ended) ? "done" : "trouble")
                .<ObjectNode>set("item", items.all().value().get(at))
                .set("gives", ended.gives().value());
        if (inTrouble(result)) {
            result.put("why", ended.why());
        }
        Map<String, Integer> running = new LinkedHashMap<>(items.running());
        running.remove(ended.id());
        Map<String, Allowance> reserved = new LinkedHashMap<>(items.reserved());
        reserved.remove(ended.id());
        Map<Integer, JsonNode> all = new LinkedHashMap<>(items.ended());
        all.put(at, result);
        Set<Integer> written = new LinkedHashSet<>(items.written());
        if (ended.gives().written()) {
            written.add(at);
        }
        turn.log(
                TrailWord.ITEM_ENDED,
                Json.object()
                        .put("item", at + 1)
                        .put("outcome", result.path("outcome").asString()));
        turn.remember(turn.memory().itemsAt(new Items(items.all(), items.next(), running, reserved, all, written)));
        startMore(turn, verb);
    }

    private static boolean inTrouble(JsonNode result) {
        return result.path("outcome").asString().equals("trouble");
    }

    private static void finish(TransitionBuilder turn, Each verb, Items items) {
        ArrayNode results = Json.mapper().createArrayNode();
        Set<String> machine = new LinkedHashSet<>();
        for (int i = 0; i < items.all().value().size(); i++) {
            JsonNode result = items.ended().get(i);
            if (result != null) {
                if (items.written().contains(i)) {
                    machine.add(results.size() + ".gives");
                }
                if (Objects.requireNonNull(items.all().at(List.of(String.valueOf(i))))
                        .written()) {
                    machine.add(results.size() + ".item");
                }
                results.add(result);
            }
        }
        turn.known().save(verb.save(), new TracedValue(results, Set.of(Origin.LOOKUP), Map.of(), machine));
        items.ended().values().stream()
                .filter(EachHandler::inTrouble)
                .findFirst()
                .filter(result -> verb.onTrouble() != OnTrouble.SKIP)
                .map(result -> "an item ended in trouble: " + result.path("why").asString(""))
                .ifPresentOrElse(
                        why -> {
                            if (verb.onTrouble() == OnTrouble.STOP) {
                                turn.problem(Problem.TROUBLE, why);
                            } else {
                                turn.handOver(null, why);
                            }
                        },
                        turn::goOn);
    }
}

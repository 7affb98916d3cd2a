package servitor.core.rehearsal;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import servitor.core.approval.ApprovalRequest;
import servitor.core.engine.KeptApproval;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.Cue;
import servitor.core.handbook.Rehearsal.PeopleSay;
import servitor.core.json.Json;
import servitor.core.mandate.ProposedCall;
import servitor.core.prompt.Prompt;
import servitor.core.run.Command;
import servitor.core.run.RunState;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A page played to the first thing that nobody has answered yet. Whoever tries it answers that, and it is played again from its
 * beginning: the same answers lead to the same place.
 *
 * @param played what happened so far
 * @param open what isn't answered yet; null when it has come to its end, or broke off
 * @param suggested what a rehearsal or a real case says there; null when it says nothing
 */
public record TryOut(
        Played played, @Nullable Open open, @Nullable Cue suggested) {
    /** What is asked for. */
    public enum Sort {
        /** What a tool answers. */
        TOOL,
        /** What comes of a call that is held in shadow, done by hand. */
        HAND,
        /** What a model answers. */
        MODEL,
        /** What people answer. */
        PEOPLE,
        /** What comes, or that nothing does. */
        WAIT;

        /** Its word, for programs and people. */
        @JsonValue
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * Something that isn't answered yet.
     *
     * @param id the same each time the try is played
     * @param step the heading of the step
     * @param what the tool, the model, what people are asked, or what is waited for
     * @param shown inputs, or the sheet that people see
     * @param schema of the answer; an empty one when nothing is declared
     * @param call that would be sent; null when it is about none
     * @param scope what conditions see, to judge the call by
     * @param prompt that a model would be sent; null when none would
     * @param agent that works there
     */
    public record Open(
            Sort sort,
            String id,
            String step,
            String what,
            JsonNode shown,
            JsonNode schema,
            @Nullable ProposedCall call,
            Map<String, JsonNode> scope,
            @Nullable Prompt prompt,
            String agent) {
        public Open {
            scope = Map.copyOf(scope);
        }

        static Open call(
                Sort sort, String id, ProposedCall call, RunState run, Handbook handbook, Map<String, JsonNode> scope) {
            JsonNode schema = handbook.tool(call.tool()).answers();
            return new Open(
                    sort,
                    id,
                    ScriptedWorld.title(run, handbook),
                    call.tool(),
                    call.args(),
                    schema,
                    call,
                    scope,
                    null,
                    call.agent());
        }

        static Open model(Command.AskModel ask, RunState run, Handbook handbook) {
            Prompt prompt = ask.prompt();
            ObjectNode shown = Json.object().put("system", prompt.system()).put("user", prompt.user());
            shown.set("tools", Json.of(prompt.tools()));
            shown.set("exchanges", Json.of(prompt.exchanges()));
            return new Open(
                    Sort.MODEL,
                    ask.id(),
                    ScriptedWorld.title(run, handbook),
                    prompt.model(),
                    shown,
                    prompt.contract().schema(),
                    null,
                    Map.of(),
                    prompt,
                    handbook.page(run.page()).agent());
        }

        static Open people(KeptApproval kept, RunState run, Handbook handbook) {
            ApprovalRequest request = kept.request();
            ObjectNode shown = (ObjectNode) request.sheet().deepCopy();
            shown.set("of", Json.of(request.of().stream().sorted().toList()));
            return plain(Sort.PEOPLE, kept.id(), request.question(), shown, run, handbook);
        }

        static Open wait(RunState.Pending wait, RunState run, Handbook handbook) {
            String what = wait.what() == null ? "" : wait.what();
            ObjectNode shown = Json.object().put("named", wait.named() == null ? "" : wait.named());
            return plain(Sort.WAIT, wait.id(), what, shown, run, handbook);
        }

        private static Open plain(Sort sort, String id, String what, JsonNode shown, RunState run, Handbook handbook) {
            return new Open(
                    sort,
                    id,
                    ScriptedWorld.title(run, handbook),
                    what,
                    shown,
                    Json.object(),
                    null,
                    Map.of(),
                    null,
                    handbook.page(run.page()).agent());
        }
    }

    /**
     * Plays on.
     *
     * @param from where the case is from, and what tools, models and the world say where they fit; what people say there is only suggested
     * @param answers what whoever tries it has answered
     * @param silent ids of what nobody answers
     */
    public static TryOut play(Edition edition, Rehearsal from, List<Cue> answers, Set<String> silent) {
        List<Cue> cues = world(from);
        cues.addAll(answers); // given where the others had nothing to say
        Rehearsal all = new Rehearsal(from.name(), from.title(), from.about(), cues, from.must(), from.places());
        Rehearsing rehearsing = Rehearsing.asking(edition, all, silent);
        Played played = rehearsing.play();
        Open open = played.faults().isEmpty() ? rehearsing.open() : null;
        return new TryOut(played, open, open == null ? null : suggested(from, open));
    }

    /** What the world says in a rehearsal or a case, what came of calls in doubt with it; people are asked anew. */
    public static List<Cue> world(Rehearsal from) {
        return new ArrayList<>(from.cues().stream()
                .filter(cue ->
                        !(cue instanceof Rehearsal.Unasked) && (!(cue instanceof PeopleSay say) || say.settles()))
                .toList());
    }

    private static @Nullable Cue suggested(Rehearsal from, Open open) {
        return open.sort() != Sort.PEOPLE
                ? null
                : from.cues().stream()
                        .filter(cue -> cue instanceof PeopleSay say
                                && say.answers()
                                && !say.keepsSilent()
                                && say.step().equalsIgnoreCase(open.step()))
                        .findFirst()
                        .orElse(null);
    }
}

package servitor.core.rehearsal;

import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Rehearsal.About;
import servitor.core.handbook.Rehearsal.CallOf;
import servitor.core.handbook.Rehearsal.Calls;
import servitor.core.handbook.Rehearsal.Comes;
import servitor.core.handbook.Rehearsal.Cue;
import servitor.core.handbook.Rehearsal.Gives;
import servitor.core.handbook.Rehearsal.ModelSays;
import servitor.core.handbook.Rehearsal.Must;
import servitor.core.handbook.Rehearsal.Paper;
import servitor.core.handbook.Rehearsal.PeopleSay;
import servitor.core.handbook.Rehearsal.Requester;
import servitor.core.handbook.Rehearsal.Result;
import servitor.core.handbook.Rehearsal.ToolSays;
import servitor.core.handbook.Rehearsal.Unasked;
import servitor.core.handbook.Telling;
import servitor.core.json.Json;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** A rehearsal made of a real case, without what tells about people: a file that an engineer goes on writing. */
public final class VeiledRehearsal {
    private static final Pattern WORDS = Pattern.compile("(runbooks|mandates|kinds)/.*|tools/.*\\.openapi\\..*");
    private static final Set<String> FREE = Set.of("text", "reason", "says", "remark", "summary");

    private final Veil veil;

    private VeiledRehearsal(Veil veil) {
        this.veil = veil;
    }

    /**
     * Veils a rehearsal.
     *
     * @param files of the handbook: words of its pages, mandates, kinds and descriptions of tools stay
     */
    public static Rehearsal of(Rehearsal real, Map<String, String> files) {
        String words = files.entrySet().stream()
                .filter(file -> WORDS.matcher(file.getKey()).matches())
                .map(Map.Entry::getValue)
                .collect(Collectors.joining("\n"));
        VeiledRehearsal veiled = new VeiledRehearsal(new Veil(words));
        About about = veiled.about(real.about());
        List<Cue> cues = real.cues().stream()
                .filter(cue -> !(cue instanceof ToolSays says && Telling.tells(says.tool())))
                .map(veiled::cue)
                .toList();
        return new Rehearsal(real.name(), real.title(), about, cues, veiled.must(real.must()), real.places());
    }

    private About about(About real) {
        Requester asks = real.requester();
        return new About(
                real.kind(),
                real.page(),
                Veil.text(real.subject()),
                Veil.text(real.text()),
                real.language(),
                real.channel(),
                real.priority(),
                veil.fields(real.fields()),
                real.labels(),
                new Requester(
                        "requester",
                        veil.name(asks.name()),
                        veil.word(asks.account()),
                        asks.manager(),
                        asks.groups(),
                        asks.proof()),
                real.documents().stream().map(VeiledRehearsal::paper).toList(),
                real.at());
    }

    private static Paper paper(Paper real) {
        return new Paper(
                real.name().replaceFirst("^.*(\\.[A-Za-z0-9]{1,5})$", "document$1"),
                real.type(),
                real.outcome(),
                real.pages().stream().map(Veil::text).toList(),
                List.of());
    }

    private Cue cue(Cue real) {
        if (real instanceof ToolSays says) {
            return new ToolSays(
                    says.tool(),
                    veil.inputs(says.with()),
                    result(says.result()),
                    says.again(),
                    Duration.ZERO,
                    says.place());
        } else if (real instanceof ModelSays says) {
            return new ModelSays(says.step(), written(says.result()), says.tokens(), Duration.ZERO, says.place());
        } else if (real instanceof PeopleSay says) {
            Map<String, String> texts = new LinkedHashMap<>();
            says.texts().forEach((key, text) -> texts.put(key, Veil.text(text)));
            return new PeopleSay(
                    says.step(),
                    says.says(),
                    says.by(),
                    Veil.text(says.reason()),
                    texts,
                    says.form() == null ? null : veil.value(says.form()),
                    whole(says.after()),
                    says.place());
        }
        if (real instanceof Unasked unasked) {
            return new Unasked(
                    unasked.does(),
                    unasked.at(),
                    unasked.which(),
                    unasked.by(),
                    Veil.text(unasked.says()),
                    whole(unasked.after()),
                    unasked.place());
        }
        Comes comes = (Comes) real;
        return new Comes(
                comes.what(),
                comes.what().equals("document") ? "" : comes.named(),
                texts(comes.value()),
                comes.paper() == null ? null : paper(comes.paper()),
                comes.unawaited(),
                whole(comes.after()),
                comes.place());
    }

    private static Duration whole(Duration after) {
        return Duration.ofMinutes(after.toMinutes());
    }

    private Result result(Result real) {
        return real instanceof Gives gives ? new Gives(veil.value(gives.value())) : written(real);
    }

    /** What a model wrote, or was said in words, is free text. */
    private Result written(Result real) {
        if (real instanceof Gives gives) {
            return new Gives(texts(gives.value()));
        } else if (real instanceof Calls calls) {
            return new Calls(calls.calls().stream().map(this::call).toList());
        } else if (real instanceof Rehearsal.Fails fails) {
            return new Rehearsal.Fails(fails.problem(), Veil.text(fails.detail()));
        }
        return real;
    }

    private JsonNode texts(JsonNode value) {
        if (!value.isObject()) {
            return veil.value(value);
        }
        ObjectNode told = Json.object();
        value.properties().forEach(e -> {
            boolean free = FREE.contains(e.getKey()) && e.getValue().isString();
            told.set(
                    e.getKey(),
                    free
                            ? Json.of(Veil.text(e.getValue().asString("")))
                            : e.getKey().equals("texts") ? freeTexts(e.getValue()) : veil.value(e.getValue()));
        });
        return told;
    }

    private static JsonNode freeTexts(JsonNode texts) {
        ObjectNode told = Json.object();
        texts.properties()
                .forEach(e -> told.put(e.getKey(), Veil.text(e.getValue().asString(""))));
        return told;
    }

    private CallOf call(CallOf real) {
        return new CallOf(real.tool(), veil.inputs(real.with()), real.place());
    }

    private Must must(Must real) {
        List<CallOf> calls = new ArrayList<>();
        real.calls().forEach(call -> calls.add(call(call)));
        return new Must(
                real.end(), real.steps(), calls, real.never(), real.verdicts(), List.of(), real.asked(), real.most());
    }
}

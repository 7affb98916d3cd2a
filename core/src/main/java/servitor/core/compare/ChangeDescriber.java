package servitor.core.compare;

import java.lang.reflect.RecordComponent;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import servitor.core.compare.Comparison.Meaning;
import servitor.core.explain.Explainer;
import servitor.core.expression.Expression;
import servitor.core.expression.Template;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Desk;
import servitor.core.handbook.Group;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Letterhead;
import servitor.core.handbook.Mandate;
import servitor.core.handbook.NeededDocument;
import servitor.core.handbook.Room;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Tool;
import servitor.core.handbook.Verb;

/** Says what the difference between two handbooks means: for cases, for people who are asked, for what agents may do. */
final class ChangeDescriber {
    private static final int MOST_SHOWN = 300;
    private static final String DESKS = "desks.yaml";

    private final Handbook before;
    private final Handbook after;
    private final List<Meaning> found = new ArrayList<>();

    ChangeDescriber(Handbook before, Handbook after) {
        this.before = before;
        this.after = after;
    }

    List<Meaning> all() {
        each(before.runbooks(), after.runbooks(), "runbooks/", ".md", "The page", Runbook::title, this::page);
        each(before.mandates(), after.mandates(), "mandates/", ".yaml", "The mandate", Mandate::title, this::mandate);
        each(before.agents(), after.agents(), "agents/", ".yaml", "The agent", Agent::title, this::agent);
        each(before.kinds(), after.kinds(), "kinds/", ".yaml", "The kind", Kind::title, this::kind);
        each(before.intake(), after.intake(), "intake/", ".yaml", "The intake", Intake::title, this::intake);
        each(before.tools(), after.tools(), "tools/", "", "The tool", Tool::name, this::tool);
        checks();
        house();
        return found;
    }

    private interface Both<T> {
        void compare(String file, T old, T now);
    }

    private <T> void each(
            Map<String, T> old,
            Map<String, T> now,
            String folder,
            String ending,
            String sort,
            Function<T, String> title,
            Both<T> both) {
        TreeSet<String> names = new TreeSet<>(old.keySet());
        names.addAll(now.keySet());
        for (String name : names) {
            String file = folder + name + ending;
            if (!old.containsKey(name)) {
                say(file, sort + " ‘" + title.apply(now.get(name)) + "’ is new.");
            } else if (!now.containsKey(name)) {
                say(file, sort + " ‘" + title.apply(old.get(name)) + "’ is gone.");
            } else {
                both.compare(file, old.get(name), now.get(name));
            }
        }
    }

    private void say(String file, String sentence) {
        found.add(new Meaning(file, sentence));
    }

    private void changed(String file, String what, @Nullable Object old, @Nullable Object now) {
        if (!Objects.equals(old, now)) {
            say(file, what + " is now " + words(now) + ", was " + words(old) + ".");
        }
    }

    private static String words(@Nullable Object value) {
        String text = value == null ? "" : value.toString();
        return text.isBlank() || text.equals("[]") ? "nothing" : "‘" + text + "’";
    }

    private void page(String file, Runbook old, Runbook now) {
        String page = "‘" + now.title() + "’";
        changed(file, "The title of " + page, old.title(), now.title());
        changed(file, "The desk of " + page, old.desk(), now.desk());
        changed(file, "The agent of " + page, old.agent(), now.agent());
        changed(file, "What starts " + page, String.join(", ", old.startsOn()), String.join(", ", now.startsOn()));
        changed(file, "Which changes start " + page, changes(old), changes(now));
        changed(
                file,
                "What " + page + " takes",
                old.takes().words(),
                now.takes().words());
        changed(
                file,
                "What " + page + " gives",
                old.gives().keySet(),
                now.gives().keySet());
        changed(
                file,
                "The allowance of calls of " + page,
                old.limits().calls(),
                now.limits().calls());
        changed(
                file,
                "The allowance of model tokens of " + page,
                old.limits().modelTokens(),
                now.limits().modelTokens());
        changed(file, "The time of " + page, old.limits().time(), now.limits().time());
        changed(file, "Where trouble leads in " + page, old.onTrouble(), now.onTrouble());
        Map<String, Step> steps = new LinkedHashMap<>();
        old.steps().forEach(step -> steps.put(step.address(), step));
        for (Step step : now.steps()) {
            Step was = steps.remove(step.address());
            if (was == null) {
                say(file, "The step ‘" + step.title() + "’ is new: " + Explainer.step(after, now, step));
            } else {
                step(file, old, now, was, step);
            }
        }
        steps.values().forEach(gone -> say(file, "The step ‘" + gone.title() + "’ is gone."));
        order(file, old, now);
    }

    private void order(String file, Runbook old, Runbook now) {
        List<String> was = old.steps().stream()
                .map(Step::address)
                .filter(address -> now.step(address).isPresent())
                .toList();
        List<String> is = now.steps().stream()
                .map(Step::address)
                .filter(address -> old.step(address).isPresent())
                .toList();
        if (!was.equals(is)) {
            say(file, "The steps of ‘" + now.title() + "’ stand in another order.");
        }
    }

    private void step(String file, Runbook old, Runbook now, Step was, Step is) {
        String before = Explainer.step(this.before, old, was);
        String after = Explainer.step(this.after, now, is);
        if (!before.equals(after)) {
            say(file, "The step ‘" + is.title() + "’ now: " + after + " Before: " + before);
        } else if (!was.verb().equals(is.verb()) || !was.on().equals(is.on())) {
            parts(file, was, is);
        }
        rewritten(file, "The instruction of ‘" + is.title() + "’", was.prose(), is.prose());
    }

    /** The parts of a step that no sentence tells, such as its inputs and conditions, old and new. */
    private void parts(String file, Step was, Step is) {
        boolean told = false;
        for (RecordComponent part : is.verb().getClass().getRecordComponents()) {
            String old = was.verb().getClass() == is.verb().getClass() ? written(part, was.verb()) : "";
            String now = written(part, is.verb());
            if (!old.equals(now)) {
                rewritten(file, "In the step ‘" + is.title() + "’, ‘" + part.getName() + "’", old, now);
                told = true;
            }
        }
        if (!told) {
            say(file, "The step ‘" + is.title() + "’ leads elsewhere in some case.");
        }
    }

    private static String written(RecordComponent part, Verb verb) {
        try {
            Object value = part.getAccessor().invoke(verb);
            return value instanceof Template template
                    ? template.text()
                    : value instanceof Expression expression ? expression.text() : String.valueOf(value);
        } catch (ReflectiveOperationException e) {
            throw new IllegalStateException("a record's own parts can be read", e);
        }
    }

    private void rewritten(String file, String what, String old, String now) {
        if (!old.equals(now) && shorten(old).equals(shorten(now))) {
            say(file, what + " is written differently further down, or in its blanks.");
        } else {
            changed(file, what, shorten(old), shorten(now));
        }
    }

    /** Long texts are cut: the lines beside each other show them whole. */
    private static String shorten(String text) {
        String line = text.strip().replaceAll("\\s+", " ");
        return line.length() <= MOST_SHOWN ? line : line.substring(0, MOST_SHOWN) + "…";
    }

    private void mandate(String file, Mandate old, Mandate now) {
        changed(file, "Whom ‘" + now.title() + "’ binds", new TreeSet<>(old.agents()), new TreeSet<>(now.agents()));
        changed(file, "Who is asked when ‘" + now.title() + "’ names nobody", called(old.ask()), called(now.ask()));
        GrantChanges grants = new GrantChanges(after, now, sentence -> say(file, sentence));
        grants.compare("The rule", old.never(), now.never());
        grants.compare("The grant", old.grants(), now.grants());
    }

    private @Nullable String called(@Nullable String group) {
        return group == null ? null : after.called(group);
    }

    private void agent(String file, Agent old, Agent now) {
        String agent = "‘" + now.title() + "’";
        changed(file, "The model of " + agent, old.model(), now.model());
        changed(file, "The desk of " + agent, old.desk(), now.desk());
        changed(file, "How " + agent + " works", old.works().word(), now.works().word());
        changed(file, "The job of " + agent, old.brief().job(), now.brief().job());
        changed(
                file,
                "The audience of " + agent,
                old.brief().audience(),
                now.brief().audience());
        list(
                file,
                "rule of " + agent,
                old.brief().rules().all(),
                now.brief().rules().all());
        list(file, "example of " + agent, examples(old), examples(now));
    }

    private static List<String> examples(Agent agent) {
        return agent.brief().examples().stream().map(Agent.Example::words).toList();
    }

    private void list(String file, String sort, List<String> old, List<String> now) {
        now.stream()
                .filter(item -> !old.contains(item))
                .forEach(item -> say(file, "There is a new " + sort + ": ‘" + item.strip() + "’."));
        old.stream()
                .filter(item -> !now.contains(item))
                .forEach(item -> say(file, "A " + sort + " is gone: ‘" + item.strip() + "’."));
    }

    private static String within(@Nullable Duration time) {
        return within(time, "any time");
    }

    private static String within(@Nullable Duration time, String otherwise) {
        return time == null ? otherwise : time.toString();
    }

    private static String documents(Kind kind) {
        return kind.documents().isEmpty()
                ? "none"
                : kind.documents().values().stream().map(NeededDocument::words).collect(Collectors.joining("; "));
    }

    private void kind(String file, Kind old, Kind now) {
        changed(file, "The desk of ‘" + now.title() + "’", old.desk(), now.desk());
        changed(file, "Who is offered ‘" + now.title() + "’ beside its desk", old.offered(), now.offered());
        changed(
                file,
                "Files that can be added to ‘" + now.title() + "’",
                old.files().words(),
                now.files().words());
        changed(file, "Documents that cases of ‘" + now.title() + "’ come with", documents(old), documents(now));
        changed(file, "Whether cases of ‘" + now.title() + "’ are personal", yes(old.personal()), yes(now.personal()));
        changed(
                file,
                "How long cases of ‘" + now.title() + "’ may be open",
                within(old.resolveWithin()),
                within(now.resolveWithin()));
        now.fields().forEach((name, field) -> {
            Kind.Field was = old.fields().get(name);
            if (was == null) {
                say(
                        file,
                        "Cases of ‘" + now.title() + "’ have a new field ‘" + field.title() + "’"
                                + (field.required() ? ", which is required." : "."));
            } else if (!was.equals(field)) {
                say(
                        file,
                        "The field ‘" + field.title() + "’ of ‘" + now.title() + "’ is declared differently"
                                + (was.required() == field.required()
                                        ? "."
                                        : field.required() ? " and now required." : " and no longer required."));
            }
        });
        old.fields().forEach((name, field) -> {
            if (!now.fields().containsKey(name)) {
                say(file, "The field ‘" + field.title() + "’ of ‘" + now.title() + "’ is gone.");
            }
        });
    }

    private static String yes(boolean is) {
        return is ? "yes" : "no";
    }

    private static @Nullable String said(Intake intake) {
        return intake.acknowledge() == null
                ? null
                : intake.acknowledge().byLanguage().values().stream()
                        .map(Template::text)
                        .collect(Collectors.joining(" / "));
    }

    private void intake(String file, Intake old, Intake now) {
        String intake = "‘" + now.title() + "’";
        changed(file, "The way messages come to " + intake, old.from(), now.from());
        changed(file, "Where the mails of " + intake + " are", old.mailbox(), now.mailbox());
        changed(file, "The kind of case that " + intake + " opens", old.kind(), now.kind());
        changed(
                file,
                "What a message to " + intake + " holds",
                old.message().words(),
                now.message().words());
        changed(file, "Which messages " + intake + " takes", text(old.when()), text(now.when()));
        changed(file, "What makes messages to " + intake + " the same", text(old.oncePer()), text(now.oncePer()));
        changed(file, "Whose case a message to " + intake + " is", text(old.requester()), text(now.requester()));
        changed(file, "The subject that " + intake + " gives", text(old.subject()), text(now.subject()));
        changed(file, "The text that " + intake + " gives", text(old.text()), text(now.text()));
        changed(file, "The language that " + intake + " gives", text(old.language()), text(now.language()));
        changed(
                file,
                "Which case a message to " + intake + " belongs to",
                old.belongs().words(),
                now.belongs().words());
        changed(file, "What " + intake + " reads of a line", old.pattern(), now.pattern());
        changed(file, "When " + intake + " opens a case", old.schedule(), now.schedule());
        changed(file, "Whose signature messages to " + intake + " have", old.hook(), now.hook());
        changed(
                file,
                "How long after the last one messages to " + intake + " are only counted",
                within(old.countWithin(), "never"),
                within(now.countWithin(), "never"));
        changed(file, "What " + intake + " acknowledges mails with", said(old), said(now));
        TreeSet<String> names = new TreeSet<>(old.fields().keySet());
        names.addAll(now.fields().keySet());
        names.forEach(name -> changed(
                file,
                "The field ‘" + name + "’ that " + intake + " fills",
                text(old.fields().get(name)),
                text(now.fields().get(name))));
    }

    private static @Nullable String text(@Nullable Template template) {
        return template == null ? null : template.text();
    }

    private static @Nullable String text(@Nullable Expression condition) {
        return condition == null ? null : condition.text().strip();
    }

    private void tool(String file, Tool old, Tool now) {
        changed(
                file,
                "The effect of ‘" + now.name() + "’",
                old.effect().word(),
                now.effect().word());
        changed(
                file,
                "How ‘" + now.name() + "’ works",
                old.works().word(),
                now.works().word());
        changed(file, "The description of ‘" + now.name() + "’", old.description(), now.description());
        changed(file, "Whether ‘" + now.name() + "’ reads personal data", old.personal(), now.personal());
        if (!old.inputs().equals(now.inputs()) || !old.outputs().equals(now.outputs())) {
            say(file, "The inputs or outputs of ‘" + now.name() + "’ are declared differently.");
        }
        changed(
                file,
                "What identifies a record for ‘" + now.name() + "’",
                new TreeSet<>(old.identifies()),
                new TreeSet<>(now.identifies()));
        changed(
                file,
                "What speaks to people in ‘" + now.name() + "’",
                new TreeSet<>(old.speaks()),
                new TreeSet<>(now.speaks()));
        changed(
                file,
                "What models don't see of ‘" + now.name() + "’",
                new TreeSet<>(old.conceal()),
                new TreeSet<>(now.conceal()));
        changed(file, "What is fixed in ‘" + now.name() + "’", old.fixed(), now.fixed());
        changed(file, "How long ‘" + now.name() + "’ may take", old.timeLimit(), now.timeLimit());
        if (!old.binding().equals(now.binding())) {
            say(file, "‘" + now.name() + "’ is carried out differently.");
        }
        if (!Objects.equals(old.job(), now.job())) {
            say(file, "What ‘" + now.name() + "’ starts is waited for differently.");
        }
        if (!Objects.equals(old.settleWith(), now.settleWith())) {
            say(file, "A call of ‘" + now.name() + "’ in doubt is settled differently.");
        }
    }

    private void checks() {
        Set<String> connections = new TreeSet<>(before.checks().keySet());
        connections.addAll(after.checks().keySet());
        for (String connection : connections) {
            String now = after.checks().get(connection);
            String was = before.checks().get(connection);
            String tool = String.valueOf(now == null ? was : now);
            changed(
                    "tools/" + tool.substring(0, tool.lastIndexOf('.')) + ".yaml",
                    "What a test of the connection ‘" + connection + "’ calls",
                    was == null ? "nothing" : was,
                    now == null ? "nothing" : now);
        }
    }

    private void house() {
        String file = "handbook.yaml";
        changed(file, "The time zone", before.house().timeZone(), after.house().timeZone());
        changed(file, "The currency", before.house().currency(), after.house().currency());
        changed(
                file,
                "Whether a second engineer agrees to what is published",
                before.house().secondEngineer(),
                after.house().secondEngineer());
        list(file, "rule of the house", before.house().rules(), after.house().rules());
        changed(
                file,
                "The models",
                new TreeSet<>(before.house().models().keySet()),
                new TreeSet<>(after.house().models().keySet()));
        after.house().models().forEach((name, model) -> {
            var was = before.house().models().get(name);
            if (was != null) {
                changed(file, "The model behind ‘" + name + "’", was.name(), model.name());
                changed(file, "Where the model ‘" + name + "’ is", was.connection(), model.connection());
                changed(
                        file,
                        "What stands in for the model ‘" + name + "’",
                        String.valueOf(was.otherwise()).replace("null", "nothing"),
                        String.valueOf(model.otherwise()).replace("null", "nothing"));
                if (!was.settings().equals(model.settings())) {
                    say(file, "The model ‘" + name + "’ is asked differently.");
                }
            }
        });
        changed(
                DESKS,
                "The desks",
                new TreeSet<>(before.desks().keySet()),
                new TreeSet<>(after.desks().keySet()));
        changed(
                DESKS,
                "The groups",
                new TreeSet<>(before.groups().keySet()),
                new TreeSet<>(after.groups().keySet()));
        after.desks().forEach((name, desk) -> {
            Desk was = before.desks().get(name);
            if (was != null) {
                changed(DESKS, "The room of the desk ‘" + name + "’", was.room(), desk.room());
                mail(name, was.mail(), desk.mail());
            }
        });
        after.groups().forEach((name, group) -> {
            Group was = before.groups().get(name);
            if (was != null) {
                changed(DESKS, "The room of the group ‘" + name + "’", was.room(), group.room());
            }
        });
        rooms();
    }

    private void rooms() {
        changed(
                DESKS,
                "The rooms",
                new TreeSet<>(before.rooms().keySet()),
                new TreeSet<>(after.rooms().keySet()));
        after.rooms().forEach((name, room) -> {
            Room was = before.rooms().get(name);
            if (was != null) {
                changed(DESKS, "Where the room ‘" + name + "’ is", was.connection(), room.connection());
                changed(DESKS, "What is sent to the room ‘" + name + "’", body(was), body(room));
            }
        });
    }

    private static String changes(Runbook page) {
        return page.changes().stream()
                .map(change -> change.kind() + " " + change.words()
                        + (change.when() == null ? "" : " when " + change.when().text()))
                .collect(Collectors.joining(", "));
    }

    private static String body(Room room) {
        return room.body() == null ? "the usual" : room.body().text();
    }

    private void mail(String desk, @Nullable Letterhead was, @Nullable Letterhead is) {
        if (was == null || is == null) {
            changed(DESKS, "Whether the desk ‘" + desk + "’ sends mails", from(was), from(is));
            return;
        }
        changed(DESKS, "Whom mails of the desk ‘" + desk + "’ are from", was.address(), is.address());
        changed(DESKS, "What mails of the desk ‘" + desk + "’ go out by", was.connection(), is.connection());
        if (!was.equals(is)) {
            say(DESKS, "The mails of the desk ‘" + desk + "’ look different.");
        }
    }

    private static @Nullable String from(@Nullable Letterhead mail) {
        return mail == null ? null : "from " + mail.address();
    }
}

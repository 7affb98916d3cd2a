package servitor.cli.output;

import org.jspecify.annotations.Nullable;
import picocli.CommandLine;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;

/** Completion for fish: a line for each command and each option, with what it is for. */
public final class FishCompletion {
    private final StringBuilder lines = new StringBuilder();
    private final String program;

    private FishCompletion(String program) {
        this.program = program;
    }

    /** All of a program's commands, two levels deep, and their options. */
    public static String of(CommandSpec root) {
        FishCompletion fish = new FishCompletion(root.name());
        fish.line("__fish_use_subcommand", null, "");
        fish.options(root, "true");
        root.subcommands().forEach((thing, command) -> fish.thing(thing, command));
        return fish.lines.toString();
    }

    private void thing(String thing, CommandLine command) {
        CommandSpec spec = command.getCommandSpec();
        line("__fish_use_subcommand", thing, describe(spec));
        String within = "__fish_seen_subcommand_from " + thing;
        options(spec, within);
        StringBuilder actions = new StringBuilder();
        spec.subcommands().keySet().forEach(action -> actions.append(' ').append(action));
        spec.subcommands().forEach((action, sub) -> {
            line(within + "; and not __fish_seen_subcommand_from" + actions, action, describe(sub.getCommandSpec()));
            options(sub.getCommandSpec(), within + "; and __fish_seen_subcommand_from " + action);
        });
    }

    private void options(CommandSpec spec, String when) {
        for (OptionSpec option : spec.options()) {
            if (option.inherited() || option.hidden()) {
                continue;
            }
            String name = option.longestName().replaceFirst("^--", "");
            lines.append("complete -c ").append(program).append(" -n ").append(quoted(when));
            lines.append(" -l ").append(name);
            if (option.arity().max() > 0) {
                lines.append(" -r");
            }
            lines.append(" -d ").append(quoted(first(option.description()))).append('\n');
        }
    }

    private void line(String when, @Nullable String word, String about) {
        lines.append("complete -c ").append(program).append(" -f -n ").append(quoted(when));
        if (word != null) {
            lines.append(" -a ").append(quoted(word)).append(" -d ").append(quoted(about));
        }
        lines.append('\n');
    }

    private static String describe(CommandSpec spec) {
        return first(spec.usageMessage().description());
    }

    private static String first(String[] description) {
        return description.length == 0 ? "" : description[0];
    }

    /** Within single quotes only a backslash and a quote mean anything to fish. */
    private static String quoted(String text) {
        return "'" + text.replace("\\", "\\\\").replace("'", "\\'") + "'";
    }
}

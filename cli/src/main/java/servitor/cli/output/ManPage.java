package servitor.cli.output;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import picocli.CommandLine;
import picocli.CommandLine.Help;
import picocli.CommandLine.Help.Ansi;
import picocli.CommandLine.Model.ArgSpec;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Model.PositionalParamSpec;

/** Pages for {@code man}, in the macros of man(7), of the text that {@code --help} prints: one for the program, one for each of its things. */
public final class ManPage {
    private final StringBuilder page = new StringBuilder();

    private ManPage() {}

    /** All pages by their files' names. */
    public static Map<String, String> all(CommandSpec root) {
        Map<String, String> pages = new LinkedHashMap<>();
        pages.put(root.name() + ".1", of(root, root));
        commands(root).forEach(thing -> pages.put(root.name() + "-" + thing.name() + ".1", of(root, thing)));
        return pages;
    }

    private static Stream<CommandSpec> commands(CommandSpec of) {
        return of.subcommands().values().stream()
                .map(CommandLine::getCommandSpec)
                .filter(spec -> !spec.helpCommand());
    }

    private static String of(CommandSpec root, CommandSpec spec) {
        ManPage made = new ManPage();
        boolean whole = spec == root;
        String name = whole ? root.name() : root.name() + "-" + spec.name();
        made.line(".TH \"" + name.toUpperCase(java.util.Locale.ROOT) + "\" 1 \"\" \"" + root.name() + "\"");
        made.line(".nh");
        made.line(".ad l");
        made.section("NAME");
        made.text(name + " - " + first(spec));
        made.section("SYNOPSIS");
        made.synopsis(spec);
        made.section("DESCRIPTION");
        made.paragraphs(List.of(spec.usageMessage().description()));
        made.arguments(spec);
        if (whole) {
            made.section("COMMANDS");
            commands(spec)
                    .forEach(thing -> made.item(
                            "\\fB" + escaped(root.name() + "-" + thing.name()) + "\\fR(1)", List.of(first(thing))));
        } else {
            commands(spec).forEach(made::action);
        }
        made.paragraphs(List.of(spec.usageMessage().footer()));
        if (!whole) {
            made.section("SEE ALSO");
            made.line("\\fB" + root.name() + "\\fR(1)");
        }
        return made.page.toString();
    }

    private void action(CommandSpec action) {
        section(action.name());
        synopsis(action);
        line(".PP");
        paragraphs(List.of(action.usageMessage().description()));
        arguments(action);
    }

    private void synopsis(CommandSpec spec) {
        String said =
                new Help(spec, Help.defaultColorScheme(Ansi.OFF)).synopsis(0).strip();
        text(said.replaceAll("\\s+", " "));
    }

    private void arguments(CommandSpec spec) {
        List<PositionalParamSpec> positional = spec.positionalParameters();
        List<OptionSpec> options = spec.options().stream()
                .filter(option ->
                        !option.inherited() && !option.hidden() && !option.usageHelp() && !option.versionHelp())
                .toList();
        for (PositionalParamSpec one : positional) {
            item("\\fI" + escaped(one.paramLabel()) + "\\fR", described(one));
        }
        for (OptionSpec one : options) {
            String label = one.arity().max() > 0 ? " \\fI" + escaped(one.paramLabel()) + "\\fR" : "";
            item("\\fB" + escaped(String.join(", ", one.names())) + "\\fR" + label, described(one));
        }
    }

    /** The words of {@code --help}, defaults filled in. */
    private static List<String> described(ArgSpec one) {
        return Stream.of(one.description())
                .map(said -> said.replace("${DEFAULT-VALUE}", String.valueOf(one.defaultValueString())))
                .toList();
    }

    private static String first(CommandSpec spec) {
        String[] said = spec.usageMessage().description();
        return said.length == 0 ? spec.name() : said[0];
    }

    private void item(String head, List<String> said) {
        line(".TP");
        line(head);
        said.forEach(this::text);
        if (said.isEmpty()) {
            line("\\&");
        }
    }

    private void paragraphs(List<String> said) {
        for (String one : said) {
            text(one);
            line(".br");
        }
    }

    private void section(String title) {
        line(".SH \"" + title.toUpperCase(java.util.Locale.ROOT) + "\"");
    }

    private void text(String text) {
        String safe = escaped(text);
        line(safe.startsWith(".") || safe.startsWith("'") ? "\\&" + safe : safe);
    }

    /** groff_man(7): a backslash begins a command, and a bare minus may be set as a hyphen that nobody can paste. */
    private static String escaped(String text) {
        return text.replace("\\", "\\e").replace("-", "\\-").replaceAll("\\s+", " ");
    }

    private void line(String line) {
        page.append(line).append('\n');
    }
}

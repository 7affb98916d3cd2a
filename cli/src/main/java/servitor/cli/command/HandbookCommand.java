package servitor.cli.command;

import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Answers.Differences;
import servitor.cli.client.Answers.Edition;
import servitor.cli.client.Answers.EditionFiles;
import servitor.cli.client.Answers.Offered;
import servitor.cli.client.Answers.Published;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.cli.output.Output;
import servitor.core.catalogue.Catalogue;
import servitor.core.compare.Comparison;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Finding;
import tools.jackson.databind.JsonNode;

/** {@code handbook}: begin, check, publish, list, show, compare, restore, export. */
@Command(
        name = "handbook",
        description = "Begin, check, rehearse, publish and compare handbooks.",
        synopsisSubcommandLabel = "ACTION",
        subcommands = {RehearseCommand.class, LookBackCommand.class})
public final class HandbookCommand {
    @ParentCommand
    private Servitor servitor;

    Servitor servitor() {
        return servitor;
    }

    @Command(name = "check", description = "Check a handbook folder; needs no service.")
    int check(@Parameters(paramLabel = "DIR") Path folder) {
        CheckedHandbook checked = CheckedHandbook.of(HandbookFolder.read(folder));
        if (!servitor.printed(Client.JSON.valueToTree(checked.findings()))) {
            checked.findings().forEach(servitor.out()::println);
            long errors = checked.findings().stream()
                    .filter(f -> f.severity() == Finding.Severity.ERROR)
                    .count();
            servitor.out()
                    .println(
                            checked.findings().isEmpty()
                                    ? "Nothing found: this handbook can be published."
                                    : errors + " error(s), "
                                            + (checked.findings().size() - errors) + " other finding(s)"
                                            + (errors == 0 ? ": this handbook can be published." : "."));
        }
        return (checked.sound() ? ExitCode.DONE : ExitCode.NO).number();
    }

    @Command(
            name = "publish",
            description = {
                "Check a handbook folder, play its rehearsals, and publish it as the next edition.",
                "Asks first when files would vanish, or when the folder wasn't made from the edition in force."
            })
    int publish(
            @Parameters(paramLabel = "DIR") Path folder,
            @Option(names = "--note", converter = Given.class, defaultValue = "", description = "What changed and why.")
                    String note,
            @Option(
                            names = "--despite",
                            converter = Given.class,
                            paramLabel = "WHY",
                            description =
                                    "Publish although rehearsals aren't as they must be; why is kept on the trail.")
                    @Nullable
                    String despite,
            @Option(names = "--yes", description = "Don't ask; for programs.") boolean yes) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("files", HandbookFolder.read(folder));
        body.put("note", note);
        body.put("despite", despite);
        body.put("base", BaseMark.read(folder).orElse(null));
        body.put("confirmed", yes);
        JsonNode published;
        try {
            published = servitor.client().post("/api/handbook/editions", body);
        } catch (Trouble trouble) {
            if (!trouble.problem().has("takenOut")) {
                throw trouble;
            }
            look(trouble);
            if (!servitor.agreed("Publish all the same?")) {
                throw new Trouble(
                        ExitCode.NO,
                        "Nothing was published. "
                                + (BaseMark.read(folder).isPresent()
                                        ? "‘servitor handbook rebase " + folder + "’ takes over what is in force"
                                        : "‘servitor handbook new DIR --from-current’ begins with what is in force")
                                + "; --yes publishes without asking.");
            }
            body.put("confirmed", true);
            published = servitor.client().post("/api/handbook/editions", body);
        }
        BaseMark.write(folder, Client.as(Published.class, published).edition().number());
        if (!servitor.printed(published)) {
            published.path("findings").forEach(finding -> servitor.out().println(Output.finding(finding)));
            servitor.out().println(published(published));
        }
        return 0;
    }

    /** What publishing would take out and write over. */
    private void look(Trouble trouble) {
        var err = servitor.err();
        err.println(trouble.getMessage());
        trouble.problem().path("takenOut").forEach(path -> err.println("  would be taken out:    " + path.asString()));
        trouble.problem()
                .path("writtenOver")
                .forEach(path -> err.println("  would be written over: " + path.asString()));
        err.flush();
    }

    @Command(
            name = "rebase",
            description = {
                "Take over into a folder what was published since it was made from an edition.",
                "A file that was changed both here and there stays as it is here and is named."
            })
    int rebase(
            @Parameters(paramLabel = "DIR") Path folder,
            @Option(
                            names = "--from",
                            paramLabel = "EDITION",
                            description = "The edition the folder was made from, when it doesn't say so itself.")
                    @Nullable
                    Integer from) {
        int base = from != null
                ? from
                : BaseMark.read(folder)
                        .orElseThrow(() -> new Trouble(
                                ExitCode.WRONG_USAGE,
                                folder + " doesn't say which edition it was made from; say it with --from EDITION."));
        int current = servitor.client()
                .get("/api/handbook/editions")
                .path(0)
                .path("number")
                .asInt();
        Rebase rebase =
                Rebase.of(files(String.valueOf(base)), HandbookFolder.read(folder), files(String.valueOf(current)));
        HandbookFolder.overwrite(folder, rebase.taken(), rebase.removed());
        rebase.taken().keySet().forEach(path -> servitor.out().println("  taken over: " + path));
        rebase.removed().forEach(path -> servitor.out().println("  taken out:  " + path));
        rebase.conflicts().forEach(path -> servitor.out().println("  changed here and there: " + path));
        if (!rebase.conflicts().isEmpty()) {
            servitor.out()
                    .println("Put these right by hand (servitor handbook show " + current
                            + " FILE shows what is in force), then: servitor handbook rebase " + folder + " --from "
                            + current);
            return ExitCode.NO.number();
        }
        BaseMark.write(folder, current);
        servitor.out().println(folder + " is made from edition " + current + " now.");
        return 0;
    }

    @Command(
            name = "consents",
            description = "What somebody wants to publish and others have to agree to; or one of them.")
    int consents(
            @Parameters(arity = "0..1", paramLabel = "DIGEST", description = "One of them, with what it changes.")
                    @Nullable
                    String digest) {
        JsonNode answer =
                servitor.client().get("/api/handbook/consents" + (digest == null ? "" : "/" + Client.part(digest)));
        if (servitor.printed(answer)) {
            return 0;
        }
        if (digest == null) {
            Output.table(
                    servitor.out(),
                    List.of("WHO", "ASKED", "STATE", "NOTE", "DIGEST"),
                    Client.all(Wish.class, answer).stream()
                            .map(wish -> List.of(
                                    wish.person().name(),
                                    Output.time(wish.asked()),
                                    wish.state(),
                                    wish.note(),
                                    wish.digest()))
                            .toList());
        } else {
            answer.at("/comparison/meanings")
                    .forEach(meaning -> servitor.out()
                            .println(meaning.path("file").asString("") + ": "
                                    + meaning.path("sentence").asString("")));
        }
        return 0;
    }

    record Wish(String digest, Who person, String note, String asked, String state) {}

    record Who(String name) {}

    @Command(name = "consent", description = "Agree, or not, to what somebody else publishes.")
    int consent(
            @Parameters(paramLabel = "DIGEST", description = "As publishing told it.") String digest,
            @Option(
                            names = "--decline",
                            converter = Given.class,
                            paramLabel = "REASON",
                            description = "You don't; why.")
                    @Nullable
                    String declined) {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("digest", digest);
        body.put("declined", declined != null);
        body.put("reason", declined);
        JsonNode agreed = servitor.client().post("/api/handbook/consents", body);
        if (!servitor.printed(agreed)) {
            servitor.out()
                    .println(declined == null ? "Agreed for " + Output.join(agreed.path("desks")) + "." : "Declined.");
        }
        return 0;
    }

    @Command(name = "list", description = "List the editions, newest first.")
    int list() {
        JsonNode editions = servitor.client().get("/api/handbook/editions");
        if (!servitor.printed(editions)) {
            Output.table(
                    servitor.out(),
                    List.of("EDITION", "PUBLISHED", "BY", "NOTE"),
                    Client.all(Edition.class, editions).stream()
                            .map(item -> List.of(
                                    item.number() + (item.current() ? " (current)" : ""),
                                    Output.time(item.published()),
                                    item.publishedBy().name(),
                                    item.note()))
                            .toList());
        }
        return 0;
    }

    @Command(name = "show", description = "Show an edition and its files, or one of them.")
    int show(
            @Parameters(paramLabel = "EDITION") int number,
            @Parameters(paramLabel = "FILE", arity = "0..1", description = "Print this file of it.") @Nullable
                    String file) {
        JsonNode shown = servitor.client().get("/api/handbook/editions/" + number);
        if (file != null) {
            if (!shown.path("files").has(file)) {
                throw new Trouble(ExitCode.NO, "Edition " + number + " has no file ‘" + file + "’.");
            }
            servitor.out().print(shown.path("files").path(file).asString());
            return 0;
        }
        if (!servitor.printed(shown)) {
            Edition edition = Client.as(EditionFiles.class, shown).edition();
            servitor.out()
                    .println("Edition " + number + ", published " + Output.time(edition.published()) + " by "
                            + edition.publishedBy().name()
                            + (edition.note().isEmpty() ? "" : ": " + edition.note()));
            shown.path("files")
                    .properties()
                    .forEach(e -> servitor.out()
                            .println("  " + e.getKey() + "  ("
                                    + e.getValue().asString().lines().count() + " lines)"));
        }
        return 0;
    }

    @Command(name = "compare", description = "Say what lies between two editions, or two folders, the older first.")
    int compare(
            @Parameters(paramLabel = "OLDER") String older,
            @Parameters(paramLabel = "NEWER") String newer,
            @Option(names = "--text", description = "The difference of the files' texts as well.") boolean text) {
        JsonNode difference = older.matches("[0-9]+") && newer.matches("[0-9]+")
                ? servitor.client().get("/api/handbook/editions/" + older + "/changes-to/" + newer)
                : Client.JSON.valueToTree(Comparison.of(files(older), files(newer)));
        if (servitor.printed(difference)) {
            return 0;
        }
        Differences found = Client.as(Differences.class, difference);
        if (found.files().isEmpty()) {
            servitor.out().println("Nothing differs.");
        }
        found.meanings().forEach(meaning -> servitor.out().println(meaning.file() + ": " + meaning.sentence()));
        found.files().forEach(file -> {
            if (text) {
                servitor.out().println("\n" + file.text());
            } else {
                servitor.out().println("  " + file.change() + "  " + file.path());
            }
        });
        return 0;
    }

    /** The files of an edition by its number, or of a folder. */
    private Map<String, String> files(String what) {
        if (!what.matches("[0-9]+")) {
            return HandbookFolder.read(Path.of(what));
        }
        Map<String, String> files = new TreeMap<>();
        servitor.client()
                .get("/api/handbook/editions/" + what)
                .path("files")
                .properties()
                .forEach(e -> files.put(e.getKey(), e.getValue().asString()));
        return files;
    }

    @Command(name = "restore", description = "Publish the content of an earlier edition again, as a new one.")
    int restore(
            @Parameters(paramLabel = "EDITION") int number,
            @Option(names = "--note", converter = Given.class, defaultValue = "", description = "Why.") String note,
            @Option(
                            names = "--despite",
                            converter = Given.class,
                            paramLabel = "WHY",
                            defaultValue = "",
                            description =
                                    "Publish although rehearsals aren't as they must be; why is kept on the trail.")
                    String despite) {
        JsonNode published = servitor.client()
                .post("/api/handbook/editions/" + number + "/restore", Map.of("note", note, "despite", despite));
        if (!servitor.printed(published)) {
            servitor.out().println(published(published));
        }
        return 0;
    }

    @Command(name = "export", description = "Write the files of an edition into a folder.")
    int export(@Parameters(paramLabel = "EDITION") int number, @Parameters(paramLabel = "DIR") Path folder) {
        Map<String, String> files = files(String.valueOf(number));
        HandbookFolder.write(folder, files);
        BaseMark.write(folder, number);
        servitor.out().println("Wrote " + files.size() + " files of edition " + number + " to " + folder + ".");
        return 0;
    }

    @Command(name = "new", description = "Begin a handbook folder from a starting point; needs no service.")
    int begin(
            @Parameters(paramLabel = "DIR", arity = "0..1", description = "Where to write it.") @Nullable Path folder,
            @Option(
                            names = "--from",
                            paramLabel = "ENTRY",
                            description = "The starting point; without it they are listed.")
                    @Nullable
                    String from,
            @Option(
                            names = "--from-current",
                            description = "Begin with the edition in force, and put the starting point into that.")
                    boolean fromCurrent,
            @Option(names = "--set", paramLabel = "NAME=VALUE", description = "A name to adapt; repeat for more.")
                    @Nullable
                    Map<String, String> names) {
        if (folder != null && fromCurrent) {
            int current = servitor.client()
                    .get("/api/handbook/editions")
                    .path(0)
                    .path("number")
                    .asInt();
            export(current, folder);
            if (from == null) {
                return 0;
            }
        }
        if (from == null || folder == null) {
            Catalogue.entries().forEach(entry -> {
                servitor.out().println(entry.name() + ": " + entry.summary());
                entry.asks()
                        .forEach(ask -> servitor.out()
                                .println("    --set " + ask.name() + "=" + ask.otherwise() + "   " + ask.title()
                                        + (ask.choices() == null ? "" : ", one of ‘handbook choices’")));
            });
            servitor.out().println("\nBegin with: servitor handbook new DIR --from ENTRY");
            return 0;
        }
        Catalogue.Entry entry = Catalogue.find(from)
                .orElseThrow(() -> new Trouble(
                        ExitCode.WRONG_USAGE,
                        "There is no starting point ‘" + from + "’. ‘servitor handbook new’ lists them."));
        try {
            Map<String, String> there =
                    java.nio.file.Files.isDirectory(folder) ? HandbookFolder.read(folder) : Map.of();
            Map<String, String> files = Catalogue.adapt(entry, names == null ? Map.of() : names, there);
            HandbookFolder.write(folder, files);
            files.keySet().forEach(path -> servitor.out().println("  " + folder.resolve(path)));
        } catch (IllegalArgumentException e) {
            throw new Trouble(ExitCode.NO, String.valueOf(e.getMessage()));
        }
        servitor.out().println("Check it with: servitor handbook check " + folder);
        return 0;
    }

    @Command(
            name = "choices",
            description = "List what there is to choose from for a starting point, as a connection says it.")
    int choices(
            @Parameters(paramLabel = "ENTRY") String entry,
            @Option(names = "--set", paramLabel = "NAME=VALUE", description = "What is told already; repeat for more.")
                    @Nullable
                    Map<String, String> names) {
        JsonNode choices = servitor.client()
                .post(
                        "/api/handbook/catalogue/" + Client.part(entry) + "/choices",
                        Map.of("names", names == null ? Map.of() : names));
        if (!servitor.printed(choices)) {
            choices.properties().forEach(ask -> {
                Offered offered = Client.as(Offered.class, ask.getValue());
                servitor.out().println(ask.getKey() + ":" + (offered.reason().isEmpty() ? "" : " " + offered.reason()));
                offered.items()
                        .forEach(item -> servitor.out()
                                .println("    --set " + ask.getKey() + "=" + item.value() + "   " + item.title()));
            });
            if (choices.isEmpty()) {
                servitor.out().println("‘" + entry + "’ has nothing to choose from a connection.");
            }
        }
        return 0;
    }

    static String published(JsonNode published) {
        int number = Client.as(Published.class, published).edition().number();
        return Client.as(Published.class, published).isNew()
                ? "Published as edition " + number + "."
                : "Nothing changed: edition " + number + " already has this content.";
    }
}

package servitor.cli.command;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import servitor.cli.output.JUnitReport;
import servitor.core.explain.Drawing;
import servitor.core.explain.SvgDrawing;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Rehearsal;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.check.CheckedHandbook;
import servitor.core.handbook.finding.Finding;
import servitor.core.rehearsal.Coverage;
import servitor.core.rehearsal.Played;
import servitor.core.rehearsal.Rehearsing;

/** {@code handbook rehearse}: plays rehearsals of a handbook folder. */
@Command(
        name = "rehearse",
        description = "Play the rehearsals of a handbook folder; needs no service, reaches nothing.")
final class RehearseCommand implements Callable<Integer> {
    @ParentCommand
    private HandbookCommand handbook;

    @Parameters(paramLabel = "DIR", index = "0")
    private Path folder;

    @Parameters(paramLabel = "NAME", index = "1..*", description = "Only these; otherwise all.")
    private List<String> names = new ArrayList<>();

    @Option(
            names = "--report",
            paramLabel = "FILE",
            description = "Write what came of each as JUnit XML, for build servers.")
    @Nullable
    private Path report;

    @Option(names = "--trail", description = "Show what happened in each, entry by entry.")
    private boolean trail;

    @Option(names = "--untouched", description = "List the steps, ways and grants that no rehearsal touches.")
    private boolean untouched;

    @Option(
            names = "--draw",
            paramLabel = "FOLDER",
            description = "Draw each page as SVG into this folder, with what no rehearsal touches set apart.")
    @Nullable
    private Path drawings;

    /** What came of one, as it is printed for programs. */
    record Came(String name, String title, boolean passed, String state, List<String> differences, double millis) {}

    @Override
    public Integer call() {
        CheckedHandbook checked = CheckedHandbook.of(HandbookFolder.read(folder));
        List<Finding> errors = checked.findings().stream()
                .filter(finding -> finding.severity() == Finding.Severity.ERROR)
                .toList();
        if (!errors.isEmpty()) {
            errors.forEach(handbook.servitor().err()::println);
            throw new Trouble(ExitCode.NO, "The handbook has errors; they come first.");
        }
        Map<String, Rehearsal> all = checked.handbook().rehearsals();
        names.stream().filter(name -> !all.containsKey(name)).findFirst().ifPresent(name -> {
            throw new Trouble(ExitCode.WRONG_USAGE, "There is no rehearsal ‘" + name + "’ in " + folder + ".");
        });
        List<Played> plays = new ArrayList<>();
        List<Came> came = new ArrayList<>();
        Edition edition = new Edition(1, checked.handbook());
        all.entrySet().stream()
                .filter(one -> names.isEmpty() || names.contains(one.getKey()))
                .sorted(Map.Entry.comparingByKey())
                .forEach(one -> {
                    long start = System.nanoTime();
                    Played played = Rehearsing.play(edition, one.getValue());
                    plays.add(played);
                    came.add(new Came(
                            one.getKey(),
                            one.getValue().title(),
                            played.passed(),
                            played.state(),
                            played.differences(),
                            (System.nanoTime() - start) / 1e6));
                });
        Coverage coverage = Coverage.of(checked.handbook(), plays);
        if (report != null) {
            write(report, came);
        }
        if (drawings != null) {
            draw(drawings, checked.handbook(), coverage);
        }
        if (!handbook.servitor().printed(Client.JSON.valueToTree(Map.of("rehearsals", came, "untouched", coverage)))) {
            print(plays, coverage);
        }
        return (plays.stream().allMatch(Played::passed) ? ExitCode.DONE : ExitCode.NO).number();
    }

    private static void draw(Path folder, Handbook book, Coverage coverage) {
        try {
            Files.createDirectories(folder);
            for (Runbook page : book.runbooks().values()) {
                Files.writeString(
                        folder.resolve(page.name() + ".svg"),
                        SvgDrawing.of(Drawing.of(book, page), coverage.marks(page)));
            }
        } catch (IOException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, folder + " can't be written to: " + e.getMessage());
        }
    }

    private static void write(Path report, List<Came> came) {
        try {
            Files.writeString(
                    report,
                    JUnitReport.of(
                            "rehearsals",
                            came.stream()
                                    .map(one -> new JUnitReport.Test(
                                            one.name(), one.title(), one.differences(), one.millis()))
                                    .toList()));
        } catch (IOException e) {
            throw new Trouble(ExitCode.WRONG_USAGE, report + " can't be written: " + e.getMessage());
        }
    }

    private void print(List<Played> plays, Coverage coverage) {
        PrintWriter out = handbook.servitor().out();
        for (Played play : plays) {
            out.println((play.passed() ? "as rehearsed  " : "NOT SO        ")
                    + play.rehearsal().name() + "  " + play.rehearsal().title());
            play.differences().forEach(difference -> out.println("                " + difference));
            if (trail) {
                play.trail()
                        .forEach(entry ->
                                out.println("                " + entry.entry().at() + "  "
                                        + (entry.entry().step().isEmpty()
                                                ? ""
                                                : "‘" + entry.entry().step() + "’ ")
                                        + entry.entry().what() + " " + entry.data()));
            }
        }
        long failed = plays.stream().filter(play -> !play.passed()).count();
        out.println(
                plays.isEmpty()
                        ? "There are no rehearsals in " + folder + "."
                        : plays.size() + " played, "
                                + (failed == 0 ? "all as rehearsed." : failed + " not as rehearsed."));
        out.println("Untouched: " + coverage.steps().size() + " of " + coverage.allSteps() + " steps, "
                + coverage.ways().size() + " of " + coverage.allWays() + " ways, "
                + coverage.grants().size() + " of " + coverage.allGrants() + " grants"
                + (untouched ? ":" : "; --untouched lists them."));
        if (untouched) {
            coverage.steps().forEach(step -> out.println("  step   " + step.page() + ": " + step.step()));
            coverage.ways()
                    .forEach(way -> out.println("  way    " + way.page() + ": " + way.from()
                            + (way.on().isEmpty() ? "" : ", " + way.on()) + " → " + way.to()));
            coverage.grants().forEach(grant -> out.println("  grant  " + grant.mandate() + ": " + grant.grant()));
        }
    }
}

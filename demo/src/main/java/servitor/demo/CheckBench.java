package servitor.demo;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.TreeMap;
import org.commonmark.parser.Parser;
import servitor.cli.command.HandbookFolder;
import servitor.core.handbook.check.CheckedHandbook;

/** Measures how checking grows with the number of pages, beside reading and CommonMark-parsing the same files. */
public final class CheckBench {
    private static final Path PAGE = Path.of("runbooks/lost-property.md");

    private CheckBench() {}

    public static void main(String[] args) throws IOException {
        Path demo = Path.of("demo/handbook");
        String page = Files.readString(demo.resolve(PAGE));
        String parts = page.substring(0, page.indexOf("starts:")) + page.substring(page.indexOf("limits:"));
        measure(folder(demo, parts, 50)); // warms up
        System.out.println("pages   read and parse   check    ratio   check per page");
        for (int pages : new int[] {10, 100, 1_000}) {
            Path folder = folder(demo, parts, pages);
            double[] best = measure(folder);
            System.out.printf(
                    "%5d %13.0f ms %7.0f ms %7.1f %12.2f ms%n",
                    pages, best[0], best[1], best[1] / best[0], best[1] / pages);
        }
    }

    /** The demo's handbook with copies of a fifteen-step page, each a little different so that nothing is known already. */
    private static Path folder(Path demo, String page, int pages) throws IOException {
        Path folder = Files.createTempDirectory("servitor-check-");
        for (Map.Entry<String, String> file : HandbookFolder.read(demo).entrySet()) {
            if (!file.getKey().startsWith("runbooks/")) {
                Path path = folder.resolve(file.getKey());
                Files.createDirectories(path.getParent());
                Files.writeString(path, file.getValue());
            }
        }
        Files.createDirectories(folder.resolve("runbooks"));
        for (int i = 0; i < pages; i++) {
            Files.writeString(folder.resolve("runbooks/page-" + i + ".md"), page.replace("found", "found_" + i));
        }
        return folder;
    }

    /** The best of three: reading and parsing, then checking, in milliseconds. */
    private static double[] measure(Path folder) throws IOException {
        double[] best = {Double.MAX_VALUE, Double.MAX_VALUE};
        Parser parser = Parser.builder().build();
        for (int i = 0; i < 3; i++) {
            long start = System.nanoTime();
            HandbookFolder.read(folder).values().forEach(parser::parse);
            best[0] = Math.min(best[0], (System.nanoTime() - start) / 1e6);
            Map<String, String> files = new TreeMap<>(HandbookFolder.read(folder));
            files.replaceAll((path, text) -> text + "\n"); // a text of its own each time
            start = System.nanoTime();
            CheckedHandbook.of(files);
            best[1] = Math.min(best[1], (System.nanoTime() - start) / 1e6);
        }
        return best;
    }
}

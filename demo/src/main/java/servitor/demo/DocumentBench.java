package servitor.demo;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.time.Duration;
import java.util.concurrent.Callable;
import java.util.concurrent.TimeUnit;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.text.PDFTextStripper;
import org.apache.poi.ss.usermodel.Row;
import org.apache.poi.ss.usermodel.Workbook;
import org.apache.poi.ss.usermodel.WorkbookFactory;
import servitor.core.document.ReadOutcome;
import servitor.documents.Reading;

/** How long reading documents takes, each by a process of its own, beside the bare libraries warm in this process. */
final class DocumentBench {
    private static final int WARM = 20;

    private DocumentBench() {}

    /** {@code DocumentBench TIMES}: so many readings of each document. */
    public static void main(String[] args) throws Exception {
        int times = Integer.parseInt(args[0]);
        try (Reading reading = Reading.within(Duration.ofMinutes(2)).startingSooner()) {
            System.out.println(reading.isContained() ? "contained by bubblewrap" : "not contained");
            compare("PDF of 3 pages", BenchFiles.paper(3, 1), times, reading, DocumentBench::bareText);
            compare("PDF of 300 pages", BenchFiles.paper(300, 1), times, reading, DocumentBench::bareText);
            compare("sheet of 200 rows", BenchFiles.goods(200, 1), times, reading, DocumentBench::bareCells);
            compare("sheet of 10,000 rows", BenchFiles.goods(10_000, 1), times, reading, DocumentBench::bareCells);
        }
    }

    private interface Bare {
        int read(byte[] content) throws IOException;
    }

    private static void compare(String what, byte[] content, int times, Reading reading, Bare bare) throws Exception {
        millis(WARM, () -> bare.read(content));
        double alone = millis(times, () -> bare.read(content));
        double whole = millis(times, () -> {
            ReadOutcome outcome = reading.read(content, "document").outcome();
            if (outcome != ReadOutcome.TEXT) {
                throw new IllegalStateException(what + ": " + outcome);
            }
            return outcome;
        });
        double ready = 0;
        for (int i = 0; i < times; i++) {
            TimeUnit.SECONDS.sleep(2); // as documents come: the next process has been started meanwhile
            ready += millis(1, () -> reading.read(content, "document")) / times;
        }
        System.out.printf(
                "%-22s %8.1f ms each in a row, %8.1f ms when one comes, the bare library %8.1f ms: %.2f and %.2f%n",
                what, whole, ready, alone, alone / whole, alone / ready);
    }

    private static double millis(int times, Callable<?> work) throws Exception {
        long begun = System.nanoTime();
        for (int i = 0; i < times; i++) {
            work.call();
        }
        return (System.nanoTime() - begun) / 1e6 / times;
    }

    private static int bareText(byte[] content) throws IOException {
        try (PDDocument document = Loader.loadPDF(content)) {
            PDFTextStripper stripper = new PDFTextStripper();
            stripper.setSortByPosition(true);
            return stripper.getText(document).length();
        }
    }

    private static int bareCells(byte[] content) throws IOException {
        int cells = 0;
        try (Workbook book = WorkbookFactory.create(new ByteArrayInputStream(content))) {
            for (Row row : book.getSheetAt(0)) {
                cells += row.getPhysicalNumberOfCells();
            }
        }
        return cells;
    }
}

package servitor.documents;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.common.PDRectangle;
import org.apache.pdfbox.pdmodel.encryption.InvalidPasswordException;
import org.apache.pdfbox.pdmodel.interactive.form.PDAcroForm;
import org.apache.pdfbox.pdmodel.interactive.form.PDField;
import org.apache.pdfbox.rendering.PDFRenderer;
import org.apache.pdfbox.text.PDFTextStripper;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadDocument.Page;
import servitor.core.document.ReadDocument.Table;
import servitor.core.document.ReadOutcome;

/** PDF: the text of each page in the order it is read, and what stands in its form. */
final class PdfFormat implements DocumentReader.Format {
    /** Tables are looked for on the first pages only. */
    private static final int MOST_PAGES_WITH_TABLES = 50;

    @Override
    public ReadDocument read(String type, byte[] content) throws IOException, Unreadable {
        try (PDDocument document = Loader.loadPDF(content)) {
            if (document.getNumberOfPages() > Budget.MOST_PAGES) {
                throw new Unreadable(ReadOutcome.TOO_LARGE, "it has " + document.getNumberOfPages() + " pages");
            }
            List<Page> pages = pages(document);
            boolean none = pages.stream().allMatch(page -> page.text().isBlank());
            if (pages.isEmpty()) {
                return ReadDocument.nothing(ReadOutcome.EMPTY, type, "0 pages");
            }
            return none
                    ? new ReadDocument(ReadOutcome.NO_TEXT, type, pages.size() + " pages", pages, List.of())
                    : new ReadDocument(ReadOutcome.TEXT, type, withoutText(pages), pages, tables(document));
        } catch (InvalidPasswordException e) {
            throw new Unreadable(ReadOutcome.ENCRYPTED, "");
        }
    }

    private static List<Page> pages(PDDocument document) throws IOException, Unreadable {
        Budget budget = new Budget();
        PDFTextStripper stripper = new PDFTextStripper();
        stripper.setSortByPosition(true);
        List<Page> pages = new ArrayList<>();
        for (int number = 1; number <= document.getNumberOfPages(); number++) {
            stripper.setStartPage(number);
            stripper.setEndPage(number);
            pages.add(new Page(number, budget.text(stripper.getText(document).strip())));
        }
        String form = form(document);
        if (!form.isEmpty()) {
            Page last = pages.remove(pages.size() - 1);
            pages.add(new Page(last.number(), budget.text((last.text() + "\n" + form).strip())));
        }
        return pages;
    }

    private static List<Table> tables(PDDocument document) throws IOException, Unreadable {
        Budget budget = new Budget();
        PdfTables found = new PdfTables();
        List<Table> tables = new ArrayList<>();
        for (int number = 1; number <= Math.min(document.getNumberOfPages(), MOST_PAGES_WITH_TABLES); number++) {
            found.setStartPage(number);
            found.setEndPage(number);
            found.getText(document);
            tables.addAll(found.ofPage(number, number == document.getNumberOfPages(), budget));
        }
        return document.getNumberOfPages() <= MOST_PAGES_WITH_TABLES ? tables : doubted(tables);
    }

    /** Another table of the same headings may stand where none was looked for. */
    private static List<Table> doubted(List<Table> tables) {
        return tables.stream()
                .map(table -> new Table(
                        table.name(),
                        table.header(),
                        table.rows(),
                        Stream.concat(
                                        table.doubts().stream(),
                                        Stream.of("no tables were looked for behind page " + MOST_PAGES_WITH_TABLES))
                                .toList()))
                .toList();
    }

    /** What is filled in, a line each: the page's own text has the labels alone. */
    private static String form(PDDocument document) {
        PDAcroForm form = document.getDocumentCatalog().getAcroForm(null);
        StringBuilder lines = new StringBuilder();
        if (form != null && !document.getPages().iterator().hasNext()) {
            return "";
        }
        for (PDField field : form == null ? List.<PDField>of() : form.getFieldTree()) {
            String value = field.getValueAsString();
            if (value != null && !value.isBlank()) {
                String label = field.getAlternateFieldName();
                lines.append(label == null ? field.getFullyQualifiedName() : label)
                        .append(": ")
                        .append(value)
                        .append('\n');
            }
        }
        return lines.toString().strip();
    }

    /** A page as it looks, as PNG; empty when there is none of this number. */
    static Optional<byte[]> picture(byte[] content, int page) throws IOException {
        try (PDDocument document = Loader.loadPDF(content)) {
            if (page < 1 || page > Math.min(document.getNumberOfPages(), Budget.MOST_PAGES)) {
                return Optional.empty();
            }
            PDRectangle box = document.getPage(page - 1).getCropBox();
            float scale = Picture.LONGEST_SIDE / Math.max(1, Math.max(box.getWidth(), box.getHeight()));
            return Optional.of(Picture.png(new PDFRenderer(document).renderImage(page - 1, Math.min(scale, 3))));
        }
    }

    private static String withoutText(List<Page> pages) {
        List<String> blank = pages.stream()
                .filter(page -> page.text().isBlank())
                .map(page -> String.valueOf(page.number()))
                .toList();
        return blank.isEmpty() ? "" : "no text on page " + String.join(", ", blank);
    }
}

package servitor.demo;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.font.PDType1Font;
import org.apache.pdfbox.pdmodel.font.Standard14Fonts;
import org.apache.poi.ss.usermodel.Row;
import org.apache.poi.ss.usermodel.Sheet;
import org.apache.poi.ss.usermodel.Workbook;
import org.apache.poi.xssf.usermodel.XSSFWorkbook;

/** Files to measure with; those of another {@code number} differ. */
final class BenchFiles {
    private BenchFiles() {}

    /** A PDF with 48 lines on each page; its last one says until when it is valid. */
    static byte[] paper(int pages, int number) throws IOException {
        try (PDDocument document = new PDDocument()) {
            for (int i = 1; i <= pages; i++) {
                PDPage page = new PDPage();
                document.addPage(page);
                try (PDPageContentStream content = new PDPageContentStream(document, page)) {
                    content.beginText();
                    content.setFont(new PDType1Font(Standard14Fonts.FontName.HELVETICA), 11);
                    content.setLeading(14);
                    content.newLineAtOffset(50, 740);
                    for (int line = 1; line < 48; line++) {
                        content.showText("Line " + line + " of page " + i + " of paper " + number
                                + ": the goods are stowed on the deck, and lashed.");
                        content.newLine();
                    }
                    content.showText(i == pages ? "Valid until: 14 November 2028" : "It goes on overleaf.");
                    content.endText();
                }
            }
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            document.save(out);
            return out.toByteArray();
        }
    }

    /** A sheet with so many rows of eight cells below its headings. */
    static byte[] goods(int rows, int number) throws IOException {
        try (Workbook book = new XSSFWorkbook()) {
            Sheet sheet = book.createSheet("Goods");
            Row headings = sheet.createRow(0);
            headings.createCell(0).setCellValue("Vehicle");
            headings.createCell(1).setCellValue("Goods");
            headings.createCell(2).setCellValue("Litres");
            for (int column = 3; column < 8; column++) {
                headings.createCell(column).setCellValue("Number " + column);
            }
            for (int i = 1; i <= rows; i++) {
                Row row = sheet.createRow(i);
                row.createCell(0).setCellValue("Truck " + i + " of " + number);
                row.createCell(1).setCellValue("Timber, lashed");
                for (int column = 2; column < 8; column++) {
                    row.createCell(column).setCellValue(i * column / 7.0);
                }
            }
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            book.write(out);
            return out.toByteArray();
        }
    }
}

package servitor.documents;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.font.PDType1Font;
import org.apache.pdfbox.pdmodel.font.Standard14Fonts;
import org.apache.poi.ss.usermodel.Workbook;
import org.apache.poi.xssf.usermodel.XSSFWorkbook;
import servitor.core.json.Json;

/** Loads what a worker needs before its document comes: reading small ones of its own takes the time that is there anyway. */
final class WarmUp {
    private WarmUp() {}

    static void readSamples() {
        DocumentReader reader = new DocumentReader();
        try {
            Json.write(reader.read(pdf(), "sample.pdf"));
            Json.write(reader.read(sheet(), "sample.xlsx"));
            Json.write(reader.read("a;b\n1;2\n".getBytes(StandardCharsets.UTF_8), "sample.csv"));
        } catch (IOException | RuntimeException e) {
            return; // the document will tell
        }
    }

    private static byte[] pdf() throws IOException {
        try (PDDocument document = new PDDocument();
                ByteArrayOutputStream out = new ByteArrayOutputStream()) {
            PDPage page = new PDPage();
            document.addPage(page);
            try (PDPageContentStream content = new PDPageContentStream(document, page)) {
                content.beginText();
                content.setFont(new PDType1Font(Standard14Fonts.FontName.HELVETICA), 12);
                content.newLineAtOffset(50, 700);
                content.showText("Sample");
                content.endText();
            }
            document.save(out);
            return out.toByteArray();
        }
    }

    private static byte[] sheet() throws IOException {
        try (Workbook book = new XSSFWorkbook();
                ByteArrayOutputStream out = new ByteArrayOutputStream()) {
            var sheet = book.createSheet();
            for (int i = 0; i < 3; i++) {
                var row = sheet.createRow(i);
                row.createCell(0).setCellValue("a" + i);
                row.createCell(1).setCellValue(i);
            }
            book.write(out);
            return out.toByteArray();
        }
    }
}

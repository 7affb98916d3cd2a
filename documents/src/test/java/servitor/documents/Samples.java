package servitor.documents;

import com.github.miachm.sods.SpreadSheet;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.List;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import javax.imageio.ImageIO;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.encryption.AccessPermission;
import org.apache.pdfbox.pdmodel.encryption.StandardProtectionPolicy;
import org.apache.pdfbox.pdmodel.font.PDType1Font;
import org.apache.pdfbox.pdmodel.font.Standard14Fonts;
import org.apache.poi.ss.usermodel.CellStyle;
import org.apache.poi.ss.usermodel.Row;
import org.apache.poi.ss.usermodel.Sheet;
import org.apache.poi.ss.usermodel.Workbook;
import org.apache.poi.ss.util.CellRangeAddress;
import org.apache.poi.xssf.streaming.SXSSFWorkbook;
import org.apache.poi.xssf.usermodel.XSSFWorkbook;

/** Files as they come, made when they are wanted. */
final class Samples {
    private Samples() {}

    static byte[] pdf(String... pages) {
        try (PDDocument document = pdfOf(pages)) {
            return bytes(document);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    static byte[] png() {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try {
            ImageIO.write(new BufferedImage(30, 20, BufferedImage.TYPE_INT_RGB), "png", out);
            return out.toByteArray();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    static byte[] encryptedPdf(String page) {
        try (PDDocument document = pdfOf(page)) {
            document.protect(new StandardProtectionPolicy("owner", "user", new AccessPermission()));
            return bytes(document);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static PDDocument pdfOf(String... pages) throws IOException {
        PDDocument document = new PDDocument();
        for (String text : pages) {
            PDPage page = new PDPage();
            document.addPage(page);
            try (PDPageContentStream content = new PDPageContentStream(document, page)) {
                content.beginText();
                content.setFont(new PDType1Font(Standard14Fonts.FontName.HELVETICA), 12);
                content.newLineAtOffset(50, 700);
                content.showText(text);
                content.endText();
            }
        }
        return document;
    }

    /** A PDF with one page of lines, each of words that stand in columns. */
    @SafeVarargs
    static byte[] columns(List<String>... lines) {
        try (PDDocument document = new PDDocument()) {
            PDPage page = new PDPage();
            document.addPage(page);
            try (PDPageContentStream content = new PDPageContentStream(document, page)) {
                for (int line = 0; line < lines.length; line++) {
                    for (int column = 0; column < lines[line].size(); column++) {
                        content.beginText();
                        content.setFont(new PDType1Font(Standard14Fonts.FontName.HELVETICA), 12);
                        content.newLineAtOffset(50 + 120 * column, 700 - 18 * line);
                        content.showText(lines[line].get(column));
                        content.endText();
                    }
                }
            }
            return bytes(document);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static byte[] bytes(PDDocument document) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        document.save(out);
        return out.toByteArray();
    }

    /** A sheet of goods: a title, an empty row, the header, three rows; a merged cell, a date, and a formula whose value was saved or wasn't. */
    static byte[] goods(boolean saved) {
        try (Workbook book = new XSSFWorkbook()) {
            Sheet sheet = book.createSheet("Goods");
            sheet.createRow(0).createCell(0).setCellValue("Declaration");
            texts(sheet.createRow(2), "Vehicle", "Class", "Weight", "Loaded");
            CellStyle date = book.createCellStyle();
            date.setDataFormat(book.createDataFormat().getFormat("yyyy-mm-dd"));
            for (int i = 0; i < 3; i++) {
                Row row = sheet.createRow(3 + i);
                row.createCell(0).setCellValue("Truck " + i);
                row.createCell(1).setCellValue(i);
                row.createCell(2).setCellFormula("1.5*" + (i + 1));
                row.createCell(3).setCellValue(LocalDate.of(2026, 5, 31));
                row.getCell(3).setCellStyle(date);
            }
            sheet.getRow(5).removeCell(sheet.getRow(5).getCell(0));
            sheet.addMergedRegion(new CellRangeAddress(4, 5, 0, 0));
            if (saved) {
                book.getCreationHelper().createFormulaEvaluator().evaluateAll();
            }
            return bytes(book);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static void texts(Row row, String... texts) {
        for (int i = 0; i < texts.length; i++) {
            row.createCell(i).setCellValue(texts[i]);
        }
    }

    /** The same by another program, as an open document: a row of it is hidden. */
    static byte[] openSheet() {
        com.github.miachm.sods.Sheet sheet = new com.github.miachm.sods.Sheet("Goods", 3, 3);
        sheet.getDataRange()
                .setValues("Vehicle", "Class", "Loaded", "Truck", 3.0, LocalDate.of(2026, 5, 31), "Van", 1.0, null);
        sheet.hideRow(2);
        SpreadSheet book = new SpreadSheet();
        book.appendSheet(sheet);
        try {
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            book.save(out);
            return out.toByteArray();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** So many rows, more than are read, or than there is memory for. */
    static byte[] rows(int count) {
        try (SXSSFWorkbook book = new SXSSFWorkbook(100)) {
            Sheet sheet = book.createSheet("Rows");
            for (int i = 0; i < count; i++) {
                texts(sheet.createRow(i), "row", String.valueOf(i), "of many rows that nobody reads");
            }
            return bytes(book);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static byte[] bytes(Workbook book) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        book.write(out);
        return out.toByteArray();
    }

    /** A workbook by its form, with this as its one sheet. */
    static byte[] zipped(String sheet) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(out)) {
            entry(
                    zip,
                    "[Content_Types].xml",
                    "<Types xmlns=\"http://schemas.openxmlformats.org/package/2006/content-types\"><Default Extension=\"rels\" "
                            + "ContentType=\"application/vnd.openxmlformats-package.relationships+xml\"/><Override PartName=\"/xl/workbook.xml\" "
                            + "ContentType=\"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml\"/><Override "
                            + "PartName=\"/xl/worksheets/sheet1.xml\" "
                            + "ContentType=\"application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml\"/></Types>");
            entry(
                    zip,
                    "_rels/.rels",
                    "<Relationships xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\"><Relationship Id=\"rId1\" "
                            + "Type=\"http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument\" "
                            + "Target=\"xl/workbook.xml\"/></Relationships>");
            entry(
                    zip,
                    "xl/workbook.xml",
                    "<workbook xmlns=\"http://schemas.openxmlformats.org/spreadsheetml/2006/main\" "
                            + "xmlns:r=\"http://schemas.openxmlformats.org/officeDocument/2006/relationships\"><sheets><sheet name=\"S\" sheetId=\"1\" "
                            + "r:id=\"rId1\"/></sheets></workbook>");
            entry(
                    zip,
                    "xl/_rels/workbook.xml.rels",
                    "<Relationships xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\"><Relationship Id=\"rId1\" "
                            + "Type=\"http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet\" "
                            + "Target=\"worksheets/sheet1.xml\"/></Relationships>");
            entry(zip, "xl/worksheets/sheet1.xml", sheet);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toByteArray();
    }

    private static void entry(ZipOutputStream zip, String name, String text) throws IOException {
        zip.putNextEntry(new ZipEntry(name));
        zip.write(text.getBytes(StandardCharsets.UTF_8));
        zip.closeEntry();
    }
}

package servitor.demo;

import java.awt.BasicStroke;
import java.awt.Color;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.List;
import javax.imageio.ImageIO;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.common.PDRectangle;
import org.apache.pdfbox.pdmodel.font.PDType1Font;
import org.apache.pdfbox.pdmodel.font.Standard14Fonts;
import org.apache.pdfbox.pdmodel.graphics.image.LosslessFactory;
import org.apache.poi.ss.usermodel.Row;
import org.apache.poi.ss.usermodel.Sheet;
import org.apache.poi.ss.usermodel.Workbook;
import org.apache.poi.xssf.usermodel.XSSFWorkbook;
import servitor.demo.Correspondent.Enclosed;

/** The papers of the demo, made when somebody sends them. */
final class Papers {
    private static final String SHEET = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";
    private static final String PDF = "application/pdf";
    private static final int SIZE = 11;

    private Papers() {}

    /** A vehicle and what is on it. */
    record Load(String vehicle, String goods, String unClass, double litres) {}

    /** A declaration of vehicles and goods. */
    static Enclosed declaration(String name, String sailing, List<Load> loads) {
        try (Workbook book = new XSSFWorkbook();
                ByteArrayOutputStream out = new ByteArrayOutputStream()) {
            Sheet sheet = book.createSheet("Goods");
            texts(sheet.createRow(0), "Declaration of vehicles and goods");
            texts(sheet.createRow(1), "Sailing", sailing);
            texts(sheet.createRow(3), "Vehicle", "Goods", "Class", "Litres");
            for (int i = 0; i < loads.size(); i++) {
                Load load = loads.get(i);
                Row row = sheet.createRow(4 + i);
                texts(row, load.vehicle(), load.goods(), load.unClass());
                row.createCell(3).setCellValue(load.litres());
            }
            for (int column = 0; column < 4; column++) {
                sheet.setColumnWidth(column, 20 * 256);
            }
            book.write(out);
            return new Enclosed(name, SHEET, out.toByteArray());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static void texts(Row row, String... texts) {
        for (int i = 0; i < texts.length; i++) {
            row.createCell(i).setCellValue(texts[i]);
        }
    }

    /** The safety sheet of a fuel. */
    static Enclosed safetySheet() {
        return pdf(
                "safety-sheet.pdf",
                List.of(
                        "Safety sheet",
                        "",
                        "Product: Harbour Marine Fuel",
                        "UN number: 1202",
                        "Class: 3",
                        "",
                        "This fuel burns. Its vapour catches fire above 60 degrees.",
                        "It is carried in closed drums of 200 litres."),
                List.of(
                        "In case of fire",
                        "",
                        "Foam or powder puts it out; water spreads it.",
                        "Stow it in the open, away from the ramp and from anything hot."));
    }

    /** A sea medical certificate of two pages. */
    static Enclosed seaMedical(String holder, String until) {
        return pdf(
                "sea-medical.pdf",
                List.of(
                        "Sea medical certificate",
                        "",
                        "Name of seafarer: " + holder,
                        "Work on board: Deckhand",
                        "",
                        "I have examined the seafarer named above and find them fit for duty at sea,",
                        "without a limitation."),
                List.of(
                        "Sight and hearing: as required",
                        "",
                        "Examined on: 14 November 2026",
                        "Valid until: " + until,
                        "",
                        "Dr. Runa Askeland, harbour practice, Aldermouth"));
    }

    /** A pay slip, which isn't what was asked for. */
    static Enclosed paySlip() {
        return pdf(
                "scan-0412.pdf",
                List.of(
                        "Pay slip for October",
                        "",
                        "Ewan Mirza, deckhand",
                        "Gross pay: 2,410.00 EUR",
                        "Net pay: 1,918.40 EUR"));
    }

    /** A photo of an umbrella on a deck. */
    static Enclosed photo(String name, Color umbrella) {
        BufferedImage photo = umbrella(umbrella);
        try (ByteArrayOutputStream out = new ByteArrayOutputStream()) {
            ImageIO.write(photo, "jpeg", out);
            return new Enclosed(name, "image/jpeg", out.toByteArray());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The same as a scanned page: there is no text in it. */
    static Enclosed scan(String name, Color umbrella) {
        return drawn(name, document -> {
            PDPage page = new PDPage(PDRectangle.A4);
            document.addPage(page);
            try (PDPageContentStream content = new PDPageContentStream(document, page)) {
                content.drawImage(LosslessFactory.createFromImage(document, umbrella(umbrella)), -150, 50, 900, 700);
            }
        });
    }

    private static BufferedImage umbrella(Color umbrella) {
        BufferedImage photo = new BufferedImage(900, 700, BufferedImage.TYPE_INT_RGB);
        Graphics2D canvas = photo.createGraphics();
        canvas.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
        canvas.setColor(new Color(0xb9, 0xaa, 0x93));
        canvas.fillRect(0, 0, 900, 700);
        canvas.setColor(umbrella);
        canvas.fillArc(120, 110, 660, 620, 0, 180);
        canvas.fillRect(140, 380, 620, 60);
        canvas.setColor(Color.DARK_GRAY);
        canvas.setStroke(new BasicStroke(14));
        canvas.drawLine(450, 420, 450, 620);
        canvas.drawArc(450, 580, 70, 80, 180, 180);
        canvas.dispose();
        return photo;
    }

    /** A PDF with these lines on each page. */
    @SafeVarargs
    static Enclosed pdf(String name, List<String>... pages) {
        return drawn(name, document -> {
            for (List<String> lines : pages) {
                PDPage page = new PDPage(PDRectangle.A4);
                document.addPage(page);
                try (PDPageContentStream content = new PDPageContentStream(document, page)) {
                    write(content, lines);
                }
            }
        });
    }

    /** Draws the pages of a PDF. */
    interface Drawing {
        void on(PDDocument document) throws IOException;
    }

    /** A PDF of what is drawn. */
    static Enclosed drawn(String name, Drawing drawing) {
        try (PDDocument document = new PDDocument();
                ByteArrayOutputStream out = new ByteArrayOutputStream()) {
            drawing.on(document);
            document.save(out);
            return new Enclosed(name, PDF, out.toByteArray());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static void write(PDPageContentStream content, List<String> lines) throws IOException {
        content.beginText();
        content.setLeading(SIZE * 1.6f);
        content.newLineAtOffset(70, 770);
        for (int i = 0; i < lines.size(); i++) {
            boolean heading = i == 0;
            content.setFont(
                    new PDType1Font(
                            heading ? Standard14Fonts.FontName.HELVETICA_BOLD : Standard14Fonts.FontName.HELVETICA),
                    heading ? SIZE + 5 : SIZE);
            content.showText(lines.get(i));
            content.newLine();
        }
        content.endText();
    }
}

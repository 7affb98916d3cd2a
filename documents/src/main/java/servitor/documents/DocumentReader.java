package servitor.documents;

import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.apache.tika.detect.DefaultDetector;
import org.apache.tika.detect.Detector;
import org.apache.tika.io.TikaInputStream;
import org.apache.tika.metadata.Metadata;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadOutcome;

/** Reads a document by what it is, whatever its name says. */
public final class DocumentReader {
    /** Reads documents of some types. */
    interface Format {
        ReadDocument read(String type, byte[] content) throws IOException, Unreadable;
    }

    private static final Map<String, Format> FORMATS = Map.of(
            "application/pdf", new PdfFormat(),
            "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", new WorkbookFormat(),
            "application/vnd.ms-excel", new WorkbookFormat(),
            "application/vnd.ms-excel.sheet.macroenabled.12", new WorkbookFormat(),
            "application/vnd.oasis.opendocument.spreadsheet", new OpenSheetFormat(),
            "text/csv", new CsvFormat());
    private static final List<String> PICTURES = List.of("image/");
    /** What a program, an archive or a film is isn't looked for in a case. */
    private static final List<String> NOT_READ = List.of("audio/", "video/", "application/x-executable");

    private final Detector detector = new DefaultDetector();

    /** The document's media type; a table of text is told from other text by its name alone. */
    private String type(byte[] content, String name) throws IOException {
        try (TikaInputStream in = TikaInputStream.get(content)) {
            String type = detector.detect(in, new Metadata()).getBaseType().toString();
            return type.equals("text/plain")
                            && name.toLowerCase(java.util.Locale.ROOT).endsWith(".csv")
                    ? "text/csv"
                    : type;
        }
    }

    /** Reads a document; never throws for what is in it, but for what no machine could bear. */
    public ReadDocument read(byte[] content, String name) {
        if (content.length == 0) {
            return ReadDocument.nothing(ReadOutcome.EMPTY, "application/octet-stream", "");
        }
        String type = "application/octet-stream";
        try {
            type = type(content, name);
            return read(type, content);
        } catch (Unreadable e) {
            return ReadDocument.nothing(e.outcome(), type, String.valueOf(e.getMessage()));
        } catch (IOException | RuntimeException e) {
            ReadOutcome outcome = isOfALimit(e) ? ReadOutcome.TOO_LARGE : ReadOutcome.CORRUPT;
            return ReadDocument.nothing(outcome, type, e.getClass().getSimpleName());
        }
    }

    /** A page as a picture, as PNG; empty when there is no such page, or nothing to be seen. Pages count from 1. */
    public Optional<byte[]> picture(byte[] content, String name, int page) {
        try {
            String type = type(content, name);
            if (type.equals("application/pdf")) {
                return PdfFormat.picture(content, page);
            }
            return type.startsWith("image/") && page == 1
                    ? Optional.of(Picture.of(content).png())
                    : Optional.empty();
        } catch (Unreadable | IOException | RuntimeException e) {
            return Optional.empty();
        }
    }

    /** POI says in words alone that it met a limit of its own. */
    private static boolean isOfALimit(Exception e) {
        String words = String.valueOf(e.getMessage());
        return words.contains("Zip bomb") || words.contains("maximum length");
    }

    private static ReadDocument read(String type, byte[] content) throws IOException, Unreadable {
        Format format = FORMATS.get(type);
        if (format != null) {
            return format.read(type, content);
        } else if (PICTURES.stream().anyMatch(type::startsWith)) {
            return Picture.of(content).read(type);
        } else if (NOT_READ.stream().anyMatch(type::startsWith)) {
            throw new Unreadable(ReadOutcome.NOT_SUPPORTED, "");
        }
        return new TextFormat().read(type, content);
    }
}

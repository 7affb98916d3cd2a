package servitor.documents;

import java.io.IOException;
import java.util.List;
import org.apache.tika.exception.EncryptedDocumentException;
import org.apache.tika.exception.TikaException;
import org.apache.tika.exception.WriteLimitReachedException;
import org.apache.tika.exception.ZeroByteFileException;
import org.apache.tika.io.TikaInputStream;
import org.apache.tika.metadata.Metadata;
import org.apache.tika.parser.AutoDetectParser;
import org.apache.tika.parser.ParseContext;
import org.apache.tika.parser.Parser;
import org.apache.tika.sax.BodyContentHandler;
import org.apache.tika.sax.WriteOutContentHandler;
import org.xml.sax.SAXException;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadDocument.Page;
import servitor.core.document.ReadOutcome;

/** Whatever else holds text: letters, pages of the web, mails with what is attached to them, plain text. */
final class TextFormat implements DocumentReader.Format {
    private static final int MOST_CHARACTERS = 1_000_000;

    @Override
    public ReadDocument read(String type, byte[] content) throws IOException, Unreadable {
        AutoDetectParser parser = new AutoDetectParser();
        ParseContext context = new ParseContext();
        context.set(Parser.class, parser);
        WriteOutContentHandler written = new WriteOutContentHandler(MOST_CHARACTERS);
        try (TikaInputStream in = TikaInputStream.get(content)) {
            parser.parse(in, new BodyContentHandler(written), new Metadata(), context);
        } catch (EncryptedDocumentException e) {
            throw new Unreadable(ReadOutcome.ENCRYPTED, "");
        } catch (ZeroByteFileException e) {
            throw new Unreadable(ReadOutcome.EMPTY, "");
        } catch (SAXException e) {
            if (WriteLimitReachedException.isWriteLimitReached(e)) {
                throw new Unreadable(
                        ReadOutcome.TOO_LARGE, "there are more than " + MOST_CHARACTERS + " characters in it");
            }
            throw new Unreadable(ReadOutcome.CORRUPT, e.getClass().getSimpleName());
        } catch (TikaException e) {
            throw new Unreadable(ReadOutcome.CORRUPT, e.getClass().getSimpleName());
        }
        String text = written.toString().strip();
        if (text.isEmpty()) {
            boolean isText = type.startsWith("text/");
            throw new Unreadable(isText ? ReadOutcome.EMPTY : ReadOutcome.NOT_SUPPORTED, "");
        }
        return new ReadDocument(ReadOutcome.TEXT, type, "", List.of(new Page(1, text)), List.of());
    }
}

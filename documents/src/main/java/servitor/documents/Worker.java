package servitor.documents;

import java.io.DataInputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadOutcome;
import servitor.core.json.Json;

/** Reads one document: its name and content come on standard input, what was read goes to standard output as JSON, or a page of it as a picture. Then it ends. */
public final class Worker {
    /** The most bytes of a document. */
    static final int MOST_BYTES = 25_000_000;

    private static final int MOST_NAME = 1_000;

    private Worker() {}

    /** What it is started with to load its classes and end. */
    static final String ONLY_CLASSES = "only-classes";

    /** Reads what comes: the number of the page to be shown or 0, the name's length and the name, the content's length and the content. */
    public static void main(String[] args) throws IOException {
        PrintStream answer = System.out;
        System.setOut(System.err); // what libraries say is no answer
        WarmUp.readSamples();
        if (args.length > 0) {
            System.exit(0); // only its classes were wanted
        }
        DataInputStream in = new DataInputStream(System.in);
        int page = in.readInt();
        String name = new String(bytes(in, MOST_NAME), StandardCharsets.UTF_8);
        byte[] content = bytes(in, MOST_BYTES);
        try (OutputStream out = answer) {
            out.write(page == 0 ? read(content, name) : picture(content, name, page));
        }
        System.exit(0); // whatever a library has left running
    }

    private static byte[] read(byte[] content, String name) {
        ReadDocument read;
        try {
            read = new DocumentReader().read(content, name);
        } catch (StackOverflowError e) {
            read = ReadDocument.nothing(ReadOutcome.TOO_LARGE, "application/octet-stream", "it is nested too deeply");
        }
        return Json.write(read).getBytes(StandardCharsets.UTF_8);
    }

    private static byte[] picture(byte[] content, String name, int page) {
        try {
            return new DocumentReader().picture(content, name, page).orElse(new byte[0]);
        } catch (StackOverflowError e) {
            return new byte[0];
        }
    }

    private static byte[] bytes(DataInputStream in, int most) throws IOException {
        int length = in.readInt();
        if (length < 0 || length > most) {
            throw new IOException("too long: " + length);
        }
        return in.readNBytes(length);
    }
}

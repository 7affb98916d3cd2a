package servitor.documents;

import java.io.DataInputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import servitor.core.document.ReadDocument;
import servitor.core.document.ReadOutcome;
import servitor.core.json.Json;

/** Reads one document: its name and content come on standard input, what was read goes to standard output as JSON. Then it ends. */
public final class Worker {
    /** The most bytes of a document. */
    static final int MOST_BYTES = 25_000_000;

    private static final int MOST_NAME = 1_000;

    private Worker() {}

    /** Reads what comes: the name's length and the name, the content's length and the content. */
    public static void main(String[] args) throws IOException {
        PrintStream answer = System.out;
        System.setOut(System.err); // what libraries say is no answer
        DataInputStream in = new DataInputStream(System.in);
        String name = new String(bytes(in, MOST_NAME), StandardCharsets.UTF_8);
        byte[] content = bytes(in, MOST_BYTES);
        ReadDocument read;
        try {
            read = new DocumentReader().read(content, name);
        } catch (StackOverflowError e) {
            read = ReadDocument.nothing(ReadOutcome.TOO_LARGE, "application/octet-stream", "it is nested too deeply");
        }
        try (OutputStream out = answer) {
            out.write(Json.write(read).getBytes(StandardCharsets.UTF_8));
        }
        System.exit(0); // whatever a library has left running
    }

    private static byte[] bytes(DataInputStream in, int most) throws IOException {
        int length = in.readInt();
        if (length < 0 || length > most) {
            throw new IOException("too long: " + length);
        }
        return in.readNBytes(length);
    }
}

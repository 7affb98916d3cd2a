package servitor.standins;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;

/** The crew register: an old line-mode program over TCP, with a sign-in and three commands. */
public final class CrewRegister implements AutoCloseable {
    public static final String USER = "servitor";
    public static final String SECRET = "anchor-watch";
    private static final Set<String> AT_SEA =
            Set.of("Deckhand", "Mate", "Engineer of the watch", "Cook", "Safety officer");

    private final ServerSocket socket;
    private final Map<String, String> certificates =
            new ConcurrentHashMap<>(Map.of("E-155", "2028-04-30", "E-303", "2027-09-14", "E-305", "2027-02-28"));

    CrewRegister(int port) {
        try {
            socket = new ServerSocket(port, 20, InetAddress.getLoopbackAddress());
        } catch (IOException e) {
            throw new UncheckedIOException("port " + port + " can't be listened on", e);
        }
        start(this::accept);
    }

    private static void start(Runnable task) {
        Thread thread = new Thread(task, "stand-in");
        thread.setDaemon(true);
        thread.start();
    }

    private void accept() {
        while (!socket.isClosed()) {
            try {
                Socket terminal = socket.accept();
                start(() -> serve(terminal));
            } catch (IOException e) {
                return; // closed
            }
        }
    }

    private void serve(Socket terminal) {
        try (terminal) {
            BufferedReader in =
                    new BufferedReader(new InputStreamReader(terminal.getInputStream(), StandardCharsets.UTF_8));
            OutputStream out = terminal.getOutputStream();
            say(out, "SKERRY LINE CREW REGISTER\r\nUSER: ");
            String user = in.readLine();
            say(out, "PASSWORD: ");
            String secret = in.readLine();
            if (!USER.equals(user) || !SECRET.equals(secret)) {
                say(out, "SIGN-IN REFUSED\r\n");
                return;
            }
            say(out, "READY> ");
            for (String line = in.readLine(); line != null && !line.equals("BYE"); line = in.readLine()) {
                say(out, answer(line.strip().split("\\s+")) + "\r\nREADY> ");
            }
        } catch (IOException e) {
            // whoever was at the terminal has gone
        }
    }

    private String answer(String[] words) {
        if (words.length >= 2
                && Crew.ALL.stream().noneMatch(one -> one.account().equals(words[1]) && AT_SEA.contains(one.title()))) {
            return "NO SUCH PERSON " + words[1];
        } else if (words.length == 3 && words[0].equals("CERT") && words[2].matches("\\d{4}-\\d{2}-\\d{2}")) {
            certificates.put(words[1], words[2]);
            return "ENTERED " + words[1] + " VALID UNTIL " + words[2];
        } else if (words.length == 2 && words[0].equals("SHOW")) {
            return "PERSON " + words[1] + " CERTIFICATE " + certificates.getOrDefault(words[1], "NONE");
        }
        return "BAD COMMAND";
    }

    private static void say(OutputStream out, String text) throws IOException {
        out.write(text.getBytes(StandardCharsets.UTF_8));
        out.flush();
    }

    public URI url() {
        return URI.create("tcp://127.0.0.1:" + socket.getLocalPort());
    }

    /** Until when whose certificate is valid. */
    public Map<String, String> certificates() {
        return new TreeMap<>(certificates);
    }

    @Override
    public void close() {
        try {
            socket.close();
        } catch (IOException e) {
            // it is gone either way
        }
    }
}

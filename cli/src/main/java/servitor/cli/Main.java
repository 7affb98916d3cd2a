package servitor.cli;

import java.io.OutputStreamWriter;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import servitor.cli.command.Servitor;

/** Where the process begins and ends. */
public final class Main {
    private Main() {}

    public static void main(String[] args) {
        PrintWriter out = new PrintWriter(new OutputStreamWriter(System.out, StandardCharsets.UTF_8), false);
        PrintWriter err = new PrintWriter(new OutputStreamWriter(System.err, StandardCharsets.UTF_8), true);
        System.exit(Servitor.run(System.getenv(), out, err, args));
    }
}

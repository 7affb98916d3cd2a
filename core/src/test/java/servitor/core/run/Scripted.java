package servitor.core.run;

import java.util.Map;
import servitor.core.DemoHandbook;
import servitor.core.handbook.Edition;

/** A page written for one test, standing in the demo's handbook. */
public final class Scripted {
    private Scripted() {}

    /** The demo handbook with one more page, {@code runbooks/test.md}, made of these steps. */
    public static Map<String, String> files(String front, String steps) {
        Map<String, String> files = DemoHandbook.files();
        files.put("runbooks/test.md", "---\ntitle: Test\ndesk: passengers\nagent: purser\n" + front + "---\n" + steps);
        return files;
    }

    /** A page that starts on cases of a kind and has one step, then ends. */
    static String starting(String kind, String block) {
        return "---\ntitle: On " + kind + "\ndesk: passengers\nagent: purser\nstarts: [{ on: case-opened, kind: " + kind
                + " }]\n---\n" + step("First", block) + step("Done", "finish: resolved");
    }

    public static Edition edition(String front, String steps) {
        return DemoHandbook.edition(files(front, steps));
    }

    static Play play(String steps) {
        return play("", steps);
    }

    static Play play(String front, String steps) {
        return new Play(edition(front, steps), "test");
    }

    /** A step with its block. */
    public static String step(String title, String block) {
        return "## " + title
                + "\nDo this as one would expect, with care and in a few words, as the brief says.\n```step\n"
                + block.strip() + "\n```\n";
    }
}

package servitor.core.handbook.check;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.DemoHandbook;
import servitor.core.explain.Drawing;
import servitor.core.explain.Explainer;
import servitor.core.explain.Outline;
import servitor.core.explain.SvgDrawing;
import servitor.core.explain.TextDrawing;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.finding.Code;

/** No text makes reading, checking, explaining or drawing throw; what is wrong with it is a finding. */
class HostilePagesTests {
    private static final List<String> SPLINTERS = List.of(
            "```step\n",
            "```\n",
            "---\n",
            "## ",
            "go: ",
            "${",
            "}",
            "{",
            "[",
            "- ",
            ": ",
            "\"",
            "'",
            "&a ",
            "*a",
            "!x ",
            "\t",
            "\r\n",
            "\uFEFF",
            "‮",
            "🚢",
            "\u0000",
            "call: ",
            "decide:\n",
            "approve: x\n",
            "each: ",
            "follow: ",
            "at-most: ",
            "case.fields",
            "has(",
            ")",
            "== ",
            "&&",
            "of: ",
            "one of [",
            "list of ",
            "{#",
            "%",
            "\\",
            "|\n",
            ">\n");

    /** Everything that is done with a page, on whatever it holds. */
    static CheckedHandbook use(Map<String, String> files) {
        CheckedHandbook checked = CheckedHandbook.of(files);
        Handbook handbook = checked.handbook();
        handbook.runbooks().values().forEach(page -> {
            Explainer.explain(handbook, page);
            Drawing drawing = Drawing.of(handbook, page);
            String svg = SvgDrawing.of(drawing);
            assertThat(svg).doesNotContain("<script").startsWith("<svg");
            TextDrawing.mermaid(drawing);
            TextDrawing.dot(drawing);
            Outline.of(handbook, page);
        });
        return checked;
    }

    private static Map<String, String> with(String page) {
        Map<String, String> files = DemoHandbook.files();
        files.put("runbooks/hostile.md", page);
        return files;
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12})
    void brokenPagesAreFindings(long seed) {
        Random random = new Random(seed);
        List<String> paths = new ArrayList<>(DemoHandbook.files().keySet());
        for (int i = 0; i < 25; i++) {
            Map<String, String> files = DemoHandbook.files();
            String path = paths.get(random.nextInt(paths.size()));
            files.put(path, broken(files.get(path), random));
            assertThatCode(() -> use(files))
                    .as("seed %d, round %d, %s", seed, i, path)
                    .doesNotThrowAnyException();
        }
    }

    private static String broken(String text, Random random) {
        StringBuilder broken = new StringBuilder(text);
        for (int i = 0; i < 1 + random.nextInt(6); i++) {
            int at = random.nextInt(broken.length() + 1);
            switch (random.nextInt(4)) {
                case 0 -> broken.insert(at, SPLINTERS.get(random.nextInt(SPLINTERS.size())));
                case 1 -> broken.delete(at, Math.min(broken.length(), at + random.nextInt(30)));
                case 2 -> broken.insert(at, broken.substring(at, Math.min(broken.length(), at + random.nextInt(80))));
                default -> broken.insert(at, Character.toString(random.nextInt(0xFFFF)));
            }
        }
        return broken.toString();
    }

    @Test
    void bombsAndDepthsAreFindings() {
        String bomb = "a: &a [x,x,x,x,x,x,x,x,x]\nb: &b [*a,*a,*a,*a,*a,*a,*a,*a]\nc: &c [*b,*b,*b,*b,*b,*b,*b,*b]\n";
        Map<String, String> files = DemoHandbook.files();
        files.put("kinds/bomb.yaml", bomb);
        files.put("kinds/deep.yaml", "a: " + "{a: ".repeat(3_000));
        files.put("agents/deep.yaml", "- ".repeat(5_000));
        assertThat(use(files).findings())
                .anyMatch(f -> f.place().file().equals("kinds/bomb.yaml"))
                .anyMatch(f -> f.place().file().equals("kinds/deep.yaml"))
                .anyMatch(f -> f.place().file().equals("agents/deep.yaml"));
        String nested = "(".repeat(2_000) + "1" + ")".repeat(2_000);
        assertThat(use(with(step("set: { priority: \"${" + nested + "}\" }"))).sound())
                .isFalse();
        assertThat(use(with(step("decide:\n  - when: '" + "!".repeat(3_900)
                                + "true'\n    go: stop\n  - otherwise: stop")))
                        .findings())
                .isNotNull();
    }

    private static String step(String block) {
        return "---\ntitle: T\ndesk: passengers\nagent: purser\n---\n## A\n```step\n" + block + "\n```\n";
    }

    @Test
    void largeAndBinaryPagesAreFindings() {
        assertThat(use(with("x".repeat(5_000_000))).findings()).anyMatch(f -> f.code() == Code.TOO_LONG);
        StringBuilder many = new StringBuilder("---\ntitle: T\ndesk: passengers\nagent: purser\n---\n");
        for (int i = 0; i < 5_000; i++) {
            many.append("## S").append(i).append("\n```step\nset: { labels: [x] }\n```\n");
        }
        assertThat(use(with(many.toString())).findings()).anyMatch(f -> f.code() == Code.TOO_LONG);
        byte[] bytes = new byte[20_000];
        new Random(7).nextBytes(bytes);
        assertThat(use(with(new String(bytes, java.nio.charset.StandardCharsets.ISO_8859_1)))
                        .findings())
                .anyMatch(f -> f.code() == Code.NOT_TEXT);
    }

    @Test
    void headingsInAnyScriptAreAddressesAndNeverMarkup() {
        String page = "---\ntitle: \"<script>alert(1)</script>\"\ndesk: passengers\nagent: purser\n---\n"
                + "## مرحبا بكم\n```step\nset: { labels: [x] }\n```\n"
                + "## 🚢\n```step\nset: { labels: [x] }\n```\n"
                + "## \"><script>alert(1)</script>\n```step\nfinish: resolved\n```\n";
        CheckedHandbook checked = use(with(page));
        assertThat(checked.sound()).as(checked.findings().toString()).isTrue();
        assertThat(checked.handbook().runbooks().get("hostile").steps())
                .extracting(Step::address)
                .containsExactly("مرحبا بكم", "🚢", "script alert 1 script");
        String crlf = page.replace("\n", "\r\n");
        assertThat(use(with("\uFEFF" + crlf)).sound()).isTrue();
    }
}

package servitor.cli.command;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import servitor.cli.client.Answers.ApprovalSheet;
import servitor.cli.client.Answers.CameOf;
import servitor.cli.client.Client;
import servitor.cli.client.ExitCode;
import servitor.cli.client.Trouble;
import tools.jackson.databind.JsonNode;

/** {@code approval together}: first lists each of several in full, then answers exactly those that were listed. */
@Command(
        name = "together",
        description = {
            "Answer several that ask about calls of one tool alike.",
            "Without --seen it lists each in full, and says how to answer them; nothing is answered."
        })
final class TogetherCommand implements Callable<Integer> {
    private static final int SEEN_LENGTH = 12;

    @ParentCommand
    private ApprovalCommand approvals;

    @Parameters(paramLabel = "APPROVAL", arity = "2..50", description = "Which, 2 to 50.")
    private List<String> ids;

    @ArgGroup(exclusive = true, multiplicity = "1")
    private Choice choice;

    @Option(names = "--reason", converter = Given.class, defaultValue = "", description = "Why; needed when declining.")
    private String reason;

    @Option(names = "--seen", paramLabel = "SEEN", description = "What the list of them, as you saw it, ended with.")
    @Nullable
    private String seen;

    /** Exactly one of the two. */
    static final class Choice {
        @Option(names = "--approve", required = true, description = "Yes to each.")
        boolean approve;

        @Option(names = "--decline", required = true, description = "No to each; needs a --reason.")
        boolean decline;
    }

    @Override
    public Integer call() {
        Client client = approvals.servitor().client();
        Map<String, ApprovalSheet> sheets = new LinkedHashMap<>();
        ids.forEach(id ->
                sheets.put(id, Client.as(ApprovalSheet.class, client.get("/api/approvals/" + Client.part(id)))));
        String all = digestOf(sheets);
        if (seen == null) {
            list(sheets, all);
            return ExitCode.NO.number();
        }
        if (seen.length() < SEEN_LENGTH || !all.startsWith(seen)) {
            throw new Trouble(
                    ExitCode.NO,
                    "These are not as you saw them any more. List them again without --seen, then answer.");
        }
        return answer(client, sheets);
    }

    private void list(Map<String, ApprovalSheet> sheets, String all) {
        var out = approvals.servitor().out();
        if (approvals.servitor().printed(Client.JSON.valueToTree(Map.of("seen", all, "approvals", sheets.values())))) {
            return;
        }
        sheets.forEach((id, sheet) -> {
            approvals.print(id, sheet);
            out.println();
        });
        out.println("Nothing is answered yet. To answer these " + sheets.size() + ": the same command with --seen "
                + all.substring(0, SEEN_LENGTH));
    }

    private int answer(Client client, Map<String, ApprovalSheet> sheets) {
        List<Map<String, String>> several = sheets.entrySet().stream()
                .map(one -> Map.of("id", one.getKey(), "digest", one.getValue().digest()))
                .toList();
        JsonNode answered = client.post(
                "/api/approvals/together",
                Map.of("decision", choice.approve ? "approve" : "decline", "reason", reason, "approvals", several));
        List<CameOf> came = Client.all(CameOf.class, answered);
        if (!approvals.servitor().printed(answered)) {
            came.forEach(one -> approvals
                    .servitor()
                    .out()
                    .println(one.id() + "  " + one.headline() + ": "
                            + (one.counts() ? one.state().replace('-', ' ') : "not counted. " + one.message())));
        }
        return came.stream().allMatch(CameOf::counts) ? 0 : ExitCode.NO.number();
    }

    /** One digest of all that was listed, whichever order they were named in makes another. */
    private static String digestOf(Map<String, ApprovalSheet> sheets) {
        try {
            MessageDigest sha = MessageDigest.getInstance("SHA-256");
            sheets.forEach(
                    (id, sheet) -> sha.update((id + " " + sheet.digest() + "\n").getBytes(StandardCharsets.UTF_8)));
            return HexFormat.of().formatHex(sha.digest());
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("Every Java has SHA-256", e);
        }
    }
}

package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import java.util.function.Supplier;
import tools.jackson.databind.JsonNode;

/** Mails about gloves, each of which is answered, while the service is killed again and again. */
final class Gloves {
    private Gloves() {}

    private static final Map<String, String> FILES = Map.of(
            "kinds/glove.yaml",
            "title: A glove\ndesk: it\nopen-to: [everybody]\n",
            "intake/glove.yaml",
            """
            title: Gloves
            from: mail
            connection: it-mailbox
            kind: glove
            when: message.subject.startsWith("Glove")
            """,
            "agents/glover.yaml",
            "title: Glover\ndesk: it\nmodel: writer\nbrief: { job: Answers about gloves. }\n",
            "mandates/glover.yaml",
            """
            title: What the glover may do
            for: [glover]
            ask: it-resolvers
            grants:
              - { name: tell, tools: ["case.*"], verdict: allow }
            """,
            "runbooks/glove.md",
            """
            ---
            title: Answer about a glove
            desk: it
            agent: glover
            starts:
              - { on: case-opened, kind: glove }
            ---
            ## Answer
            ```step
            tell: requester
            text: "We have <${case.subject}>."
            ```

            ## Done
            ```step
            finish: resolved
            ```
            """);

    /**
     * Has mails come, kills the service in the midst of each round, and holds what became of it all: one case and one answer for
     * each.
     *
     * @param send sends edda's mail with a subject to the it desk
     * @param answered the texts of all mails that edda has got so far
     */
    static void play(Household household, int rounds, int each, Consumer<String> send, Supplier<List<String>> answered)
            throws Exception {
        household.add(FILES, "Gloves");
        List<String> subjects = new ArrayList<>();
        for (int round = 0; round < rounds; round++) {
            for (int i = 0; i < each; i++) {
                String subject = "Glove " + round + "-" + i;
                subjects.add(subject);
                send.accept(subject);
            }
            String some = "Glove " + round + "-" + round;
            Household.await("the case of " + some, () -> subjectsOf(household).contains(some));
            household.service.kill();
            household.start();
        }
        Household.await("an answer to each", () -> {
            List<String> texts = answered.get();
            return subjects.stream().allMatch(subject -> count(texts, subject) > 0);
        });
        Household.await(
                "every case to be done with",
                () -> cases(household).stream()
                        .allMatch(one -> one.path("state").asString().equals("resolved")));
        assertThat(subjectsOf(household)).containsExactlyInAnyOrderElementsOf(subjects);
        List<String> texts = answered.get();
        assertThat(subjects).allMatch(subject -> count(texts, subject) == 1);
        assertThat(household.run("--as", "noor", "trail", "verify").out()).contains("The trail holds");
    }

    private static long count(List<String> texts, String subject) {
        return texts.stream()
                .filter(text -> text.contains("We have <" + subject + ">"))
                .count();
    }

    private static List<String> subjectsOf(Household household) {
        return cases(household).stream()
                .map(one -> one.path("subject").asString())
                .toList();
    }

    private static List<JsonNode> cases(Household household) {
        List<JsonNode> all = new ArrayList<>();
        String cursor = "";
        do {
            JsonNode page = household.as("noor").get("/api/cases?limit=200&q=Glove" + cursor);
            page.path("items").forEach(all::add);
            String next = page.path("next").asString("");
            cursor = next.isEmpty() ? "" : "&cursor=" + next;
        } while (!cursor.isEmpty());
        return all;
    }
}

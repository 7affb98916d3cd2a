package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.cli.client.Client;
import servitor.cli.client.Trouble;
import tools.jackson.databind.JsonNode;

/** A case at one desk and the task it has opened at another: each shows the other's state, and nothing else of it. */
class RelatedTests {
    private static final Map<String, String> FILES = Map.of(
            "kinds/gangway.yaml", "title: A gangway\ndesk: it\nopen-to: [staff]\n",
            "kinds/gangway-notice.yaml",
                    "title: A notice at a gangway\ndesk: passengers\nopen-to: [staff]\nfields: { words: { title: What it says, required: true } }\n",
            "agents/rigger.yaml",
                    "title: Rigger\ndesk: it\nmodel: writer\nworks: alone\nbrief: { job: rigs, audience: crew }\n",
            "mandates/rigger.yaml",
                    "title: Rigs\nfor: [rigger]\nask: it-resolvers\ngrants:\n  - { name: notices, tools: [case.open], when: 'args.kind == \"gangway-notice\"', verdict: allow }\n",
            "runbooks/rig.md", """
                    ---
                    title: Rig a gangway
                    desk: it
                    agent: rigger
                    starts: [{ on: case-opened, kind: gangway }]
                    ---
                    ## Have a notice put up
                    ```step
                    open: gangway-notice
                    with: { subject: Closed until noon, fields: { words: Closed }, for: "person-nobody-is", relation: notice }
                    save: notice
                    on: { invalid: have it put up after all }
                    ```
                    ## Have it put up after all
                    ```step
                    open: gangway-notice
                    with: { subject: Closed until noon, fields: { words: Closed }, owner: passengers, relation: notice }
                    save: notice
                    ```
                    ## Wait for it
                    ```step
                    await: case
                    named: notice
                    save: done
                    ```
                    ## Done
                    ```step
                    finish: resolved
                    ```
                    """);

    private final Household household = Household.ofMails();

    private static JsonNode relation(Client who, String caseId, String what) {
        return who.get("/api/cases/" + caseId)
                .path("relations")
                .valueStream()
                .filter(one -> one.path("what").asString().equals(what))
                .findFirst()
                .orElseThrow();
    }

    @Test
    void theOtherDeskSeesTheStateAndNothingElse() {
        household.add(FILES, "Gangways");
        Client teun = household.as("teun");
        Client sunniva = household.as("sunniva");
        String gangway = teun.post("/api/cases", Map.of("kind", "gangway", "subject", "A secret of the IT desk"))
                .path("summary")
                .path("id")
                .asString();
        Household.await(
                "the notice",
                () -> teun.get("/api/cases/" + gangway)
                        .path("summary")
                        .path("waitingFor")
                        .asString("")
                        .contains("C-"));
        JsonNode seen = relation(teun, gangway, "notice");
        String notice = seen.path("other").asString();
        assertThat(seen.path("desk").asString()).isEqualTo("passengers");
        assertThat(seen.path("state").asString()).isEqualTo("with-people");

        JsonNode back = relation(sunniva, notice, "opened-for");
        assertThat(back.path("other").asString()).isEqualTo(gangway);
        assertThat(back.path("state").asString()).isEqualTo("waiting");
        assertThat(back.path("subject").isNull()).isTrue();
        assertThat(sunniva.get("/api/cases/" + notice).toString()).doesNotContain("secret of the IT desk");
        assertThatThrownBy(() -> sunniva.get("/api/cases/" + gangway)).isInstanceOf(Trouble.class);

        assertThat(household
                        .run("--as", "sunniva", "case", "list", "--owner", "me")
                        .out())
                .contains(notice);
        assertThat(household.run("--as", "sunniva", "case", "show", notice).out())
                .contains("Related: opened-for " + gangway + " (it, waiting)");
        assertThat(household
                        .run("--as", "sunniva", "case", "resolve", notice, "--how", "It hangs there.")
                        .code())
                .isZero();
        Household.await(
                "the gangway",
                () -> teun.get("/api/cases/" + gangway)
                        .path("summary")
                        .path("state")
                        .asString()
                        .equals("resolved"));
    }
}

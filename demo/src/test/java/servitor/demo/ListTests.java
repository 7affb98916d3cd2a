package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Long lists: rights come before any limit, parts fit together, and what narrows them does. */
class ListTests {
    private final Household household = Household.shared();

    private List<String> inPartsOfOne(String person, String query) {
        List<String> ids = new ArrayList<>();
        String cursor = "";
        do {
            JsonNode page = household.as(person).get("/api/approvals?limit=1&" + query + cursor);
            assertThat(page.path("items").size()).isLessThanOrEqualTo(1);
            page.path("items").forEach(item -> ids.add(item.path("id").asString()));
            cursor = page.path("next").isString()
                    ? "&cursor=" + page.path("next").asString()
                    : "";
        } while (!cursor.isEmpty());
        return ids;
    }

    private List<String> whole(String person, String query) {
        List<String> ids = new ArrayList<>();
        household
                .as(person)
                .get("/api/approvals?limit=200&" + query)
                .path("items")
                .forEach(item -> ids.add(item.path("id").asString()));
        return ids;
    }

    @Test
    void partsOfTheListOfApprovalsAreTheWholeList() {
        List<String> opened = new ArrayList<>();
        for (String booking : List.of("SK-670001", "SK-670002", "SK-670003")) {
            opened.add(household.approvalOf(household.openRefund("ines", booking)));
        }

        List<String> parts = inPartsOfOne("osei", "state=open");
        assertThat(parts).containsAll(opened).doesNotHaveDuplicates().isEqualTo(whole("osei", "state=open"));

        household.run("--as", "osei", "approval", "decide", opened.get(0), "--approve");
        household.run("--as", "osei", "approval", "decide", opened.get(2), "--approve");
        assertThat(inPartsOfOne("osei", "state=closed"))
                .startsWith(opened.get(2), opened.get(0))
                .doesNotHaveDuplicates()
                .isEqualTo(whole("osei", "state=closed"));
    }

    @Test
    void whatOthersAreAskedTakesNobodysPlace() {
        String theirs = household.approvalOf(
                household.open("dagny", "locked-out", "Locked out", "I can't sign in.", java.util.Map.of()));
        String ours = household.approvalOf(household.openRefund("ines", "SK-670011"));

        assertThat(inPartsOfOne("osei", "state=open")).contains(ours).doesNotContain(theirs);
        assertThat(whole("teun", "asked=true&requester=dagny"))
                .as("IT resolvers answer it")
                .contains(theirs);
        assertThat(whole("dagny", "state=open"))
                .as("nobody answers for themselves")
                .doesNotContain(theirs);
        assertThat(whole("ines", "state=open")).isEmpty();
    }

    @Test
    void listsAreNarrowedByWhomTheyAreAbout() {
        String hers = household.approvalOf(household.openRefund("ines", "SK-670021"));
        String his = household.approvalOf(household.openRefund("bram", "SK-670022"));

        assertThat(whole("osei", "requester=bram")).contains(his).doesNotContain(hers);
        assertThat(whole("osei", "kind=complaint&state=open")).doesNotContain(hers, his);
        assertThat(household
                        .run("--as", "osei", "case", "list", "--requester", "bram", "--limit", "200")
                        .out())
                .contains("Bram Okafor")
                .doesNotContain("Ines Halloran");
        assertThat(household
                        .run("--as", "osei", "approval", "list", "--requester", "bram")
                        .out())
                .contains(his)
                .doesNotContain(hers);
    }

    @Test
    void runsAreListedForStaffOfTheirDesk() {
        String waiting = household.approvalOf(household.openRefund("ines", "SK-670031"));
        String run = waiting.substring(0, waiting.lastIndexOf('-'));

        assertThat(household
                        .run("--as", "maren", "run", "list", "--status", "waiting", "--limit", "200")
                        .out())
                .contains(run)
                .contains("Check the wording");
        assertThat(household
                        .run("--as", "teun", "run", "list", "--limit", "200")
                        .out())
                .doesNotContain(run);
        assertThat(household.as("ines").get("/api/runs").path("items")).isEmpty();
        JsonNode first = household.as("osei").get("/api/runs?limit=1");
        JsonNode second = household
                .as("osei")
                .get("/api/runs?limit=1&cursor=" + first.path("next").asString());
        assertThat(first.at("/items/0/id").asString())
                .isNotEqualTo(second.at("/items/0/id").asString());
        assertThat(household
                        .run("--as", "maren", "run", "list", "--status", "lost")
                        .code())
                .isNotZero();
    }

    @Test
    void aCursorOfOnesOwnMakingIsRefused() {
        assertThat(Http.as(household, "osei").get("/api/approvals?cursor=x").status())
                .isIn(400, 422);
    }

    private List<String> ids(String person, String path) {
        List<String> ids = new ArrayList<>();
        household
                .as(person)
                .get((path + "&limit=200").replace(" ", "%20"))
                .path("items")
                .forEach(item -> ids.add(item.path("id").asString()));
        return ids;
    }

    @Test
    void allListsAreNarrowedByAgentPageWaitAndTime() {
        String refund = household.openRefund("ines", "SK-670041");
        String approval = household.approvalOf(refund);

        assertThat(ids("osei", "/api/cases?agent=purser&waiting-for=passenger DESK"))
                .contains(refund);
        assertThat(ids("osei", "/api/cases?agent=purser&waiting-for=IT desk")).doesNotContain(refund);
        assertThat(ids("osei", "/api/cases?page=cancelled-sailing-refund&since=2026-01-01"))
                .contains(refund);
        assertThat(ids("osei", "/api/cases?page=cancelled-sailing-refund&until=2026-01-01"))
                .isEmpty();
        assertThat(ids("osei", "/api/cases?agent=nobody")).isEmpty();
        assertThat(ids("osei", "/api/approvals?agent=purser&page=cancelled-sailing-refund"))
                .contains(approval);
        assertThat(ids("osei", "/api/approvals?page=locked-out")).doesNotContain(approval);
        assertThat(ids("osei", "/api/runs?agent=purser&status=waiting&kind=refund"))
                .isNotEmpty();
        assertThat(ids("osei", "/api/runs?until=2026-01-01")).isEmpty();
        assertThat(household
                        .run("--as", "osei", "case", "list", "--since", "yesterday")
                        .err())
                .contains("must be a day, such as 2026-06-01");
    }

    @Test
    void wordsFindACaseAtOnceAndOnlyForThoseWhoSeeIt() {
        String mine =
                household.open("ines", "complaint", "Gull on deck", "A gull took my sandwich.", java.util.Map.of());

        assertThat(ids("ines", "/api/cases?q=gull sandw")).contains(mine);
        assertThat(ids("osei", "/api/cases?q=GULL")).contains(mine);
        assertThat(ids("osei", "/api/cases?q=" + mine.toLowerCase(java.util.Locale.ROOT)))
                .contains(mine);
        assertThat(ids("osei", "/api/cases?q=gull albatross")).isEmpty();
        assertThat(ids("osei", "/api/cases?q=gull&state=closed")).doesNotContain(mine);
        assertThat(ids("bram", "/api/cases?q=gull")).isEmpty();
        assertThat(ids("teun", "/api/cases?q=gull")).isEmpty();
    }
}

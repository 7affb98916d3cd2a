package servitor.core.consent;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import servitor.core.DemoHandbook;

/** Whose word a change needs: what can be granted belongs to a desk, and nobody reaches another desk's records by a grant. */
class TouchedTests {
    private static final String BOSUN = "mandates/bosun.yaml";
    private static final String GRANT = "grants:\n  - { name: payslips, tools: [pay.own-payslips], verdict: allow }\n";

    private static Touched changed(Map<String, String> changes) {
        return changed(DemoHandbook.files(), changes, Map.of());
    }

    private static Touched changed(
            Map<String, String> before, Map<String, String> changes, Map<String, String> connections) {
        Map<String, String> after = new java.util.TreeMap<>(before);
        after.putAll(changes);
        return Touched.by(
                DemoHandbook.unchecked(before).handbook(),
                DemoHandbook.unchecked(after).handbook(),
                before,
                after,
                name -> connections.getOrDefault(name, ""));
    }

    private static String file(String path) {
        return DemoHandbook.files().get(path);
    }

    @Test
    void aGrantOfAnotherDesksToolNeedsThatDesk() {
        Touched touched = changed(Map.of(BOSUN, file(BOSUN).replace("grants:\n", GRANT)));
        assertThat(touched.desks())
                .containsEntry("people", Set.of("a grant of pay.own-payslips"))
                .containsEntry("it", Set.of(BOSUN));
        assertThat(touched.house()).isEmpty();
    }

    @Test
    void aChangedGrantIsOneAndAnUnchangedOneIsNot() {
        String steward = "mandates/steward.yaml";
        assertThat(changed(Map.of(steward, file(steward).replace("title: ", "title: Now ")))
                        .desks())
                .as("words alone grant nothing")
                .containsOnlyKeys("people");
        String looser = file(BOSUN).replace("  - name: ", "  - name: again ");
        assertThat(changed(Map.of(BOSUN, looser)).desks()).containsOnlyKeys("it");
    }

    @Test
    void takingAwayARuleOfNeverIsAGrant() {
        String purser = "mandates/purser.yaml";
        Map<String, String> before = new java.util.TreeMap<>(DemoHandbook.files());
        before.put("tools/fares.yaml", before.get("tools/fares.yaml").replace("desk: passengers", "desk: it"));
        Touched touched = changed(before, Map.of(purser, file(purser).replaceAll("(?s)never:.*", "")), Map.of());
        assertThat(touched.desks()).containsEntry("it", Set.of("a grant of fares.pay-refund"));
    }

    @Test
    void aToolOfAnotherDeskOrByItsConnectionNeedsThatDesk() {
        assertThat(changed(Map.of("tools/pay.yaml", file("tools/pay.yaml") + "# more\n"))
                        .desks())
                .containsEntry("people", Set.of("tools/pay.yaml"));
        String mine = "desk: it\n" + file("tools/pay.yaml").replaceFirst("desk: people\n", "");
        assertThat(changed(Map.of("tools/mine.yaml", mine)).desks())
                .as("it goes out by the connection of people's tools")
                .containsEntry("people", Set.of("tools/mine.yaml"));
        assertThat(changed(DemoHandbook.files(), Map.of("tools/mine.yaml", mine), Map.of("pay", "house"))
                        .desks())
                .as("an admin has said that the connection is everybody's")
                .doesNotContainKey("people");
        assertThat(changed(Map.of("tools/pay.yaml", file("tools/pay.yaml").replace("desk: people", "desk: it")))
                        .desks())
                .as("nobody takes a tool for their own desk")
                .containsKeys("it", "people");
    }

    @Test
    void readingAnotherDesksMailboxNeedsThatDesk() {
        String mine = file("intake/it-by-mail.yaml").replace("it-mailbox", "people-mailbox");
        assertThat(changed(Map.of("intake/it-by-mail.yaml", mine)).desks()).containsOnlyKeys("it", "people");
    }

    @Test
    void whatNobodyHasClaimedIsEverybodys() {
        String nobodys = file("tools/fares.yaml").replace("desk: passengers\n", "");
        assertThat(changed(Map.of("tools/fares.yaml", nobodys)).desks()).containsKeys("passengers", "it", "people");
        String houses = file("tools/kiosks.yaml").replace("desk: it", "desk: house");
        Map<String, String> before = new java.util.TreeMap<>(DemoHandbook.files());
        before.put("tools/kiosks.yaml", houses);
        assertThat(changed(before, Map.of("tools/kiosks.yaml", houses + "# more\n"), Map.of("kiosks", "house"))
                        .desks())
                .as("a tool of the house is the desks' whose agents are granted it")
                .containsOnlyKeys("it");
    }

    @Test
    void filesOfTheHouseNeedASecondEngineer() {
        Touched rules =
                changed(Map.of("handbook.yaml", file("handbook.yaml").replace("rules:", "rules:\n  - Be brief.")));
        assertThat(rules.house()).containsExactly("handbook.yaml");
        assertThat(rules.desks()).containsOnlyKeys("passengers", "it", "people");
        Touched one = changed(Map.of("desks.yaml", file("desks.yaml").replace("title: IT desk", "title: The IT desk")));
        assertThat(one.house()).containsExactly("desks.yaml");
        assertThat(one.desks()).containsOnlyKeys("it");
        Touched groups = changed(Map.of("desks.yaml", file("desks.yaml").replace("Duty managers", "Managers")));
        assertThat(groups.desks()).containsOnlyKeys("passengers", "it", "people");
    }
}

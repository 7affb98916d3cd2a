package servitor.service.cases;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.json.Json;
import servitor.service.cases.Cases.NewCase;
import servitor.service.ledger.MemoryHouse;
import servitor.service.people.NotAllowed;
import servitor.service.people.Person;
import servitor.service.people.Role;
import tools.jackson.databind.node.ObjectNode;

/** Cases that belong together, without a process or a port. */
class RelatedCasesTests {
    @TempDir
    private static Path data;

    private static MemoryHouse house;
    private static int tests;
    private RelatedCases related;
    private Person ines;
    private Person osei;
    private Person teun;
    private CaseRow complaint;

    @BeforeAll
    static void open() {
        house = new MemoryHouse("related", data);
    }

    @BeforeEach
    void meet() {
        tests++;
        related = house.get(RelatedCases.class);
        ines = house.person("ines" + tests, Set.of(Role.REQUESTER));
        osei = house.person("osei" + tests, Set.of(Role.RESOLVER), "passengers");
        teun = house.person("teun" + tests, Set.of(Role.RESOLVER), "it");
        complaint = house.get(Cases.class)
                .open(ines, new NewCase("complaint", "Cold saloon", "Brr.", "en", null, Map.of()), null);
    }

    @AfterAll
    static void close() {
        house.close();
    }

    private static ObjectNode wanted(String kind) {
        ObjectNode wanted =
                Json.object().put("kind", kind).put("subject", "A coat").put("relation", "coat");
        if (kind.equals("lost-thing")) {
            wanted.putObject("fields").put("thing", "coat");
        }
        return wanted;
    }

    private CaseRow open(CaseRow from, ObjectNode wanted, String key) {
        return related.open(from.id(), "purser", wanted, key + tests);
    }

    @Test
    void theSameKeyOpensOneCaseAndBothShowEachOther() {
        CaseRow coat = open(complaint, wanted("lost-thing"), "k");
        assertThat(open(complaint, wanted("lost-thing"), "k").id()).isEqualTo(coat.id());
        CaseStore store = house.get(CaseStore.class);
        assertThat(store.relations(complaint.id())).containsExactly(new RelationRow(complaint.id(), "coat", coat.id()));
        assertThat(store.relations(coat.id()))
                .containsExactly(new RelationRow(coat.id(), "opened-for", complaint.id()));
        assertThat(coat.openedFor()).isEqualTo(complaint.id());
        assertThat(house.trail(coat.id())).startsWith("case-opened", "run-started");
    }

    @Test
    void whoAskedIsKnownAsWellAsInTheOtherCaseAndAnybodyElseIsClaimed() {
        assertThat(open(complaint, wanted("lost-thing"), "own"))
                .returns(ines.id(), CaseRow::requester)
                .returns("signed-in", CaseRow::proof);
        assertThat(open(complaint, wanted("lost-thing").put("for", teun.id()), "else"))
                .returns(teun.id(), CaseRow::requester)
                .returns("claimed", CaseRow::proof)
                .returns(ines.id(), CaseRow::openedBy);
    }

    @Test
    void aTaskWithoutAPageIsWithPeopleUnderTheDueTimeThatWasSaid() {
        CaseRow task = open(
                complaint,
                wanted("isolation-check")
                        .put("within", "PT4H")
                        .set("fields", Json.object().put("order", "Y-1").put("ship", "Tern")),
                "task");
        CaseRow now = house.get(CaseStore.class).find(task.id()).orElseThrow();
        assertThat(now.state()).isEqualTo("with-people");
        assertThat(now.due()).isEqualTo(now.created().plus(java.time.Duration.ofHours(4)));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "lost-think | subject  | A coat      | there is no kind ‘lost-think’",
                "lost-thing | fields   | nothing     | thing",
                "lost-thing | for      | nobody-here | there is no person ‘nobody-here’",
                "lost-thing | within   | P2X         | is no length of time",
                "lost-thing | owner    | person:TEUN | sees cases of the desk ‘passengers’",
                "lost-thing | owner    | no-group    | sees cases of the desk ‘passengers’",
            })
    void whatCannotBecomeACaseIsSaid(String kind, String name, String value, String says) {
        ObjectNode wanted = wanted(kind);
        if (name.equals("fields")) {
            wanted.remove("fields");
        } else {
            wanted.put(name, value.replace("TEUN", teun.id()));
        }
        assertThatThrownBy(() -> open(complaint, wanted, "bad"))
                .isInstanceOf(InvalidCase.class)
                .hasMessageContaining(says);
        assertThat(house.get(CaseStore.class).relations(complaint.id())).isEmpty();
    }

    @Test
    void noCaseLeadsToAnotherOfItsOwnKindHoweverFar() {
        CaseRow coat = open(complaint, wanted("lost-thing"), "one");
        assertThatThrownBy(() -> open(coat, wanted("complaint"), "two"))
                .isInstanceOf(RelatedCases.Refused.class)
                .hasMessageContaining(complaint.id());
        assertThatThrownBy(() -> open(coat, wanted("lost-thing"), "three")).isInstanceOf(RelatedCases.Refused.class);
    }

    @Test
    void oneCaseHasAtMostFiftyOpenedForIt() {
        house.change("update case_record set opened_for = '" + complaint.id()
                + "' where id in (select id from case_record " + "where id <> '" + complaint.id() + "')");
        int there = house.get(CaseStore.class).openedFor(complaint.id());
        for (int i = there; i < 50; i++) {
            String id = "'X-" + tests + "-" + i + "'";
            house.change(
                    "insert into case_record (id, number, desk, kind, requester, proof, channel, opened_by, subject, language, "
                            + "priority, labels, fields, state, owner, opened_for, created, updated, version) select "
                            + id + ", -" + (tests * 100 + i)
                            + ", desk, kind, requester, proof, channel, opened_by, subject, language, priority, labels, fields, state, '', id, "
                            + "created, updated, 1 from case_record where id = '" + complaint.id() + "'");
        }
        assertThatThrownBy(() -> open(complaint, wanted("lost-thing"), "many"))
                .isInstanceOf(RelatedCases.Refused.class)
                .hasMessageContaining("50 cases");
        house.change("update case_record set opened_for = null");
    }

    @Test
    void theDeskSaysWhoSeesToACase() {
        CaseRow coat = open(complaint, wanted("lost-thing"), "owned");
        assertThat(related.own(osei, coat.id(), "person:" + osei.id()).owner()).isEqualTo("person:" + osei.id());
        CaseStore store = house.get(CaseStore.class);
        CaseFilter mine = CaseFilter.ALL.ownedBy(osei.called());
        assertThat(store.list(osei.id(), osei.staffDesks(), mine, Long.MAX_VALUE, 9))
                .extracting(CaseRow::id)
                .containsExactly(coat.id());
        assertThatThrownBy(() -> related.own(osei, coat.id(), "person:" + teun.id()))
                .isInstanceOf(InvalidCase.class);
        assertThatThrownBy(() -> related.own(teun, coat.id(), "")).isInstanceOf(NoSuchCase.class);
        assertThatThrownBy(() -> related.own(ines, coat.id(), "")).isInstanceOf(NotAllowed.class);
        assertThat(related.own(osei, coat.id(), "").owner()).isEmpty();
        assertThat(house.trail(coat.id())).endsWith("case-owned", "case-owned");
    }
}

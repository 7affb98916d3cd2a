package servitor.service.cases;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
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
import org.junit.jupiter.params.provider.ValueSource;
import servitor.core.engine.RunRefused;
import servitor.core.json.Json;
import servitor.service.cases.Cases.NewCase;
import servitor.service.cases.Documents.NewDocument;
import servitor.service.ledger.MemoryHouse;
import servitor.service.people.NotAllowed;
import servitor.service.people.Person;
import servitor.service.people.Role;

/** What is decided about cases, without a process or a port. */
class CasesTests {
    @TempDir
    private static Path data;

    private static MemoryHouse house;
    private static int tests;
    private Cases cases;
    private Person ines;
    private Person osei;
    private Person noor;

    @BeforeAll
    static void open() {
        house = new MemoryHouse("cases", data);
    }

    /** People of its own for each test, as they are counted by. */
    @BeforeEach
    void meet() {
        tests++;
        cases = house.get(Cases.class);
        ines = house.person("ines" + tests, Set.of(Role.REQUESTER));
        osei = house.person("osei" + tests, Set.of(Role.RESOLVER), "passengers");
        noor = house.person("noor" + tests, Set.of(Role.AUDITOR), "passengers");
    }

    @AfterAll
    static void close() {
        house.close();
    }

    private static NewCase refund(String booking) {
        return new NewCase("refund", "My fare", "Please.", "en", null, Map.of("booking", Json.of(booking)));
    }

    private static NewCase complaint(String requester) {
        return new NewCase("complaint", "Cold saloon", "It was cold.", "en", requester, Map.of());
    }

    @Test
    void aCaseIsOpenedWithItsPageAndItsProofInOneGo() {
        CaseRow row = cases.open(ines, refund("SK-48213"), null);

        assertThat(row.proof()).isEqualTo("signed-in");
        assertThat(house.trail(row.id())).startsWith("case-opened", "run-started", "step");
        assertThat(house.row("select status, page from run where case_id = ?", row.id()))
                .containsEntry("PAGE", "cancelled-sailing-refund")
                .containsEntry("STATUS", "working");
    }

    @Test
    void theSameKeyOpensOneCaseAndAnotherRequestUnderItIsRefused() {
        CaseRow first = cases.open(ines, refund("SK-48213"), "key");

        assertThat(cases.open(ines, refund("SK-48213"), "key").id()).isEqualTo(first.id());
        assertThatThrownBy(() -> cases.open(ines, refund("SK-99999"), "key")).isInstanceOf(RuntimeException.class);
        assertThat(cases.open(osei, complaint(null), "key").id())
                .as("keys are each person's own")
                .isNotEqualTo(first.id());
    }

    @Test
    void whoeverOpensForSomebodyElseVouchesForNothing() {
        CaseRow row = cases.open(osei, complaint(ines.id()), null);

        assertThat(row.requester()).isEqualTo(ines.id());
        assertThat(row.openedBy()).isEqualTo(osei.id());
        assertThat(row.proof()).isEqualTo("claimed");
        assertThatThrownBy(() -> cases.open(ines, complaint(osei.id()), null)).isInstanceOf(NotAllowed.class);
        assertThatThrownBy(() -> cases.open(osei, complaint("nobody"), null))
                .isInstanceOf(InvalidCase.class)
                .hasMessageContaining("nobody");
    }

    @Test
    void nobodyIsFloodedWithCases() {
        for (int i = 0; i < MemoryHouse.CASES_PER_HOUR; i++) {
            cases.open(ines, complaint(null), null);
        }
        assertThatThrownBy(() -> cases.open(ines, complaint(null), null)).hasMessageContaining("within an hour");
        assertThatThrownBy(() -> cases.open(osei, complaint(ines.id()), null)).hasMessageContaining("within an hour");
        assertThat(cases.open(osei, complaint(null), null)).isNotNull();
    }

    @Test
    void whatIsWrongWithACaseIsToldAtOnceAndNothingIsKept() {
        Object before = house.row("select count(*) as n from case_record").get("N");
        assertThatThrownBy(() -> cases.open(ines, new NewCase("refund", " ", "", "en", null, Map.of()), null))
                .isInstanceOfSatisfying(
                        InvalidCase.class,
                        wrong -> assertThat(wrong.getMessage())
                                .contains("subject")
                                .contains("booking"));
        assertThatThrownBy(() -> cases.open(ines, new NewCase("nothing", "x", "", "en", null, Map.of()), null))
                .isInstanceOf(InvalidCase.class);
        assertThat(house.row("select count(*) as n from case_record")).containsEntry("N", before);
    }

    @Test
    void notesAreForWhomTheyAreMeantAndAuditorsAddNothing() {
        String id = cases.open(ines, complaint(null), null).id();

        assertThat(cases.note(osei, id, "He was rude before.", true).audience()).isEqualTo("staff");
        assertThat(cases.note(ines, id, "It still is.", false).audience()).isEqualTo("requester");
        assertThatThrownBy(() -> cases.note(ines, id, "Psst", true)).isInstanceOf(NotAllowed.class);
        assertThatThrownBy(() -> cases.note(noor, id, "Hm", false)).isInstanceOf(NotAllowed.class);
        assertThatThrownBy(() -> cases.note(ines, id, " ", false)).isInstanceOf(InvalidCase.class);
    }

    @Test
    void othersAreToldThatThereIsNoSuchCase() {
        String id = cases.open(ines, complaint(null), null).id();
        Person teun = house.person("teun", Set.of(Role.RESOLVER), "it");

        assertThatThrownBy(() -> cases.note(teun, id, "Hello", false)).isInstanceOf(NoSuchCase.class);
        assertThatThrownBy(() -> cases.resolve(teun, id, "Done")).isInstanceOf(NoSuchCase.class);
        assertThatThrownBy(() -> cases.startPage(teun, id, "complaint")).isInstanceOf(NoSuchCase.class);
    }

    @Test
    void aCaseThatAnAgentWorksOnIsResolvedByNobodyElse() {
        String id = cases.open(ines, refund("SK-48213"), null).id();

        assertThatThrownBy(() -> cases.resolve(osei, id, "Paid by hand")).isInstanceOf(RunRefused.class);
        assertThatThrownBy(() -> cases.resolve(ines, id, "Never mind")).isInstanceOf(NotAllowed.class);
    }

    @ParameterizedTest
    @CsvSource({"../ticket.txt, text/plain, x", "ticket.txt, html, x", "ticket.txt, text/plain, ''", "'', text/plain, x"
    })
    void aDocumentThatCannotBeOneIsRefused(String name, String type, String content) {
        String id = cases.open(ines, complaint(null), null).id();
        NewDocument document = new NewDocument(name, type, content.getBytes(StandardCharsets.UTF_8));

        assertThatThrownBy(() -> house.get(Documents.class).attach(ines, id, document))
                .isInstanceOf(InvalidCase.class);
        assertThat(house.trail(id)).doesNotContain("document-added");
    }

    @Test
    void aDocumentIsKeptWithItsDigestAndReadWhenItIsText() {
        String id = cases.open(ines, complaint(null), null).id();
        NewDocument document =
                new NewDocument("ticket.txt", "text/plain", "Überfahrt".getBytes(StandardCharsets.UTF_8));

        DocumentRow kept = house.get(Documents.class).attach(ines, id, document);

        assertThat(kept.digest()).isEqualTo(Json.sha256("Überfahrt".getBytes(StandardCharsets.UTF_8)));
        assertThat(kept.text()).isEqualTo("Überfahrt");
        assertThat(house.trail(id)).contains("document-added");
        assertThatThrownBy(() -> house.get(Documents.class).attach(noor, id, document))
                .isInstanceOf(NotAllowed.class);
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "Has Blanks", "../x", "UPPER"})
    void anEventHasAPlainName(String name) {
        String id = cases.open(ines, complaint(null), null).id();
        assertThatThrownBy(() -> house.get(Events.class).happened(osei, id, name, Json.object()))
                .isInstanceOf(InvalidCase.class);
    }

    @Test
    void anEventThatNothingWaitsForIsOnTheTrailAllTheSame() {
        String id = cases.open(ines, complaint(null), null).id();

        assertThat(house.get(Events.class).happened(osei, id, "ship.docked", Json.object()))
                .isFalse();
        assertThat(house.trail(id)).contains("event-reported");
        assertThatThrownBy(() -> house.get(Events.class).happened(ines, id, "ship.docked", Json.object()))
                .isInstanceOf(NotAllowed.class);
    }
}

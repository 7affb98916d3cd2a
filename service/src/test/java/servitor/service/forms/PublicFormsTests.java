package servitor.service.forms;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import servitor.core.json.Json;
import servitor.service.Precondition;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.cases.Cases;
import servitor.service.cases.Cases.NewCase;
import servitor.service.cases.Documents;
import servitor.service.cases.Documents.NewDocument;
import servitor.service.cases.InvalidCase;
import servitor.service.cases.TooMany;
import servitor.service.forms.PublicForms.Filled;
import servitor.service.forms.PublicForms.Shown;
import servitor.service.ledger.MemoryHouse;
import servitor.service.people.People;
import servitor.service.people.People.PersonDetails;
import servitor.service.people.Role;

/** What people ask who can't sign in, without a process, a port or a mail. */
class PublicFormsTests {
    @TempDir
    private static Path data;

    private static MemoryHouse house;
    private static int tests;
    private PublicForms forms;

    @BeforeAll
    static void open() {
        house = new MemoryHouse("forms", data);
    }

    @BeforeEach
    void meet() {
        tests++;
        house.change("delete from public_form");
        house.change("delete from hook_refusal");
        forms = house.get(PublicForms.class);
    }

    @AfterAll
    static void close() {
        house.close();
    }

    private static Filled umbrella(String address) {
        return new Filled(
                "Odile Sand",
                address,
                new NewCase(
                        "lost-thing", "My umbrella", "On Tuesday.", "en", null, Map.of("thing", Json.of("umbrella"))));
    }

    private static String address() {
        return "odile" + tests + "@varra-post.example";
    }

    private static long cases() {
        return (long) house.row("select count(*) as n from case_record").get("N");
    }

    /** The secret part of the link in the mail that would ask about what was taken last. */
    private String asked(String address) {
        forms.take(umbrella(address), "192.0.2." + tests);
        FormRow row = forms.in(FormRow.State.TO_ASK).get(0);
        return forms.confirming(row).replaceFirst(".*#", "");
    }

    @Test
    void lookingDoesNothingAndConfirmingOpensOneVerifiedCase() {
        long before = cases();
        String link = asked(address());
        assertThat(forms.shown(link).orElseThrow().asked())
                .map(NewCase::subject)
                .contains("My umbrella");
        assertThat(forms.shown(link)).isEqualTo(forms.shown(link));
        assertThat(cases()).as("a scanner looked").isEqualTo(before);

        Shown shown = forms.confirm(link).orElseThrow();
        CaseRow row = house.get(CaseStore.class).find(shown.row().caseId()).orElseThrow();
        assertThat(row)
                .returns("verified", CaseRow::proof)
                .returns("form", CaseRow::channel)
                .returns("My umbrella", CaseRow::subject);
        assertThat(row.requester()).startsWith("guest-");
        assertThat(house.trail(row.id())).startsWith("case-opened", "run-started");
        assertThat(house.row("select email, roles, password from person where id = ?", row.requester()))
                .containsEntry("EMAIL", address())
                .containsEntry("ROLES", "")
                .containsEntry("PASSWORD", null);
    }

    @Test
    void whoConfirmsOnceMoreOpensNothingAndSeesNothing() {
        String link = asked(address());
        forms.confirm(link);
        long after = cases();
        Shown again = forms.confirm(link).orElseThrow();
        assertThat(cases()).isEqualTo(after);
        assertThat(again.asked()).isEmpty();
        assertThat(forms.shown(link).orElseThrow().asked()).isEmpty();
        assertThat(house.row("select asked from public_form").toString()).doesNotContain("umbrella");
    }

    @Test
    void manyWhoConfirmAtTheSameMomentOpenOneCase() throws Exception {
        String link = asked(address());
        long before = cases();
        ExecutorService crowd = Executors.newFixedThreadPool(8);
        try {
            Callable<Object> confirm = () -> forms.confirm(link);
            for (var done :
                    crowd.invokeAll(Stream.generate(() -> confirm).limit(16).toList())) {
                done.get();
            }
        } finally {
            crowd.shutdown();
        }
        assertThat(cases()).isEqualTo(before + 1);
    }

    @ParameterizedTest
    @CsvSource({"F-1.9999999999.AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA", "x", "''"})
    void aLinkThatWasMadeUpIsNone(String link) {
        assertThat(forms.shown(link)).isEmpty();
        assertThat(forms.confirm(link)).isEmpty();
    }

    @Test
    void whatNobodyConfirmsIsForgotten() {
        String link = asked(address());
        house.change("update public_form set received = dateadd('DAY', -3, received)");
        forms.forgetOld();
        assertThat(house.row("select state, asked from public_form"))
                .containsEntry("STATE", "forgotten")
                .doesNotContainValue("umbrella");
        long before = cases();
        forms.confirm(link);
        assertThat(cases()).isEqualTo(before);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "Odile    | no address     | umbrella | address",
                "Odile    | a@b@c.example  | umbrella | address",
                "Odile    | <a@b.example>  | umbrella | address",
                "<Odile>  | a@b.example    | umbrella | name",
                "''       | a@b.example    | umbrella | name",
                "Odile    | a@b.example    | ''       | fields/thing"
            })
    void whatCannotBeTakenIsSaidAndNothingIsKept(String name, String address, String thing, String about) {
        NewCase wanted = new NewCase("lost-thing", "S", "", "en", null, Map.of("thing", Json.of(thing)));
        assertThatThrownBy(() -> forms.take(new Filled(name, address, wanted), "192.0.2.1"))
                .isInstanceOf(InvalidCase.class)
                .hasMessageStartingWith(about);
        assertThat(house.row("select count(*) as n from public_form")).containsEntry("N", 0L);
    }

    @Test
    void onlyWhatIsForEverybodyHasAForm() {
        assertThat(forms.kind("lost-thing")).isPresent();
        assertThat(forms.kind("refund")).isEmpty();
        assertThat(forms.kind("joiner")).isEmpty();
    }

    @Test
    void oneAddressGetsThreeMailsAnHour() {
        for (int i = 0; i < 5; i++) {
            forms.take(umbrella(address().toUpperCase(java.util.Locale.ROOT)), "198.51.100." + i);
        }
        assertThat(forms.in(FormRow.State.TO_ASK)).hasSize(3);
        assertThat(forms.in(FormRow.State.LEFT))
                .hasSize(2)
                .allMatch(row -> row.asked().isEmpty());
    }

    @Test
    void fromOnePlaceTenAreTakenAnHour() {
        for (int i = 0; i < 10; i++) {
            forms.take(umbrella(i + address()), "2001:db8:7:7::" + i);
        }
        assertThatThrownBy(() -> forms.take(umbrella(address()), "2001:db8:7:7:ffff::1"))
                .isInstanceOf(TooMany.class);
        forms.take(umbrella(address()), "2001:db8:7:8::1");
    }

    @Test
    void ofTenThousandFromEverywhereThreeHundredAreTakenAndTheOthersCounted() {
        int refused = 0;
        long before = cases();
        for (int i = 0; i < 10_000; i++) {
            try {
                forms.take(
                        umbrella("somebody" + i + "@varra-post.example"),
                        "2001:db8:1:" + Integer.toHexString(i) + "::1");
            } catch (TooMany e) {
                refused++;
            }
        }
        assertThat(refused).isEqualTo(9_700);
        assertThat(cases()).isEqualTo(before);
        assertThat(house.row("select count(*) as n from public_form")).containsEntry("N", 300L);
        var sunniva = house.person("sunniva" + tests, Set.of(Role.RESOLVER), "passengers");
        assertThat(forms.refused(sunniva)).anyMatch(row -> row.times() == 9_700);
        assertThat(forms.latest(house.person("teun" + tests, Set.of(Role.RESOLVER), "it")))
                .isEmpty();
    }

    @Test
    void aMailAddressOnRecordIsThePersonItBelongsTo() {
        var bram = house.person("bram" + tests, Set.of(Role.REQUESTER));
        house.change("update person set email = '" + address() + "' where id = '" + bram.id() + "'");
        String caseId = forms.confirm(asked(address())).orElseThrow().row().caseId();
        CaseRow row = house.get(CaseStore.class).find(caseId).orElseThrow();
        assertThat(row.requester()).isEqualTo(bram.id());
        String following = house.get(FormLinks.class).following(row).replaceFirst(".*#", "");
        assertThat(house.get(GuestCases.class).of(following))
                .as("who can sign in does so")
                .isEmpty();
    }

    @Test
    void aLinkShowsOneCaseAndNoneOnceItsPersonIsShutOut() {
        String caseId = forms.confirm(asked(address())).orElseThrow().row().caseId();
        CaseRow row = house.get(CaseStore.class).find(caseId).orElseThrow();
        GuestCases guests = house.get(GuestCases.class);
        String link = house.get(FormLinks.class).following(row).replaceFirst(".*#", "");
        assertThat(guests.of(link).orElseThrow().row().id()).isEqualTo(caseId);
        assertThat(guests.of(link.replace(caseId, "C-1"))).isEmpty();
        assertThat(forms.shown(link)).as("it confirms nothing").isEmpty();

        var odile = guests.of(link).orElseThrow().person();
        house.get(Cases.class).note(odile, caseId, "It is green.", false);
        assertThatThrownBy(() -> house.get(Cases.class).note(odile, caseId, "For staff.", true))
                .isInstanceOf(servitor.service.people.NotAllowed.class);
        house.get(People.class)
                .put(
                        new PersonDetails(row.requester(), null, null, null, null, null, null, null, null, false),
                        "admin",
                        Precondition.NONE);
        assertThat(guests.of(link)).isEmpty();
    }

    @Test
    void whoeverAskedAddsWhatTheKindTakesAndTakesItBack() {
        String caseId = forms.confirm(asked(address())).orElseThrow().row().caseId();
        CaseRow row = house.get(CaseStore.class).find(caseId).orElseThrow();
        var odile = house.get(People.class).find(row.requester()).orElseThrow();
        Documents documents = house.get(Documents.class);
        byte[] small = new byte[100];
        for (int i = 0; i < 3; i++) {
            documents.attach(odile, caseId, new NewDocument("p" + i + ".png", "image/png", small));
        }
        for (NewDocument wrong : List.of(
                new NewDocument("4.png", "image/png", small),
                new NewDocument("a.html", "text/html", small),
                new NewDocument("big.png", "image/png", new byte[3_000_001]))) {
            assertThatThrownBy(() -> documents.attach(odile, caseId, wrong)).isInstanceOf(InvalidCase.class);
        }
        assertThat(house.get(Cases.class).withdraw(odile, caseId, "Found it").state())
                .isEqualTo("closed");
        assertThat(house.trail(caseId)).endsWith("run-stopped", "case-withdrawn");
        assertThatThrownBy(() -> house.get(Cases.class).withdraw(odile, caseId, ""))
                .isInstanceOf(servitor.core.engine.RunRefused.class);
        var osei = house.person("osei" + tests, Set.of(Role.RESOLVER), "passengers");
        assertThatThrownBy(() -> house.get(Cases.class).withdraw(osei, caseId, ""))
                .isInstanceOf(servitor.service.people.NotAllowed.class);
    }
}

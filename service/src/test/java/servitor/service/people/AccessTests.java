package servitor.service.people;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;

/** The policy, as the table it is: who may at home, in another's case at the desk, in one's own, and at another desk. */
class AccessTests {
    private record SomeCase(String desk, String requester, String openedBy) implements DeskCase {}

    private static final DeskCase OTHERS = new SomeCase("passengers", "ines", "ines");
    private static final DeskCase OWN = new SomeCase("passengers", "someone", "someone");
    private static final DeskCase ELSEWHERE = new SomeCase("people", "ines", "ines");
    private static final String ALL = "ADMIN AUDITOR APPROVER ENGINEER RESOLVER REQUESTER";

    private static Person with(Role... roles) {
        return new Person("someone", "Someone", "", "", Set.of(roles), Set.of("passengers"), Set.of());
    }

    private static Set<Role> roles(String words) {
        EnumSet<Role> roles = EnumSet.noneOf(Role.class);
        if (words != null && !words.equals("-")) {
            Stream.of(words.strip().split(" ")).map(Role::valueOf).forEach(roles::add);
        }
        return roles;
    }

    private static void only(Access access, DeskCase row, String expected) {
        assertThat(Stream.of(Role.values()).filter(role -> access.allows(with(role), row)))
                .as(access + " in " + row)
                .containsExactlyInAnyOrderElementsOf(roles(expected));
    }

    @ParameterizedTest
    @CsvSource({
        "MANAGE_PEOPLE,     ADMIN",
        "SET_CONNECTIONS,   ADMIN",
        "SEE_CONNECTIONS,   ADMIN ENGINEER",
        "BACK_UP,           ADMIN",
        "SEE_THE_HOUSE,     ADMIN AUDITOR APPROVER ENGINEER RESOLVER",
        "SEE_THE_TRAIL,     ADMIN AUDITOR ENGINEER",
        "EXPORT_THE_TRAIL,  AUDITOR",
        "READ_HANDBOOKS,    AUDITOR APPROVER ENGINEER RESOLVER",
        "WRITE_HANDBOOKS,   ENGINEER",
        "TRY_TOOLS,         ENGINEER",
        "STOP_ANYTHING,     ADMIN",
    })
    void inTheHouse(Access access, String expected) {
        assertThat(Stream.of(Role.values()).filter(role -> access.allows(with(role))))
                .containsExactlyInAnyOrderElementsOf(roles(expected));
    }

    @ParameterizedTest
    @CsvSource({
        // what               at the desk                       in one's own case there           at another desk
        "STOP_AT_THE_DESK,  ENGINEER,                           ENGINEER,                           -",
        "OPEN_FOR_OTHERS,   RESOLVER,                           RESOLVER,                           -",
        "SEND_MESSAGES,     RESOLVER,                           RESOLVER,                           -",
        "SEE_LANES,         AUDITOR APPROVER ENGINEER RESOLVER, AUDITOR APPROVER ENGINEER RESOLVER, -",
        "WRITE_STAFF_NOTES, APPROVER ENGINEER RESOLVER,         APPROVER ENGINEER RESOLVER,         -",
        "ADD_TO_CASE,       APPROVER ENGINEER RESOLVER," + ALL + ", -",
        "RESOLVE_CASE,      APPROVER ENGINEER RESOLVER,         APPROVER ENGINEER RESOLVER,         -",
        "REPORT_EVENT,      ENGINEER RESOLVER,                  ENGINEER RESOLVER,                  -",
        "START_PAGE,        ENGINEER RESOLVER,                  ENGINEER RESOLVER,                  -",
        "MOVE_RUN,          ENGINEER,                           ENGINEER,                           -",
        "STEER_RUN,         ENGINEER RESOLVER,                  -,                                  -",
        "SETTLE_CALL,       APPROVER ENGINEER RESOLVER,         -,                                  -",
    })
    void inACase(Access access, String atTheDesk, String own, String elsewhere) {
        only(access, OTHERS, atTheDesk);
        only(access, OWN, own);
        only(access, ELSEWHERE, elsewhere);
        assertThat(access.allows(with(Role.values())))
                .as("without saying where")
                .isFalse();
    }

    @Test
    void aCaseThatOneOpenedForSomebodyElseIsOnesOwn() {
        DeskCase forInes = new SomeCase("passengers", "ines", "someone");
        assertThat(Access.STEER_RUN.allows(with(Role.RESOLVER), forInes)).isFalse();
    }

    @ParameterizedTest
    @EnumSource
    void nobodyWithoutARoleMayDoAnythingAndIsToldWhyNot(Access access) {
        Person nobody = with();
        List<Runnable> asked = List.of(
                () -> access.require(nobody),
                () -> access.require(nobody, "passengers"),
                () -> access.require(nobody, OTHERS));
        assertThat(asked)
                .allSatisfy(ask -> assertThatThrownBy(ask::run)
                        .isInstanceOf(NotAllowed.class)
                        .hasMessageEndingWith("."));
    }
}

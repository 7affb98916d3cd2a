package servitor.service.forms;

import java.util.Optional;
import org.springframework.stereotype.Service;
import servitor.service.cases.CaseRow;
import servitor.service.cases.CaseStore;
import servitor.service.people.PeopleReader;
import servitor.service.people.Person;

/** Cases of people who can't sign in, each by a link of its own. */
@Service
public class GuestCases {
    private final FormLinks links;
    private final CaseStore cases;
    private final PeopleReader people;

    GuestCases(FormLinks links, CaseStore cases, PeopleReader people) {
        this.links = links;
        this.cases = cases;
        this.people = people;
    }

    /** A case, and whose it is. */
    public record Guest(CaseRow row, Person person) {}

    /**
     * The case that a link's secret part shows. Empty when it is no such link any more, or whose case it is has an account, or must not
     * be let in any more.
     */
    public Optional<Guest> of(String link) {
        return links.caseOf(link)
                .flatMap(cases::find)
                .flatMap(row -> people.find(row.requester()).map(person -> new Guest(row, person)))
                .filter(guest -> guest.person().isGuest() && guest.person().enabled());
    }
}

package servitor.service.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.service.forms.PublicForms;
import servitor.service.people.Person;

/** The forms that people sent in who can't sign in, for those who resolve for the desk. */
@RestController
@RequestMapping("/api/forms")
class SentFormController {
    private final PublicForms forms;

    SentFormController(PublicForms forms) {
        this.forms = forms;
    }

    /** A form that somebody sent in: {@code state} is how far it is, {@code caseId} null while it is no case. */
    record FormView(
            String id,
            String kind,
            Instant received,
            String state,
            Instant moved,
            String detail,
            @Nullable String caseId) {}

    /** The forms that were sent in last, without what they say; and what was refused within a day, by kind. */
    record FormsView(List<FormView> forms, List<IntakeController.RefusalView> refused) {}

    @GetMapping
    FormsView forms(Person person) {
        return new FormsView(
                forms.latest(person).stream()
                        .map(row -> new FormView(
                                row.id(),
                                row.kind(),
                                row.received(),
                                row.state(),
                                row.moved(),
                                row.detail(),
                                row.caseId()))
                        .toList(),
                forms.refused(person).stream()
                        .map(row ->
                                new IntakeController.RefusalView(row.since(), row.latest(), row.times(), row.reason()))
                        .toList());
    }
}

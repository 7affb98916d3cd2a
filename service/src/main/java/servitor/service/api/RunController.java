package servitor.service.api;

import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.service.api.Views.RunView;
import servitor.service.ledger.Ledger;
import servitor.service.people.Person;

/** Runs, for staff of the case's desk. */
@RestController
@RequestMapping("/api/runs")
class RunController {
    private final Ledger ledger;
    private final Describe describe;

    RunController(Ledger ledger, Describe describe) {
        this.ledger = ledger;
        this.describe = describe;
    }

    @GetMapping("/{id}")
    RunView show(Person person, @PathVariable String id) {
        return ledger.run(id)
                .filter(run -> ledger.findCase(run.caseId())
                        .filter(person::seesAsStaff)
                        .isPresent())
                .map(describe::run)
                .orElseThrow(() -> new NotFound("run", id));
    }
}

package servitor.service.dispatch;

import org.springframework.stereotype.Component;
import servitor.core.engine.Reply;
import servitor.core.handbook.Opening;
import servitor.core.handbook.Problem;
import servitor.core.json.Json;
import servitor.core.mandate.ProposedCall;
import servitor.service.cases.CaseRow;
import servitor.service.cases.InvalidCase;
import servitor.service.cases.RelatedCases;
import servitor.service.cases.TooMany;

/** The part of the gate that opens cases for others. */
@Component
class Opener {
    private final RelatedCases cases;

    Opener(RelatedCases cases) {
        this.cases = cases;
    }

    /** Carries out a call of {@link Opening#OPEN} for a case. */
    Reply open(String caseId, ProposedCall call, String key) {
        try {
            CaseRow opened = cases.open(caseId, call.agent(), call.args(), key);
            return new Reply.Answered(201, Json.object().put("id", opened.id()).put(Opening.KIND, opened.kind()));
        } catch (InvalidCase e) {
            return new Reply.Refused(Problem.INVALID, String.join("; ", e.wrong()));
        } catch (RelatedCases.Refused | TooMany e) {
            return new Reply.Refused(Problem.REFUSED, String.valueOf(e.getMessage()));
        }
    }
}

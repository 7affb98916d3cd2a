package servitor.service.api;

import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.approval.Answer.Says;
import servitor.core.approval.ApprovalRequest;
import servitor.core.engine.Evidence;
import servitor.core.handbook.Handbook;
import servitor.service.approvals.ApprovalStore;
import servitor.service.approvals.Approvals;
import servitor.service.approvals.AskedByMail;
import servitor.service.approvals.AskedByMail.Asked;
import servitor.service.editions.Editions;
import servitor.service.messages.Letters;

/** What an approval asks somebody by mail, for whoever has the link of that mail. Looking does nothing; an answer is a POST. */
@RestController
@RequestMapping("/api/public/approval")
class AskedByMailController {
    private static final int LONGEST_LINK = 120;

    private final AskedByMail asked;
    private final ApprovalStore approvals;
    private final Editions editions;

    AskedByMailController(AskedByMail asked, ApprovalStore approvals, Editions editions) {
        this.asked = asked;
        this.approvals = approvals;
        this.editions = editions;
    }

    /**
     * What is asked. {@code state} is {@code open}, {@code answered} (by this mail), {@code changed} or what became of it since; all that
     * may be null is there while it is open only, and nothing of a personal case.
     */
    record ByMail(
            String state,
            String house,
            String name,
            String sheet,
            @Nullable String headline,
            @Nullable String question,
            @Nullable String requester,
            @Nullable String proof,
            @Nullable String subject,
            @Nullable String text,
            List<String> drafts,
            @Nullable String why,
            boolean mayApprove,
            boolean maySendBack,
            @Nullable Instant due) {}

    /** An answer; {@code drafts} are the texts as they are wanted, in their order. */
    record MailedAnswer(
            String decision,
            @Nullable String reason,
            @Nullable List<String> drafts) {}

    @GetMapping
    ByMail show(@RequestHeader(FormController.LINK) String link) {
        return view(find(link));
    }

    @PostMapping("/answers")
    ByMail answer(@RequestHeader(FormController.LINK) String link, @RequestBody MailedAnswer body) {
        Asked found = find(link);
        Says says = Arrays.stream(Says.values())
                .filter(one -> one.word().equals(body.decision()))
                .findFirst()
                .orElseThrow(() -> new IllegalArgumentException("‘decision’ is approve, decline or feedback."));
        Map<String, String> texts = says == Says.APPROVE && body.drafts() != null
                ? AskedByMail.texts(Approvals.request(found.row()), body.drafts())
                : Map.of();
        ApprovalController.refusal(asked.answer(found, says, body.reason() == null ? "" : body.reason(), texts));
        return view(find(link));
    }

    private Asked find(String link) {
        return Optional.of(link)
                .filter(one -> one.length() <= LONGEST_LINK)
                .flatMap(asked::byLink)
                .orElseThrow(() ->
                        new NotFound("question behind this link; it may have run out, or asks you no more", "link"));
    }

    private ByMail view(Asked found) {
        Handbook handbook = editions.current().orElseThrow().handbook();
        ApprovalRequest request = Approvals.request(found.row());
        Optional<Evidence> evidence = approvals.evidence(found.row().id());
        boolean told = found.isOpen() && !Letters.isPersonal(handbook, found.about());
        return new ByMail(
                state(found),
                handbook.house().title(),
                found.person().name(),
                asked.sheet(found.row().id()),
                told ? request.headline() : null,
                told ? request.question() : null,
                told ? evidence.map(Evidence::name).orElse(null) : null,
                told ? evidence.map(Evidence::proof).orElse(null) : null,
                told ? found.about().subject() : null,
                told ? found.about().text() : null,
                told ? List.copyOf(request.texts().values()) : List.of(),
                told ? request.sheet().path("why").asString(null) : null,
                found.isOpen() && found.mayApprove() && told,
                found.isOpen() && !request.texts().isEmpty() && request.rounds() > 0,
                found.row().due());
    }

    private static String state(Asked found) {
        if (found.isOpen()) {
            return "open";
        } else if (found.mail().used() != null) {
            return "answered";
        }
        return found.row().state().equals("open") ? "changed" : found.row().state();
    }
}

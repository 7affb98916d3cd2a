package servitor.core.handbook.check;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import servitor.core.handbook.Channel;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Intake;
import servitor.core.handbook.Kind;
import servitor.core.handbook.Place;
import servitor.core.handbook.Runbook;
import servitor.core.handbook.Step;
import servitor.core.handbook.Telling;
import servitor.core.handbook.Verb.Tell;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Findings;

/** That whoever a step tells something can be told it, and in the way it says. */
final class TellRule {
    private final Handbook handbook;
    private final Runbook page;
    private final Findings findings;

    TellRule(Handbook handbook, Runbook page, Findings findings) {
        this.handbook = handbook;
        this.page = page;
        this.findings = findings;
    }

    void check(Step step, Tell tell) {
        Place by = step.placeOf(step.places().has("by") ? "by" : "tell");
        tell.to().asConstant().ifPresent(to -> known(to.asString(""), step.placeOf("tell")));
        tell.to()
                .asPath()
                .filter(path -> path.toString().equals("requester.id"))
                .ifPresent(path -> findings.error(
                        step.placeOf("tell"),
                        Code.TELL,
                        "This names the requester as one of the people of the house.",
                        "Write ‘tell: requester’."));
        switch (tell.by()) {
            case SAME_WAY -> sameWay(tell, by);
            case CHAT -> chat(tell, by);
            case MAIL -> withoutMail().forEach(desk -> noMail(desk, by));
            default -> {}
        }
    }

    private void known(String to, Place place) {
        List<String> names = new ArrayList<>(List.of(Telling.REQUESTER));
        names.addAll(handbook.desks().keySet());
        names.addAll(handbook.groups().keySet());
        if (!to.startsWith(Telling.PERSON)) {
            findings.unknown(Code.UNKNOWN_GROUP, to, names, place);
        }
    }

    private void sameWay(Tell tell, Place by) {
        if (!tell.toRequester()) {
            findings.error(
                    by,
                    Code.TELL,
                    "Only the requester came some way that they can be told by.",
                    "Say how, as in ‘by: note’, ‘by: mail’ or ‘by: chat’.");
        } else if (comesByMail(handbook, page)) {
            withoutMail()
                    .forEach(desk -> findings.warning(
                            by,
                            Code.TELL,
                            "Whoever comes by mail is told by a note all the same: the desk ‘" + desk
                                    + "’ sends no mails.",
                            "Add ‘mail’ to the desk in desks.yaml, or write ‘by: note’."));
        }
    }

    private void chat(Tell tell, Place by) {
        String to = tell.to().asConstant().map(one -> one.asString("")).orElse("");
        if (handbook.roomOf(to).isEmpty()) {
            boolean couldHave =
                    handbook.desks().containsKey(to) || handbook.groups().containsKey(to);
            findings.error(
                    by,
                    Code.TELL,
                    couldHave
                            ? "‘" + to + "’ has no room."
                            : "Only desks and groups have rooms to be told something in.",
                    couldHave ? "Add ‘room’ to it in desks.yaml." : "Name a desk or group, or use another channel.");
        }
    }

    private void noMail(String desk, Place by) {
        findings.error(
                by,
                Code.TELL,
                "The desk ‘" + desk + "’ sends no mails.",
                "Add ‘mail’ with ‘connection’ and ‘from’ to the desk in desks.yaml.");
    }

    /** Desks whose cases the page works, and that send no mails. */
    private Set<String> withoutMail() {
        return desks(handbook, page).stream()
                .filter(desk -> handbook.letterheadOf(desk).isEmpty())
                .collect(Collectors.toCollection(TreeSet::new));
    }

    private static Set<String> desks(Handbook handbook, Runbook page) {
        Set<String> desks = page.kinds().stream()
                .map(handbook.kinds()::get)
                .filter(Objects::nonNull)
                .map(Kind::desk)
                .collect(Collectors.toSet());
        return desks.isEmpty() ? Set.of(page.desk()) : desks;
    }

    /** Whether mails become cases that the page may work. */
    private static boolean comesByMail(Handbook handbook, Runbook page) {
        return handbook.intake().values().stream()
                .filter(intake -> intake.from().equals(Intake.MAIL))
                .map(intake -> handbook.kinds().get(intake.kind()))
                .filter(Objects::nonNull)
                .anyMatch(kind -> page.kinds().isEmpty()
                        ? kind.desk().equals(page.desk())
                        : page.kinds().contains(kind.name()));
    }

    /** The tools that a step may call, as its channel isn't known before the case is. */
    static List<String> tools(Handbook handbook, Runbook page, Tell tell) {
        String to = tell.toRequester() ? Telling.REQUESTER : "";
        if (tell.by() != Channel.SAME_WAY) {
            return List.of(Telling.by(tell.by(), to));
        }
        boolean byMail = comesByMail(handbook, page)
                && desks(handbook, page).stream()
                        .anyMatch(desk -> handbook.letterheadOf(desk).isPresent());
        return byMail ? List.of(Telling.REPLY, Telling.MAIL) : List.of(Telling.REPLY);
    }
}

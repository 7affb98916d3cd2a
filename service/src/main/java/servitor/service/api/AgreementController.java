package servitor.service.api;

import java.math.BigDecimal;
import java.time.Duration;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Tool;
import servitor.core.handbook.WayOfWorking;
import servitor.core.rehearsal.Agreement.Compared;
import servitor.core.rehearsal.Agreement.Sheet;
import servitor.core.rehearsal.Agreement.Sort;
import servitor.service.editions.Editions;
import servitor.service.lookback.ShadowWork;
import servitor.service.people.Access;
import servitor.service.people.Person;

/** Calls that didn't leave by themselves, beside what people did; and who is trusted with more. */
@RestController
class AgreementController {
    private static final int USUAL_DAYS = 30;
    private static final int MOST_DAYS = 3_660;
    private static final int MOST_CALLS = 100;

    private final ShadowWork shadowWork;
    private final Editions editions;

    AgreementController(ShadowWork shadowWork, Editions editions) {
        this.shadowWork = shadowWork;
        this.editions = editions;
    }

    /** Calls of one sort, and the money they were about. */
    record Counted(int calls, BigDecimal money) {}

    /**
     * One tool.
     *
     * @param acts whether it does more than read
     * @param works the tool's own way of working now
     * @param agents who may call it and is trusted less than alone, each with its way of working
     * @param counted by {@code same}, {@code other}, {@code not-comparable} and {@code open}
     */
    record ToolSheet(
            String tool,
            boolean acts,
            String works,
            Map<String, String> agents,
            Map<String, Counted> counted,
            List<Compared> calls) {}

    record Sheets(String currency, List<ToolSheet> tools) {}

    /** Calls that were held in shadow or that people were asked about, by tool. */
    @GetMapping("/api/agreement")
    Sheets sheets(Person person, @RequestParam Optional<Integer> days) {
        Access.READ_HANDBOOKS.require(person);
        int since = days.orElse(USUAL_DAYS);
        if (since < 1 || since > MOST_DAYS) {
            throw new IllegalArgumentException("‘days’ are 1 to " + MOST_DAYS + ".");
        }
        Handbook handbook = editions.current().map(Edition::handbook).orElseThrow(() -> new NotFound("edition", "1"));
        Map<String, Sheet> found = new TreeMap<>();
        shadowWork.sheets(person, handbook, Duration.ofDays(since)).forEach(sheet -> found.put(sheet.tool(), sheet));
        TreeSet<String> tools = new TreeSet<>(found.keySet());
        handbook.tools().values().stream()
                .filter(tool -> tool.works() != WayOfWorking.ALONE)
                .map(Tool::name)
                .forEach(tools::add);
        return new Sheets(
                handbook.house().currency(),
                tools.stream()
                        .map(name -> view(handbook, found.getOrDefault(name, new Sheet(name, List.of()))))
                        .toList());
    }

    private static ToolSheet view(Handbook handbook, Sheet sheet) {
        Tool tool = handbook.tools().get(sheet.tool());
        Map<String, String> agents = new TreeMap<>();
        if (tool != null) {
            handbook.agents().values().stream()
                    .sorted(Comparator.comparing(Agent::name))
                    .filter(agent -> agent.works() != WayOfWorking.ALONE)
                    .filter(agent -> handbook.mandatesOf(agent.name()).stream()
                            .flatMap(mandate -> mandate.grants().stream())
                            .anyMatch(grant -> grant.covers(tool)))
                    .forEach(agent -> agents.put(agent.name(), agent.works().word()));
        }
        Map<String, Counted> counted = new TreeMap<>();
        for (Sort sort : Sort.values()) {
            counted.put(sort.word(), new Counted(sheet.count(sort), sheet.money(sort)));
        }
        return new ToolSheet(
                sheet.tool(),
                tool != null && tool.effect().acts(),
                tool == null ? WayOfWorking.ALONE.word() : tool.works().word(),
                agents,
                counted,
                sheet.calls().stream().limit(MOST_CALLS).toList());
    }

    /**
     * Who is to work otherwise.
     *
     * @param agent or {@code tool}; one of them
     */
    record Works(@Nullable String agent, @Nullable String tool, String works) {}

    record Changed(String path) {}

    /** Has an agent or a tool work otherwise, as a change to one's draft. */
    @PostMapping("/api/handbook/draft/works")
    Changed change(Person person, @RequestBody Works body) {
        Access.WRITE_HANDBOOKS.require(person);
        WayOfWorking works = WayOfWorking.of(String.valueOf(body.works()))
                .orElseThrow(() -> new IllegalArgumentException("‘works’ is alone, supervised or shadow."));
        if ((body.agent() == null) == (body.tool() == null)) {
            throw new IllegalArgumentException("Name an ‘agent’ or a ‘tool’.");
        }
        return new Changed(
                body.agent() != null
                        ? shadowWork.change(person, "agent", body.agent(), works)
                        : shadowWork.change(person, "tool", String.valueOf(body.tool()), works));
    }
}

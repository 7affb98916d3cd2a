package servitor.core.engine;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import servitor.core.handbook.Edition;
import servitor.core.handbook.check.CheckedHandbook;

/** Handbooks made up by chance: pages of all sorts of steps, over tools that read, write, and act once. */
public final class RandomHandbook {
    /** The limits of what the clerk may pay alone: see the mandate below. */
    static final BigDecimal PAYS_PER_CASE = BigDecimal.valueOf(2);

    /** A history lasts over the end of a month, so that twice the limit of one can be used. */
    static final BigDecimal PAID_PER_MONTH = BigDecimal.valueOf(1_400);

    private static final String HOUSE = """
            title: A house
            time-zone: Europe/Dublin
            currency: EUR
            models:
              writer: { connection: models, name: m }
            """;
    private static final String DESKS = """
            desks: { desk: The desk }
            groups: { leads: Leads, seniors: Seniors }
            """;
    private static final String KIND = """
            title: A request
            desk: desk
            fields:
              amount: { type: number, required: true }
              ref: { required: true }
            """;
    private static final String AGENT = """
            title: Clerk
            desk: desk
            model: writer
            works: %s
            brief: { job: Do the work., rules: [Be brief.], examples: [Done.] }
            """;
    private static final String TOOLS = """
            connection: shop
            openapi: shop.openapi.yaml
            tools:
              find: { operation: find, description: Finds one thing by its reference., effect: read, problems: { 404: not-found } }
              put: { operation: put, description: Puts an amount aside for a thing., effect: write, problems: { 404: not-found, 409: invalid } }
              pay: { operation: pay, description: Pays an amount for a thing., effect: once, problems: { 404: not-found, 409: invalid }%s }
              look-up: { operation: lookUp, description: Says whether something was paid., effect: read }
            """;
    private static final String SETTLE =
            ", settle-with: { tool: shop.look-up, with: { key: \"${key}\" }, happened: found.done, result: { "
                    + "number: \"${found.number}\" }, otherwise: %s }";
    private static final String API = """
            openapi: 3.1.0
            info: { title: Shop, version: "1" }
            paths:
              /pays/{key}:
                get:
                  operationId: lookUp
                  parameters: [{ name: key, in: path, required: true, schema: { type: string } }]
                  responses: { "200": { content: { application/json: { schema: { type: object, required: [done, number], properties: { done: { type: boolean }, number: { type: string } } } } } } }
              /things/{ref}:
                get:
                  operationId: find
                  parameters: [{ name: ref, in: path, required: true, schema: { type: string } }]
                  responses: { "200": { content: { application/json: { schema: { type: object, required: [ref, price, items], properties: { ref: { type: string }, price: { type: number }, items: { type: array, items: { type: string } } } } } } } }
              /puts:
                post:
                  operationId: put
                  requestBody: { content: { application/json: { schema: { type: object, required: [ref, amount], properties: { ref: { type: string }, amount: { type: number } } } } } }
                  responses: { "200": { content: { application/json: { schema: { type: object, required: [number], properties: { number: { type: string } } } } } } }
              /pays:
                post:
                  operationId: pay
                  requestBody: { content: { application/json: { schema: { type: object, required: [ref, amount], properties: { ref: { type: string }, amount: { type: number } } } } } }
                  responses: { "200": { content: { application/json: { schema: { type: object, required: [number], properties: { number: { type: string } } } } } } }
            """;

    private final Random random;
    private final StringBuilder page = new StringBuilder();
    private final List<String> found = new ArrayList<>();
    private int steps;

    private RandomHandbook(Random random) {
        this.random = random;
    }

    /** A sound handbook of this seed. */
    public static Edition edition(long seed) {
        Map<String, String> files = files(seed);
        CheckedHandbook checked = CheckedHandbook.of(files);
        if (!checked.sound()) {
            throw new IllegalStateException(
                    "seed " + seed + ": " + checked.findings() + "\n" + files.get("runbooks/main.md"));
        }
        return new Edition(1, checked.handbook());
    }

    private static Map<String, String> files(long seed) {
        Random random = new Random(seed);
        Map<String, String> files = new LinkedHashMap<>();
        files.put("handbook.yaml", HOUSE);
        files.put("desks.yaml", DESKS);
        files.put("kinds/request.yaml", KIND);
        files.put("agents/clerk.yaml", AGENT.formatted(random.nextInt(4) == 0 ? "supervised" : "alone"));
        files.put(
                "tools/shop.yaml",
                TOOLS.formatted(
                        switch (random.nextInt(4)) {
                            case 0 -> "";
                            case 1 -> SETTLE.formatted("repeat");
                            default -> SETTLE.formatted("ask");
                        }));
        files.put("tools/shop.openapi.yaml", API);
        files.put("mandates/clerk.yaml", mandate(random));
        files.put("runbooks/sub.md", new RandomHandbook(random).sub());
        files.put("runbooks/main.md", new RandomHandbook(random).main());
        return files;
    }

    private static String mandate(Random random) {
        return """
                title: What the clerk may do
                for: [clerk]
                ask: leads
                never:
                  - { name: nothing huge, tools: [shop.pay], when: args.amount > 900.0 }
                grants:
                  - { name: look, tools: [shop.find, shop.look-up], verdict: allow }
                  - { name: small puts, tools: [shop.put], when: args.amount <= %d.0, verdict: allow }
                  - { name: large puts, tools: [shop.put], verdict: ask, of: seniors }
                  - name: small pays
                    tools: [shop.pay]
                    when: args.amount <= %d.0
                    verdict: allow
                    limits:
                      - { at-most: 2, per: [case] }
                      - { sum: args.amount, at-most: 700.00, per: [requester, month] }
                    over-limit: %s
                  - { name: large pays, tools: [shop.pay], when: args.amount <= 600.0, verdict: ask }
                  - { name: answers, tools: [case.reply], verdict: allow }
                """.formatted(
                        100 + random.nextInt(500), 50 + random.nextInt(400), random.nextBoolean() ? "ask" : "deny");
    }

    private String head(String title, String more) {
        return "---\ntitle: " + title + "\ndesk: desk\nagent: clerk\n" + more + "---\nDo the work.\n";
    }

    private String sub() {
        page.append(head("Sub", "takes: { ref: text }\ngives: { done: \"${takes.ref}\" }\n"));
        int many = 1 + random.nextInt(2);
        for (int i = 0; i < many; i++) {
            switch (random.nextInt(3)) {
                case 0 -> find("${takes.ref}");
                case 1 -> act("put", "${takes.ref}");
                default -> act("pay", "${takes.ref}");
            }
        }
        finish();
        return page.toString();
    }

    private String main() {
        String limits = random.nextInt(3) == 0
                ? "limits: { calls: %d, model-tokens: 200, time: P2D }\n".formatted(1 + random.nextInt(4))
                : random.nextBoolean() ? "limits: { calls: 30, model-tokens: 20000, time: P9D }\n" : "";
        String trouble = random.nextInt(3) == 0 ? "on-trouble: in trouble\n" : "";
        page.append(head("Main", "starts: [{ on: case-opened, kind: request }]\n" + limits + trouble));
        find("${case.fields.ref}");
        act("pay", "${f1.ref}");
        int many = 1 + random.nextInt(3);
        for (int i = 0; i < many; i++) {
            step();
        }
        finish();
        if (!trouble.isEmpty()) {
            block("In trouble", "", "hand-over: desk\nwhy: It met trouble.");
        }
        return page.toString();
    }

    private String some() {
        return found.get(random.nextInt(found.size()));
    }

    private String next(String name) {
        return name + " " + ++steps;
    }

    private void block(String title, String prose, String yaml) {
        page.append("\n## ")
                .append(title)
                .append("\n")
                .append(prose)
                .append("\n```step\n")
                .append(yaml.strip())
                .append("\n```\n");
    }

    private String routes(String... problems) {
        List<String> ways = new ArrayList<>();
        for (String problem : problems) {
            if (random.nextBoolean()) {
                ways.add(problem + ": " + (random.nextBoolean() ? "finish" : "hand over"));
            }
        }
        return ways.isEmpty() ? "" : "on: { " + String.join(", ", ways) + " }\n";
    }

    private void find(String ref) {
        String name = "f" + (found.size() + 1);
        block(
                next("Find"),
                "",
                "call: shop.find\nwith: { ref: \"" + ref + "\" }\nsave: " + name + "\n"
                        + routes("not-found", "unavailable"));
        found.add(name);
    }

    private void act(String tool, String ref) {
        String amount = found.isEmpty() || random.nextBoolean()
                ? String.valueOf(10 + random.nextInt(590))
                : "\"${" + some() + ".price}\"";
        block(
                next("Do"),
                "",
                "call: shop." + tool + "\nwith: { ref: \"" + ref + "\", amount: " + amount + " }\n"
                        + routes("refused", "declined", "expired", "not-found", "unavailable", "exhausted", "invalid"));
    }

    private void step() {
        switch (random.nextInt(13)) {
            case 0 -> find("${" + some() + ".ref}");
            case 1, 2, 11, 12 -> act("pay", "${" + some() + ".ref}");
            case 3 -> act("put", "${" + some() + ".ref}");
            case 4 -> {
                String title = next("Decide");
                block(
                        title,
                        "",
                        "decide:\n  - when: " + some() + ".price > " + (20 + random.nextInt(80))
                                + ".0\n    go: after " + title.toLowerCase() + "\n  - otherwise: "
                                + (random.nextBoolean() ? "finish" : "after " + title.toLowerCase()));
                block("After " + title, "", "set: { priority: high }");
            }
            case 5 -> {
                String name = "a" + steps;
                block(
                        next("Judge"),
                        "Say what it is.",
                        "assess: case\nanswer: { sort: \"one of [x, y]\" }\nsave: " + name + "\n"
                                + routes("invalid", "exhausted"));
            }
            case 6 -> {
                String name = "t" + steps;
                String ask = next("Ask");
                String tell = next("Tell");
                block(next("Write"), "Say that it is done.", "draft: text\nmax-words: 30\nsave: " + name);
                block(
                        ask,
                        "",
                        "approve: Send this?\nof: leads\nedit: " + name
                                + "\nfeedback: { rounds: 2 }\nwithin: PT30M\nremind: [0.5]\ngo: { approved: "
                                + tell.toLowerCase()
                                + ", declined: finish, expired: finish, exhausted: hand over }");
                block(tell, "", "tell: requester\ntext: \"${" + name + "}\"");
            }
            case 7 -> {
                String after = "after wait " + (steps + 1);
                block(
                        next("Wait"),
                        "",
                        "await: "
                                + (random.nextBoolean() ? "reply\nwithin: P1D" : "event\nnamed: come\nwithin: PT2H")
                                + "\ngo: { arrived: " + after + ", expired: " + after + " }");
                block(after, "", "set: { priority: normal }");
            }
            case 8 ->
                block(
                        next("Each"),
                        "",
                        "each: \"${" + some()
                                + ".items}\"\nas: one\nfollow: sub\nwith: { ref: \"${one}\" }\nat-once: 2\non-item-trouble: "
                                + List.of("stop", "skip", "hand-over").get(random.nextInt(3)) + "\n"
                                + routes("trouble"));
            case 9 ->
                block(
                        next("Follow"),
                        "",
                        "follow: sub\nwith: { ref: \"${" + some() + ".ref}\" }\n" + routes("trouble"));
            default -> {
                String pay = next("Pay");
                block(
                        next("Beforehand"),
                        "",
                        "approve: Pay this?\nof: leads\nfor: " + pay.toLowerCase() + "\nwithin: P1D\ngo: { approved: "
                                + pay.toLowerCase() + ", declined: finish, expired: finish }");
                block(
                        pay,
                        "",
                        "call: shop.pay\nwith: { ref: \"${" + some() + ".ref}\", amount: " + (10 + random.nextInt(590))
                                + " }\n" + routes("refused", "declined", "expired"));
            }
        }
    }

    private void finish() {
        block("Finish", "", "finish: resolved");
    }
}

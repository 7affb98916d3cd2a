package servitor.core.handbook.read;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import servitor.core.handbook.Binding.Dialogue;
import servitor.core.handbook.Binding.Directory;
import servitor.core.handbook.Binding.Program;
import servitor.core.handbook.Binding.Query;
import servitor.core.handbook.DirectoryAction;
import servitor.core.handbook.DirectoryLayout;
import servitor.core.handbook.Effect;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.Tool;
import servitor.core.handbook.finding.Code;
import servitor.core.handbook.finding.Finding;
import servitor.core.handbook.finding.Findings;
import servitor.core.json.Json;
import servitor.core.json.Schemas;

class ToolFileTests {
    private static final String TOOLS = """
            connection: anywhere
            tools:
              person:
                directory: find-person
                description: Finds one colleague by account, with groups.
                identifies: [account]
                examples: [{ account: ewan }]
              own-pay:
                query: select day, net from pay where account = :account order by day desc
                inputs: { account: { type: string, maxLength: 60 } }
                outputs: { day: string, net: number, note: { type: string, optional: true } }
                rows: 12
                description: What somebody was paid in the last months.
                conceal: [rows.net]
                examples: [{ account: ewan }]
              enter:
                dialogue:
                  - { send: "CERT ${args.account}", expect: "OK ([0-9]+)", capture: { number: 1 }, otherwise: { "NO SUCH": not-found } }
                inputs: { account: string, ship: string }
                outputs: { number: string }
                fixed: { ship: Varra }
                effect: once
                description: Enters a certificate into the register of crews.
                hints: { account: The account of the crew member }
                examples: [{ account: ewan }]
              count:
                arguments: ["--of", "${args.words}"]
                inputs: { words: string }
                outputs: { count: integer }
                effect: read
                description: Counts how often words were asked for.
                examples: [{ words: keys }]
            """;

    private static Handbook read(String tools, Findings findings) {
        return HandbookReader.read(new HashMap<>(Map.of("tools/all.yaml", tools)), findings);
    }

    private static Handbook read() {
        Findings findings = new Findings();
        Handbook handbook = read(TOOLS, findings);
        assertThat(findings.sorted().stream().filter(f -> f.place().file().equals("tools/all.yaml")))
                .isEmpty();
        return handbook;
    }

    @Test
    void eachBindingIsReadWithItsSchemas() throws Exception {
        Map<String, Tool> tools = read().tools();

        assertThat(tools.get("all.person").binding())
                .isEqualTo(new Directory("anywhere", DirectoryAction.FIND_PERSON, DirectoryLayout.INET));
        assertThat(tools.get("all.person").effect()).isEqualTo(Effect.READ);
        assertThat(tools.get("all.own-pay").binding())
                .isEqualTo(new Query(
                        "anywhere", "select day, net from pay where account = :account order by day desc", false, 12));
        assertThat(tools.get("all.enter").binding())
                .isInstanceOfSatisfying(
                        Dialogue.class,
                        dialogue -> assertThat(dialogue.lines())
                                .singleElement()
                                .satisfies(line -> assertThat(line.capture()).containsEntry("number", 1)));
        assertThat(tools.get("all.count").binding()).isInstanceOf(Program.class);
        assertThat(Schemas.violations(
                        tools.get("all.own-pay").outputs(),
                        Json.read("{\"rows\": [{\"day\": \"2026-11-01\", \"net\": 1200.5}], \"more\": false}")))
                .isEmpty();
    }

    @Test
    void whatIsFixedIsNotGivenByCallers() throws Exception {
        Tool enter = read().tools().get("all.enter");

        assertThat(enter.given().path("properties").propertyNames()).containsExactly("account");
        assertThat(Schemas.violations(enter.given(), Json.read("{\"account\": \"ewan\"}")))
                .isEmpty();
        assertThat(Schemas.violations(enter.given(), Json.read("{\"account\": \"ewan\", \"ship\": \"Sandholm\"}")))
                .isNotEmpty();
        assertThat(enter.inputs().at("/properties/account/description").asString())
                .isEqualTo("The account of the crew member");
    }

    @Test
    void aToolNeedsExactlyOneBinding() {
        Findings findings = new Findings();
        read("""
                connection: anywhere
                tools:
                  none: { effect: read, description: Nothing says how this is done at all. }
                  two: { directory: find-person, operation: findPerson, description: Two ways of doing the same thing. }
                """, findings);

        assertThat(findings.sorted().stream().filter(f -> f.code() == Code.BINDING))
                .hasSize(2);
    }

    @Test
    void aDirectorysLayoutIsACommonOneOrDiffersFromOne() {
        String file = """
                connection: directory
                layout:
                  like: posix
                  people: { base: ou=crew, account: employeeNumber, filter: "(employeeType=crew)" }
                  groups: { nested: true }
                tools:
                  find: { directory: find-person, description: Finds somebody of the crew by their number. }
                """;
        Findings findings = new Findings();
        DirectoryLayout layout =
                ((Directory) read(file, findings).tools().get("all.find").binding()).layout();
        assertThat(ofFile(findings)).isEmpty();
        assertThat(layout.people().objectClass()).isEqualTo("posixAccount");
        assertThat(layout.people().account()).isEqualTo("employeeNumber");
        assertThat(layout.groups().member()).isEqualTo("memberUid");
        assertThat(layout.groups().nested()).isTrue();

        read(file.replace("like: posix", "like: posiks").replace("employeeNumber", "\"uid)(a=*\""), findings);
        assertThat(ofFile(findings)).containsExactly(Code.BINDING, Code.TYPE);

        for (String wrong : List.of("employeeType=crew", "(a=b", "(a=b))", "(a=b)(c=d)", "()")) {
            Findings wrongly = new Findings();
            read(file.replace("(employeeType=crew)", wrong), wrongly);
            assertThat(ofFile(wrongly)).as(wrong).containsExactly(Code.TYPE);
        }
        Findings sound = new Findings();
        read(file.replace("(employeeType=crew)", "(&(a=b)(|(c=d)(cn=\\\\28x\\\\29)))"), sound);
        assertThat(ofFile(sound)).isEmpty();
    }

    @Test
    void whatATestOfTheConnectionCallsChangesNothingAndNeedsNoMoreThanItsExample() {
        Findings findings = new Findings();
        assertThat(read("check: count\n" + TOOLS, findings).checks()).containsEntry("anywhere", "all.count");
        for (String wrong : List.of("enter", "nothing")) {
            assertThat(read("check: " + wrong + "\n" + TOOLS, findings).checks())
                    .isEmpty();
        }
        assertThat(ofFile(findings)).containsExactly(Code.BINDING, Code.UNKNOWN_TOOL);
    }

    private static List<Code> ofFile(Findings findings) {
        return findings.sorted().stream()
                .filter(found -> found.place().file().equals("tools/all.yaml"))
                .filter(found -> found.severity() == Finding.Severity.ERROR)
                .map(Finding::code)
                .toList();
    }
}

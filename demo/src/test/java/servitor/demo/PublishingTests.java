package servitor.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.demo.Household.Said;

/** Publishing from folders never takes out or writes over silently, and files of a desk need an engineer of that desk. */
class PublishingTests {
    private static final String PAGE = "runbooks/lost-property.md";
    private static Household household;

    @TempDir
    Path folder;

    @BeforeAll
    static void start() {
        household = new Household();
    }

    @AfterAll
    static void stop() {
        household.close();
    }

    private static Said handbook(String person, Object... words) {
        String[] all = new String[words.length + 3];
        all[0] = "--as";
        all[1] = person;
        all[2] = "handbook";
        for (int i = 0; i < words.length; i++) {
            all[i + 3] = words[i].toString();
        }
        return household.run(all);
    }

    private static int current() {
        return household
                .as("maren")
                .get("/api/handbook/editions")
                .path(0)
                .path("number")
                .asInt();
    }

    private static void append(Path file, String text) throws IOException {
        Files.writeString(file, Files.readString(file) + text);
    }

    @Test
    void aFolderThatWasNotMadeFromWhatIsInForceTakesNothingOut() {
        Path begun = folder.resolve("begun");
        assertThat(household
                        .run("handbook", "new", begun.toString(), "--from", "answer-a-question")
                        .code())
                .isZero();
        int before = current();
        Said published = handbook("maren", "publish", begun);
        assertThat(published.code()).isEqualTo(1);
        assertThat(published.err())
                .contains("would be taken out:    runbooks/cancelled-sailing-refund.md")
                .contains("Nothing was published");
        assertThat(current()).isEqualTo(before);
    }

    @Test
    void whatIsNotAsRehearsedIsPublishedOnlyWithAReasonThatIsKept() throws IOException {
        Path begun = folder.resolve("stricter");
        handbook("maren", "new", begun, "--from-current");
        Path mandate = begun.resolve("mandates/purser.yaml");
        Files.writeString(mandate, Files.readString(mandate).replace("<= 120.0", "<= 60.0"));
        int before = current();
        Said refused = handbook("maren", "publish", begun);
        assertThat(refused.code()).isEqualTo(1);
        assertThat(refused.err())
                .contains("Not all is as rehearsed, so nothing was published.")
                .contains("rehearsals/refund-small.yaml:1:1: error: ‘A small refund is paid alone");
        assertThat(current()).isEqualTo(before);
        Said published = handbook("maren", "publish", begun, "--despite", "They follow tomorrow.");
        assertThat(published.code()).as(published.err()).isZero();
        assertThat(published.out()).contains("warning: ‘A small refund is paid alone");
        assertThat(current()).isEqualTo(before + 1);
        assertThat(household
                        .as("noor")
                        .get("/api/trail?limit=200&what=edition-published")
                        .path("items")
                        .toString())
                .contains("\"despite\":\"They follow tomorrow.\"");
        Files.writeString(mandate, Files.readString(mandate).replace("<= 60.0", "<= 120.0"));
        assertThat(handbook("maren", "publish", begun).code())
                .as("as rehearsed again")
                .isZero();
    }

    @Test
    void oneSeesTheRehearsalsOfOnesDraft() {
        var played = household.as("maren").get("/api/handbook/draft/rehearsals");
        assertThat(played.path("played").size()).isGreaterThan(30);
        assertThat(played.path("played").valueStream())
                .allMatch(one -> one.path("passed").asBoolean());
        var one = household.as("maren").get("/api/handbook/draft/rehearsals/refund-large");
        assertThat(one.at("/lanes/marks").toString()).contains("Asked Duty managers");
        assertThat(household
                        .as("noor")
                        .get("/api/cases?q=Four%20of%20us%20and%20the%20car")
                        .path("items"))
                .as("nothing of it is kept")
                .isEmpty();
    }

    @Test
    void aFolderBegunFromWhatIsInForcePublishesAndStaysTheSource() throws IOException {
        Path begun = folder.resolve("from-current");
        assertThat(handbook("maren", "new", begun, "--from-current").code()).isZero();
        append(begun.resolve(PAGE), "\n");
        Said published = handbook("maren", "publish", begun);
        assertThat(published.code()).as(published.err()).isZero();
        append(begun.resolve(PAGE), "\n");
        assertThat(handbook("maren", "publish", begun).code()).isZero();
        Files.delete(begun.resolve("intake/harbour-kiosks.yaml"));
        Said less = handbook("maren", "publish", begun);
        assertThat(less.code()).isEqualTo(1);
        assertThat(less.err()).contains("would be taken out:    intake/harbour-kiosks.yaml");
        assertThat(handbook("maren", "publish", begun, "--yes").code())
                .as("programs say so")
                .isZero();
        handbook("maren", "restore", String.valueOf(current() - 1));
    }

    @Test
    void whatOthersHavePublishedMeanwhileIsNotWrittenOverAndComesInByRebasing() throws IOException {
        Path mine = folder.resolve("mine");
        Path theirs = folder.resolve("theirs");
        handbook("maren", "export", current(), mine);
        handbook("maren", "export", current(), theirs);
        append(theirs.resolve(PAGE), "\nTheirs.\n");
        assertThat(handbook("maren", "publish", theirs).code()).isZero();

        append(mine.resolve("runbooks/complaint-answer.md"), "\nMine.\n");
        Said older = handbook("maren", "publish", mine);
        assertThat(older.code()).isEqualTo(1);
        assertThat(older.err()).contains("would be written over: " + PAGE);
        Said rebased = handbook("maren", "rebase", mine);
        assertThat(rebased.out()).contains("taken over: " + PAGE);
        assertThat(Files.readString(mine.resolve(PAGE))).contains("Theirs.");
        assertThat(Files.readString(mine.resolve("runbooks/complaint-answer.md")))
                .contains("Mine.");
        assertThat(handbook("maren", "publish", mine).code()).isZero();

        append(theirs.resolve("runbooks/complaint-answer.md"), "\nOther words.\n");
        Said both = handbook("maren", "rebase", theirs);
        assertThat(both.code()).isEqualTo(1);
        assertThat(both.out()).contains("changed here and there: runbooks/complaint-answer.md");
        assertThat(Files.readString(theirs.resolve("runbooks/complaint-answer.md")))
                .as("what one wrote stays")
                .contains("Other words.");
    }

    @Test
    void filesOfAnotherDeskNeedItsEngineerOrConsent() throws IOException {
        Path mine = folder.resolve("consent");
        handbook("maren", "export", current(), mine);
        append(mine.resolve("kinds/pay-question.yaml"), "# reworded\n");
        Said refused = handbook("maren", "publish", mine);
        assertThat(refused.code()).isEqualTo(4);
        assertThat(refused.err()).contains("people");
        String digest = refused.err().replaceAll("(?s).*consent ([0-9a-f]{64}).*", "$1");
        assertThat(handbook("osei", "consent", digest).code()).isEqualTo(4);
        Said agreed = handbook("priya", "consent", digest);
        assertThat(agreed.out()).contains("Agreed for people");
        assertThat(handbook("maren", "publish", mine).code()).isZero();
        append(mine.resolve("kinds/pay-question.yaml"), "# and again\n");
        assertThat(handbook("maren", "publish", mine).code())
                .as("the consent was to exactly those files")
                .isEqualTo(4);
    }

    /** Publishes what needs somebody's word, once priya has given hers. */
    private static Said publishAgreed(Path mine) {
        Said refused = handbook("maren", "publish", mine);
        assertThat(refused.code()).as(refused.out()).isEqualTo(4);
        assertThat(refused.err()).contains("Priya Sandoval");
        handbook("priya", "consent", refused.err().replaceAll("(?s).*consent ([0-9a-f]{64}).*", "$1"));
        Said published = handbook("maren", "publish", mine);
        assertThat(published.code()).as(published.err()).isZero();
        return published;
    }

    @Test
    void aGrantOfAnotherDesksToolAndARuleOfTheHouseNeedOthers() throws IOException {
        Path mine = folder.resolve("grant");
        handbook("maren", "export", current(), mine);
        Path bosun = mine.resolve("mandates/bosun.yaml");
        String before = Files.readString(bosun);
        Files.writeString(
                bosun,
                before.replace(
                        "grants:\n", "grants:\n  - { name: payslips, tools: [pay.own-payslips], verdict: allow }\n"));
        assertThat(handbook("maren", "publish", mine).err())
                .contains("This touches the desk people (a grant of pay.own-payslips)")
                .contains("Priya Sandoval");
        Files.writeString(bosun, before);
        append(mine.resolve("handbook.yaml"), "# a rule\n");
        assertThat(handbook("maren", "publish", mine).err())
                .contains("This changes the whole house (handbook.yaml)")
                .contains("Nothing was published");
    }

    @Test
    void whereTheHouseWantsItASecondEngineerAgrees() throws IOException {
        Path mine = folder.resolve("second");
        handbook("maren", "export", current(), mine);
        Path house = mine.resolve("handbook.yaml");
        String before = Files.readString(house);
        Files.writeString(house, before + "publish: { consent: engineers }\n");
        publishAgreed(mine);
        append(mine.resolve(PAGE), "\n");
        Said refused = handbook("maren", "publish", mine);
        assertThat(refused.code()).isEqualTo(4);
        assertThat(refused.err()).contains("second engineer");
        String digest = refused.err().replaceAll("(?s).*consent ([0-9a-f]{64}).*", "$1");
        handbook("maren", "consent", digest);
        assertThat(handbook("maren", "publish", mine).code())
                .as("one's own word is none")
                .isEqualTo(4);
        assertThat(handbook("priya", "consents").out()).contains(digest, "open");
        assertThat(handbook("osei", "consents").code()).isEqualTo(4);
        assertThat(handbook("priya", "consent", digest, "--decline", "Not now.").code())
                .isZero();
        assertThat(household.as("maren").get("/api/handbook/consents").toString())
                .contains("Not now.");
        assertThat(handbook("maren", "publish", mine).code()).isEqualTo(4);
        assertThat(handbook("priya", "consent", digest).code()).isZero();
        assertThat(handbook("maren", "publish", mine).code()).isZero();
        Files.writeString(house, before);
        Said out = handbook("maren", "publish", mine);
        assertThat(out.code()).as("nor is the rule taken out alone").isEqualTo(4);
        handbook("priya", "consent", out.err().replaceAll("(?s).*consent ([0-9a-f]{64}).*", "$1"));
        assertThat(handbook("maren", "publish", mine).code()).isZero();
    }

    @Test
    void publishingWarnsOfWhatNobodyStandsBehind() throws IOException {
        Path mine = folder.resolve("warned");
        handbook("maren", "export", current(), mine);
        Path desks = mine.resolve("desks.yaml");
        Files.writeString(
                desks,
                Files.readString(desks).replaceFirst("(?m)^groups:\\n", "groups:\n  night-watch: Night watch\n"));
        Path page = mine.resolve(PAGE);
        Files.writeString(page, Files.readString(page).replaceFirst("of: passengers", "of: night-watch"));
        assertThat(publishAgreed(mine).out()).contains("Nobody could answer for ‘night-watch’");
    }

    @Test
    void aPersonIsOnlyPutWhereThereIsSomething() {
        assertThat(household
                        .run("--as", "admin", "user", "set", "rolf", "--desks", "pasengers")
                        .err())
                .contains("There is no desk ‘pasengers’")
                .contains("passengers");
        assertThat(household
                        .run("--as", "admin", "user", "set", "rolf", "--groups", "captains")
                        .err())
                .contains("There is no group ‘captains’");
        assertThat(household
                        .run("--as", "admin", "user", "set", "rolf", "--manager", "nobody")
                        .err())
                .contains("There is no person ‘nobody’");
        assertThat(household
                        .run("--as", "admin", "user", "set", "rolf", "--roles", "captain")
                        .code())
                .isNotZero();
    }
}

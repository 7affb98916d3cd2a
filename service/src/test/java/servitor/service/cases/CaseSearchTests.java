package servitor.service.cases;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;

import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import servitor.service.Durability;
import servitor.service.ServitorSettings;

class CaseSearchTests {
    private final List<SearchedRow> table = new ArrayList<>();

    @TempDir
    private Path data;

    private CaseSearch search;

    private void start(String database) throws IOException {
        search = new CaseSearch(
                mock(CaseStore.class),
                new ServitorSettings(
                        data,
                        database,
                        data.resolve("keys"),
                        URI.create("http://127.0.0.1"),
                        Durability.PROCESS,
                        Duration.ofMinutes(3),
                        Duration.ofMinutes(2),
                        Duration.ZERO,
                        Duration.ofDays(14),
                        60,
                        Duration.ofSeconds(1),
                        java.util.List.of(),
                        false));
    }

    @AfterEach
    void stop() throws IOException {
        search.close();
    }

    private void insert(long number, String desk, String requester, String subject, String text) {
        table.add(new SearchedRow(number, "C-" + number, desk, requester, subject, text));
    }

    private List<SearchedRow> rows(long after, int limit) {
        return table.stream()
                .filter(row -> row.number() > after)
                .sorted(java.util.Comparator.comparing(SearchedRow::number))
                .limit(limit)
                .toList();
    }

    private List<Long> find(String me, List<String> desks, String words, long below) {
        search.catchUp(this::rows);
        return search.find(me, desks, words, below, 100);
    }

    @Test
    void allWordsMustStandThereAndTheirBeginningsAreEnough() throws IOException {
        start("");
        insert(1, "passengers", "ines", "Refund to Varra", "The morning boat didn't sail.");
        insert(2, "passengers", "bram", "Refund to Sandholm", "It was late.");

        assertThat(find("", List.of("passengers"), "refund", 100)).containsExactly(2L, 1L);
        assertThat(find("", List.of("passengers"), "REFU var", 100)).containsExactly(1L);
        assertThat(find("", List.of("passengers"), "c-2", 100)).containsExactly(2L);
        assertThat(find("", List.of("passengers"), "refund", 2)).containsExactly(1L);
        assertThat(find("", List.of("passengers"), "und", 100)).isEmpty();
        assertThat(find("", List.of("passengers"), " -- ", 100)).isEmpty();
    }

    @Test
    void nobodyFindsWhatTheyDoNotSee() throws IOException {
        start("");
        insert(1, "people", "ewan", "My contract", "");
        insert(2, "passengers", "ines", "My contract of carriage", "");

        assertThat(find("teun", List.of("it"), "contract", 100)).isEmpty();
        assertThat(find("ewan", List.of(), "contract", 100)).containsExactly(1L);
        assertThat(find("osei", List.of("passengers"), "contract", 100)).containsExactly(2L);
    }

    @Test
    void itCatchesUpBeforeItAnswersAndBeginsAnewAfterAStart() throws IOException {
        start("");
        insert(1, "it", "ewan", "Locked out", "");
        assertThat(find("", List.of("it"), "locked", 100)).containsExactly(1L);
        insert(2, "it", "ewan", "Locked out again", "");
        assertThat(find("", List.of("it"), "locked", 100)).containsExactly(2L, 1L);
        search.close();

        start("");
        assertThat(find("", List.of("it"), "locked", 100)).containsExactly(2L, 1L);
    }

    @Test
    void whatAnotherProcessCommitsLateIsFoundAllTheSame() throws IOException {
        start("jdbc:h2:tcp://127.0.0.1/ledger");
        insert(5, "it", "ewan", "Printer", "");
        assertThat(find("", List.of("it"), "printer", 100)).containsExactly(5L);
        insert(4, "it", "ewan", "Printer, too", ""); // was given its number before, and committed after
        assertThat(find("", List.of("it"), "printer", 100)).containsExactly(5L, 4L);
    }

    @Test
    void whatIsKeptForSearchingIsItsOwnersAlone() throws IOException {
        start("");
        insert(1, "people", "ewan", "My contract", "");
        find("ewan", List.of(), "contract", 100);

        try (var files = Files.walk(data.resolve("search"))) {
            assertThat(files)
                    .allSatisfy(file -> assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(file)))
                            .as("%s", file)
                            .isEqualTo(Files.isDirectory(file) ? "rwx------" : "rw-------"));
        }
    }
}

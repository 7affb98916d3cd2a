package servitor.service.intake;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.time.Instant;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.mockito.ArgumentCaptor;
import servitor.core.handbook.Intake;
import servitor.service.cases.CaseRow;
import servitor.service.ledger.LedgerTransaction;

class AcknowledgementsTests {
    private static final Instant NOW = Instant.parse("2026-06-01T10:00:00Z");

    @ParameterizedTest
    @CsvSource({"0, waiting", "4, waiting", "5, left", "60, left"})
    void nobodyHearsThatWeHaveItMoreThanFiveTimesAnHour(int already, String state) {
        AcknowledgementStore kept = mock(AcknowledgementStore.class);
        LedgerTransaction tx = mock(LedgerTransaction.class);
        Intake intake = mock(Intake.class);
        when(tx.now()).thenReturn(NOW);
        when(intake.name()).thenReturn("refunds");
        when(kept.since(eq("ines"), eq(NOW.minusSeconds(3_600)))).thenReturn(already);
        CaseRow row = new CaseRow(
                "C-1",
                1,
                "passengers",
                "refund",
                "ines",
                "verified",
                "mail",
                "ines",
                "S",
                "",
                "T",
                "en",
                "normal",
                "[]",
                "{}",
                "open",
                null,
                null,
                "",
                null,
                NOW,
                NOW,
                1);
        new Acknowledgements(kept).wanted(tx, row, intake);
        ArgumentCaptor<AcknowledgementRow> written = ArgumentCaptor.forClass(AcknowledgementRow.class);
        verify(kept).insert(written.capture());
        assertThat(written.getValue().state()).isEqualTo(state);
        assertThat(written.getValue().caseId()).isEqualTo("C-1");
        verify(kept, org.mockito.Mockito.never()).move(any(), any(), any(), any());
    }
}

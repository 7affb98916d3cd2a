package servitor.service.runs;

import java.math.BigDecimal;
import servitor.core.mandate.Charge;

/**
 * What a piece of work was counted for.
 *
 * @param alone whether nobody was asked about it
 */
public record CountedWork(String work, Charge charge, boolean alone) {
    BigDecimal byAgents() {
        return alone ? charge.amount() : BigDecimal.ZERO;
    }

    BigDecimal byPeople() {
        return alone ? BigDecimal.ZERO : charge.amount();
    }
}

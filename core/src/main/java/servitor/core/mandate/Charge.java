package servitor.core.mandate;

import java.math.BigDecimal;

/** What one call adds to one counter. */
public record Charge(String counter, BigDecimal amount) {}

package servitor.core.mandate;

import java.math.BigDecimal;

/** What has been used of limits. */
@FunctionalInterface
public interface Usage {
    /** What calls that nobody was asked about have added to a counter; zero for one that isn't there. */
    BigDecimal alone(String counter);

    /** Nothing has been used. */
    Usage NONE = counter -> BigDecimal.ZERO;
}

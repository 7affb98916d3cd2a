/** The simulated outside world: loopback only, deterministic, and labelled as what it is. */
@org.jspecify.annotations.NullMarked
package servitor.standins;

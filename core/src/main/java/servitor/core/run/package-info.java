/** The pure run machine: a state and one thing that happened give the next state, trail entries and commands. */
@org.jspecify.annotations.NullMarked
package servitor.core.run;

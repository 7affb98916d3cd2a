package servitor.service;

/**
 * What a commit has survived before it is acknowledged. See docs/durability.md for what each costs.
 */
public enum Durability {
    /** The end of the process at any instant; what the operating system holds may be lost with its power. */
    PROCESS,
    /** The end of the machine as well. */
    POWER
}

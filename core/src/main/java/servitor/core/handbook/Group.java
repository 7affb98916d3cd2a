package servitor.core.handbook;

/** People who answer or own together; members are kept in the ledger. */
public record Group(String name, String title) {}

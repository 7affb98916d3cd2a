package servitor.service.ledger;

/** A long text by its digest. */
public record MaterialRow(String hash, String text) {}

package servitor.service.ledger;

/** Where the trail ends. */
record HeadRow(long seq, String hash) {}

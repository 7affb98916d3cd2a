package servitor.service.ledger;

/** Two changes of the same thing at the same moment: this one came second, and nothing of it was kept. */
public final class LostRace extends RuntimeException {
    LostRace(String message) {
        super(message);
    }
}

package servitor.service.people;

/** What of a case decides who may see it and work on it. */
public interface DeskCase {
    /** The desk whose people work on it. */
    String desk();

    /** Whom it is for. */
    String requester();

    /** Who opened it: its requester, or somebody for them. */
    String openedBy();
}

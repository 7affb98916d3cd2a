package servitor.core.expression;

/** A valid expression that had no value for the data at hand, such as a field that isn't there. */
public final class EvaluationFailed extends Exception {
    public EvaluationFailed(String message) {
        super(message);
    }

    EvaluationFailed(String message, Throwable cause) {
        super(message, cause);
    }
}

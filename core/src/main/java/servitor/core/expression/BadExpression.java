package servitor.core.expression;

/** A text that isn't a valid CEL expression. The position counts from 1 within the expression's own text. */
public final class BadExpression extends Exception {
    private final int line;
    private final int column;

    BadExpression(String message, int line, int column) {
        super(message);
        this.line = line;
        this.column = column;
    }

    public int line() {
        return line;
    }

    public int column() {
        return column;
    }
}

package servitor.documents;

import servitor.core.document.ReadDocument.Row;
import servitor.core.document.ReadOutcome;

/** How much is read of one document at most: whatever there is more in it isn't looked at. */
final class Budget {
    static final int MOST_PAGES = 1_000;
    static final int MOST_ROWS = 20_000;
    static final int MOST_COLUMNS = 100;
    static final int MOST_SHEETS = 50;
    private static final int MOST_CHARACTERS = 2_000_000;

    private int characters;

    /** Counts a text that is kept. */
    String text(String text) throws Unreadable {
        characters += text.length();
        if (characters > MOST_CHARACTERS) {
            throw new Unreadable(ReadOutcome.TOO_LARGE, "there are more than " + MOST_CHARACTERS + " characters in it");
        }
        return text;
    }

    /** A text of a cell, cut where it is longer than any cell should be. */
    String cell(String text) throws Unreadable {
        return text(text.length() <= Row.LONGEST_CELL ? text : text.substring(0, Row.LONGEST_CELL));
    }
}

package servitor.core.handbook;

/** Where something stands in a handbook file. Lines and columns count from 1. */
public record Place(String file, int line, int column) implements Comparable<Place> {
    /** A place for what concerns a file as a whole. */
    public static Place top(String file) {
        return new Place(file, 1, 1);
    }

    @Override
    public int compareTo(Place other) {
        int byFile = file.compareTo(other.file);
        int byLine = byFile != 0 ? byFile : Integer.compare(line, other.line);
        return byLine != 0 ? byLine : Integer.compare(column, other.column);
    }

    @Override
    public String toString() {
        return file + ":" + line + ":" + column;
    }
}

package servitor.core.document;

import java.util.List;
import servitor.core.shape.Shape;

/**
 * A single value that somebody wants out of a document.
 *
 * @param labels what stands before it; with none, a model finds it in the text
 * @param mayBeMissing whether a document without it will do
 */
public record WantedValue(String name, Shape shape, List<String> labels, boolean mayBeMissing) {
    public WantedValue {
        labels = List.copyOf(labels);
    }

    /** Whether it is found without a model. */
    public boolean isLabelled() {
        return !labels.isEmpty();
    }
}

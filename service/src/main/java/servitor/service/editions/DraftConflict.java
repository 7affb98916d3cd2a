package servitor.service.editions;

import java.util.List;

/** Files of a draft were published with another text meanwhile; nothing is overwritten without the person's word. */
public final class DraftConflict extends RuntimeException {
    private final transient List<String> files;

    DraftConflict(List<String> files) {
        super("Somebody has published " + String.join(", ", files)
                + " meanwhile. Look at what is there now, then keep your text over it or give yours up.");
        this.files = List.copyOf(files);
    }

    public List<String> files() {
        return files;
    }
}

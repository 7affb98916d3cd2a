package servitor.service.cases;

import java.io.IOException;
import java.nio.file.Path;
import org.apache.lucene.store.FSDirectory;
import org.apache.lucene.store.FilterDirectory;
import org.apache.lucene.store.IOContext;
import org.apache.lucene.store.IndexOutput;
import org.apache.lucene.store.SingleInstanceLockFactory;
import servitor.service.OwnerOnly;

/**
 * An index on disk that its owner alone can read, as it holds the words of people's cases. One process writes it, so no lock is kept
 * there.
 */
final class OwnersDirectory extends FilterDirectory {
    private final Path folder;

    OwnersDirectory(Path folder) throws IOException {
        super(FSDirectory.open(OwnerOnly.folder(folder), new SingleInstanceLockFactory()));
        this.folder = folder;
        OwnerOnly.filesOf(folder);
    }

    @Override
    public IndexOutput createOutput(String name, IOContext context) throws IOException {
        return own(super.createOutput(name, context));
    }

    @Override
    public IndexOutput createTempOutput(String prefix, String suffix, IOContext context) throws IOException {
        return own(super.createTempOutput(prefix, suffix, context));
    }

    private IndexOutput own(IndexOutput output) throws IOException {
        OwnerOnly.file(folder.resolve(output.getName()));
        return output;
    }
}

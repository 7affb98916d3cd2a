package servitor.service.connections;

import java.io.IOException;
import java.net.URI;
import java.nio.file.Path;
import java.util.List;

/**
 * The path of a file that is followed. An admin names it as a connection, {@code file:/PATH}; it must lie in a folder that whoever runs
 * the service has allowed, also once every link in it is followed: no handbook and nobody who only reaches the API chooses what is read.
 */
public record FollowedPath(Path path, Path folder) {
    /** Begins such an address. */
    public static final String SCHEME = "file";

    /** The path that an address names; throws {@link IllegalArgumentException} when it may not be followed. */
    public static FollowedPath of(String url, List<Path> allowed) {
        URI address = URI.create(url);
        if (!SCHEME.equals(address.getScheme())
                || address.getPath() == null
                || !address.getPath().startsWith("/")
                || address.getHost() != null
                || address.getQuery() != null
                || address.getFragment() != null) {
            throw new IllegalArgumentException("‘" + url + "’ names no file: write it as in file:/var/log/kiosks.log.");
        }
        Path path = Path.of(address.getPath());
        return allowed.stream()
                .filter(folder -> !folder.toString().isBlank())
                .map(folder -> folder.toAbsolutePath().normalize())
                .filter(folder -> path.equals(path.normalize()) && path.startsWith(folder) && !path.equals(folder))
                .findFirst()
                .map(folder -> new FollowedPath(path, folder))
                .orElseThrow(() -> new IllegalArgumentException("‘" + url
                        + "’ lies in no folder whose files may be followed. Whoever runs the service allows folders with "
                        + "SERVITOR_FOLLOW_UNDER."));
    }

    /**
     * The file itself, with every link on the way followed.
     *
     * @throws IOException when it isn't there, or leads out of the folder that is allowed
     */
    public Path real() throws IOException {
        Path real = path.toRealPath();
        if (!real.startsWith(folder.toRealPath())) {
            throw new IOException("‘" + path + "’ leads out of ‘" + folder + "’, and isn't read");
        }
        return real;
    }
}

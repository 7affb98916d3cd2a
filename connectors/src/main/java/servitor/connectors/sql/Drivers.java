package servitor.connectors.sql;

import java.io.IOException;
import java.net.MalformedURLException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Driver;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.ServiceConfigurationError;
import java.util.ServiceLoader;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Drivers of other databases than those that ship: whoever runs the service puts their jars into a folder. They are read once, at the
 * start, and see nothing of the service's own classes. What is in them runs within the service: only jars that one would install.
 */
public final class Drivers {
    /** None but those that ship. */
    public static final Drivers NONE = new Drivers(List.of());

    private static final Logger LOG = LoggerFactory.getLogger(Drivers.class);

    private final List<Driver> drivers;

    private Drivers(List<Driver> drivers) {
        this.drivers = List.copyOf(drivers);
    }

    /** Those of a folder's jars; none when there is no such folder. A jar that can't be used is logged and left out. */
    public static Drivers of(Path folder) {
        if (!Files.isDirectory(folder)) {
            return NONE;
        }
        List<Driver> drivers = new ArrayList<>();
        try (Stream<Path> files = Files.list(folder)) {
            URL[] jars = files.filter(file -> file.toString().endsWith(".jar"))
                    .sorted()
                    .map(Drivers::url)
                    .toArray(URL[]::new);
            URLClassLoader loader = new URLClassLoader(jars, ClassLoader.getPlatformClassLoader());
            ServiceLoader.load(Driver.class, loader).stream()
                    .filter(found -> found.type().getClassLoader() == loader)
                    .forEach(found -> drivers.add(found.get()));
        } catch (IOException | ServiceConfigurationError e) {
            LOG.error("The drivers in {} can't all be used: take out the jar that is named.", folder, e);
        }
        drivers.forEach(driver ->
                LOG.info("Databases are asked by {} too.", driver.getClass().getName()));
        return new Drivers(drivers);
    }

    private static URL url(Path jar) {
        try {
            return jar.toUri().toURL();
        } catch (MalformedURLException e) {
            throw new IllegalStateException(e);
        }
    }

    /** The driver that takes an address. */
    Optional<Driver> taking(String url) throws SQLException {
        for (Driver driver : drivers) {
            if (driver.acceptsURL(url)) {
                return Optional.of(driver);
            }
        }
        return Optional.empty();
    }
}

package servitor.service;

import java.nio.file.Path;
import org.springframework.boot.context.properties.ConfigurationProperties;

/**
 * Settings of the service.
 *
 * @param data the folder that holds the database and what else is kept
 */
@ConfigurationProperties("servitor")
public record ServitorSettings(Path data) {}

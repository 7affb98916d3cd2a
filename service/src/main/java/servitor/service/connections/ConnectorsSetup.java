package servitor.service.connections;

import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import servitor.connectors.Connectors;
import servitor.service.ServitorSettings;

/** The one set of connectors, so that what they keep (fetched tokens, open lines) is kept once; and the one ring of keys. */
@Configuration
class ConnectorsSetup {
    @Bean
    KeyRing keyRing(ServitorSettings settings) {
        return new KeyRing(settings.keys());
    }

    @Bean
    Connectors connectors(ServitorSettings settings) {
        return new Connectors(settings.data().resolve("drivers"));
    }
}

package servitor.service.connections;

import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import servitor.connectors.Connectors;

/** The one set of connectors, so that what they keep (fetched tokens, open lines) is kept once. */
@Configuration
class ConnectorsSetup {
    @Bean
    Connectors connectors() {
        return new Connectors();
    }
}

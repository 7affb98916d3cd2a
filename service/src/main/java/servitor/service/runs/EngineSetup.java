package servitor.service.runs;

import java.security.SecureRandom;
import java.util.UUID;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import servitor.core.engine.Answering;
import servitor.core.engine.Claims;
import servitor.core.engine.Engine;
import servitor.core.engine.Steering;
import servitor.service.ServitorSettings;
import servitor.service.editions.Editions;

/** The engine of this process. */
@Configuration
class EngineSetup {

    @Bean
    Engine engine(Editions editions) {
        return new Engine(editions);
    }

    @Bean
    Steering steering(Engine engine) {
        return new Steering(engine);
    }

    @Bean
    Answering answering(Engine engine) {
        return new Answering(engine);
    }

    @Bean
    Claims claims(Engine engine, ServitorSettings settings) {
        return new Claims(engine, UUID.randomUUID().toString(), settings.lease(), new SecureRandom());
    }
}

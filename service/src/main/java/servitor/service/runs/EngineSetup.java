package servitor.service.runs;

import java.security.SecureRandom;
import java.util.UUID;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import servitor.core.engine.ApprovalAnswers;
import servitor.core.engine.Engine;
import servitor.core.engine.RunControl;
import servitor.core.engine.WorkLeases;
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
    RunControl runControl(Engine engine) {
        return new RunControl(engine);
    }

    @Bean
    ApprovalAnswers approvalAnswers(Engine engine) {
        return new ApprovalAnswers(engine);
    }

    @Bean
    WorkLeases workLeases(Engine engine, ServitorSettings settings) {
        return new WorkLeases(
                engine, UUID.randomUUID().toString(), settings.lease(), settings.longestCall(), new SecureRandom());
    }
}

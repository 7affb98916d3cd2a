package servitor.service.reading;

import java.time.Duration;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import servitor.documents.Reading;

/** The one that reads. */
@Configuration
class ReadingSetup {
    private static final Duration LONGEST = Duration.ofSeconds(20);

    @Bean
    Reading reading() {
        return Reading.within(LONGEST).startingSooner();
    }
}

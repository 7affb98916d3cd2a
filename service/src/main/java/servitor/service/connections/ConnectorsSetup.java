package servitor.service.connections;

import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import servitor.connectors.Connectors;
import servitor.core.mail.ThreadMark;
import servitor.service.ServitorSettings;

/** The one set of connectors, so that what they keep (fetched tokens, open lines) is kept once; and the one ring of keys. */
@Configuration
class ConnectorsSetup {
    @Bean
    KeyRing keyRing(ServitorSettings settings) {
        return new KeyRing(settings.keys());
    }

    /** Marks threads of mails with the ring's newest key. */
    @Bean
    ThreadMark threadMark(KeyRing keys) {
        return new ThreadMark(new ThreadMark.Signer() {
            @Override
            public String sign(String text) {
                return keys.sign(text);
            }

            @Override
            public boolean hasSigned(String text, String beginning) {
                return keys.hasSignedBeginning(text, beginning);
            }
        });
    }

    @Bean
    Connectors connectors(ServitorSettings settings) {
        return new Connectors(settings.data().resolve("drivers"));
    }
}

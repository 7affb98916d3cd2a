package servitor.service.api;

import java.io.IOException;
import java.io.InputStream;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.springframework.core.io.ClassPathResource;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.json.Json;

/** The API's own description (OpenAPI 3.1). A test holds it against the routes there are. */
@RestController
class OpenApiController {
    private final String description;

    OpenApiController() throws IOException {
        try (InputStream in = new ClassPathResource("openapi.yaml").getInputStream()) {
            this.description = Json.write(new Load(LoadSettings.builder().build()).loadFromInputStream(in));
        }
    }

    @GetMapping(path = "/api/openapi.json", produces = MediaType.APPLICATION_JSON_VALUE)
    String openApi() {
        return description;
    }
}

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
import servitor.service.ServitorSettings;
import tools.jackson.databind.node.ObjectNode;

/** The API's own description (OpenAPI 3.1), with the address that this service is reached at. A test holds it against the routes there are. */
@RestController
class OpenApiController {
    private final String description;

    OpenApiController(ServitorSettings settings) throws IOException {
        try (InputStream in = new ClassPathResource("openapi.yaml").getInputStream()) {
            ObjectNode read =
                    (ObjectNode) Json.of(new Load(LoadSettings.builder().build()).loadFromInputStream(in));
            read.putArray("servers")
                    .addObject()
                    .put("url", settings.address().toString())
                    .put("description", "This service");
            this.description = Json.write(read);
        }
    }

    @GetMapping(path = "/api/openapi.json", produces = MediaType.APPLICATION_JSON_VALUE)
    String openApi() {
        return description;
    }
}

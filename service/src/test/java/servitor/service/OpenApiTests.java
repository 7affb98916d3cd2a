package servitor.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.io.InputStream;
import java.lang.reflect.Method;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.springframework.core.annotation.AnnotatedElementUtils;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestMethod;
import org.springframework.web.bind.annotation.RestController;

/** The published description names every route there is, and none that isn't. */
class OpenApiTests {

    @Test
    void everyRouteIsDescribedAndEveryDescriptionIsARoute() throws Exception {
        assertThat(described()).containsExactlyElementsOf(routes());
    }

    @SuppressWarnings("unchecked")
    private static Set<String> described() throws Exception {
        Set<String> routes = new TreeSet<>();
        try (InputStream in = OpenApiTests.class.getResourceAsStream("/openapi.yaml")) {
            Map<String, Object> document =
                    (Map<String, Object>) new Load(LoadSettings.builder().build()).loadFromInputStream(in);
            ((Map<String, Map<String, Object>>) document.get("paths"))
                    .forEach((path, methods) ->
                            methods.keySet().forEach(method -> routes.add(method.toUpperCase() + " " + path)));
        }
        return routes;
    }

    private static Set<String> routes() {
        Set<String> routes = new TreeSet<>();
        new ClassFileImporter()
                .withImportOption(new ImportOption.DoNotIncludeTests()).importPackages("servitor.service.api").stream()
                        .filter(type -> type.isAnnotatedWith(RestController.class))
                        .forEach(type -> collect(type.reflect(), routes));
        return routes;
    }

    private static void collect(Class<?> controller, Set<String> routes) {
        RequestMapping base = AnnotatedElementUtils.findMergedAnnotation(controller, RequestMapping.class);
        String prefix = base == null ? "" : base.path()[0];
        for (Method method : controller.getDeclaredMethods()) {
            RequestMapping mapping = AnnotatedElementUtils.findMergedAnnotation(method, RequestMapping.class);
            if (mapping != null) {
                for (RequestMethod verb : mapping.method()) {
                    routes.add(verb + " " + prefix + (mapping.path().length == 0 ? "" : mapping.path()[0]));
                }
            }
        }
    }
}

package servitor.service.api;

import java.net.URI;
import java.util.List;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.handbook.FileRule;
import servitor.core.handbook.Kind;
import servitor.service.ServitorSettings;
import servitor.service.editions.Editions;
import servitor.service.people.Person;

/** The kinds of case that people are offered, each with its form, a link to it, and that link as a code to be read by a camera. */
@RestController
@RequestMapping("/api/handbook/kinds")
class KindController {
    private static final MediaType SVG = MediaType.valueOf("image/svg+xml");

    private final Editions editions;
    private final ServitorSettings settings;

    KindController(Editions editions, ServitorSettings settings) {
        this.editions = editions;
        this.settings = settings;
    }

    record KindView(
            String name,
            String title,
            String desk,
            List<Kind.Field> fields,
            FileRule files,
            List<DocumentView> documents,
            boolean everybody) {}

    /** A document that a case of the kind comes with; {@code required} says always, {@code when} that it depends on the case. */
    record DocumentView(String title, List<String> types, boolean required, boolean when) {}

    record LinkView(URI url) {}

    /** The kinds of case that one is offered. */
    @GetMapping
    List<KindView> kinds(Person person) {
        return offered(person)
                .map(kind -> new KindView(
                        kind.name(),
                        kind.title(),
                        kind.desk(),
                        List.copyOf(kind.fields().values()),
                        kind.files(),
                        kind.documents().values().stream()
                                .map(one ->
                                        new DocumentView(one.title(), one.types(), one.required(), one.when() != null))
                                .toList(),
                        kind.isPublic()))
                .toList();
    }

    /** Where the form of a kind is. */
    @GetMapping("/{name}/link")
    LinkView link(Person person, @PathVariable String name) {
        return new LinkView(form(person, name));
    }

    /** The same as a QR code; {@code as} is {@code png} or {@code svg}. */
    @GetMapping("/{name}/qr")
    ResponseEntity<byte[]> qr(
            Person person, @PathVariable String name, @RequestParam(name = "as", defaultValue = "png") String as) {
        QrCode code = QrCode.of(form(person, name).toString());
        if (!List.of("png", "svg").contains(as)) {
            throw new IllegalArgumentException("‘as’ is png or svg, not ‘" + as + "’.");
        }
        return ResponseEntity.ok()
                .contentType(as.equals("svg") ? SVG : MediaType.IMAGE_PNG)
                .header(HttpHeaders.CONTENT_DISPOSITION, "attachment; filename=\"" + name + "." + as + "\"")
                .body(as.equals("svg") ? code.svg() : code.png());
    }

    private URI form(Person person, String name) {
        Kind kind = offered(person)
                .filter(one -> one.name().equals(name))
                .findFirst()
                .orElseThrow(() -> new NotFound("kind of case", name));
        return URI.create(settings.address().toString().replaceAll("/+$", "")
                + (kind.isPublic() ? "/form/" : "/ask?kind=")
                + kind.name());
    }

    private Stream<Kind> offered(Person person) {
        return editions.current().stream()
                .flatMap(edition -> new TreeMap<>(edition.handbook().kinds()).values().stream())
                .filter(person::mayOpen);
    }
}

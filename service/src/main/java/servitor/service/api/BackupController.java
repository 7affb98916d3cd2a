package servitor.service.api;

import java.nio.file.Path;
import java.time.Duration;
import java.time.format.DateTimeParseException;
import java.util.List;
import org.springframework.core.io.FileSystemResource;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.service.ledger.Backups;
import servitor.service.people.Access;
import servitor.service.people.Person;
import servitor.service.runs.Retention;

/** Backups of everything; for admins alone, who hold everything then. */
@RestController
@RequestMapping("/api/backups")
class BackupController {
    private final Backups backups;
    private final Retention retention;

    BackupController(Backups backups, Retention retention) {
        this.backups = backups;
        this.retention = retention;
    }

    @GetMapping
    List<String> list(Person person) {
        Access.BACK_UP.require(person);
        return backups.all();
    }

    @PostMapping
    ResponseEntity<Backups.Backup> make(Person person) {
        Access.BACK_UP.require(person);
        Backups.Backup made = backups.make(person.id());
        return Made.at("/api/backups/" + made.name(), made);
    }

    @GetMapping("/{name}")
    ResponseEntity<FileSystemResource> download(Person person, @PathVariable String name) {
        Access.BACK_UP.require(person);
        Path file = backups.file(name).orElseThrow(() -> new NotFound("backup", name));
        return ResponseEntity.ok()
                .contentType(MediaType.APPLICATION_OCTET_STREAM)
                .header(
                        HttpHeaders.CONTENT_DISPOSITION,
                        ContentDisposition.attachment().filename(name).build().toString())
                .body(new FileSystemResource(file));
    }

    record Age(String age) {}

    /** Moves runs that ended longer ago than {@code age} (ISO 8601, such as P90D) out of the database, into files. */
    @PostMapping("/moving-out")
    Retention.MovedOut moveOut(Person person, @RequestBody Age body) {
        Access.BACK_UP.require(person);
        return retention.moveOut(age(body.age()), person.id());
    }

    private static Duration age(String text) {
        try {
            Duration age = Duration.parse(String.valueOf(text));
            if (age.isNegative()) {
                throw new DateTimeParseException("negative", text, 0);
            }
            return age;
        } catch (DateTimeParseException e) {
            throw new IllegalArgumentException("‘age’ must be a length of time of ISO 8601, such as P90D.", e);
        }
    }
}

package servitor.service.api;

import java.util.List;
import java.util.Map;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import servitor.connectors.mcp.RemoteTools;
import servitor.service.Precondition;
import servitor.service.connections.BrowserSignIns;
import servitor.service.connections.Connections;
import servitor.service.dispatch.ConnectionTest;
import servitor.service.editions.Editions;
import servitor.service.people.Access;
import servitor.service.people.Person;

/** Connections: admins set them, engineers see where they lead and whether they work. */
@RestController
@RequestMapping("/api/connections")
class ConnectionController {
    private final Connections connections;
    private final ConnectionTest test;
    private final BrowserSignIns signIns;
    private final Editions editions;

    ConnectionController(Connections connections, ConnectionTest test, BrowserSignIns signIns, Editions editions) {
        this.connections = connections;
        this.signIns = signIns;
        this.editions = editions;
        this.test = test;
    }

    @GetMapping
    List<Connections.Shown> connections(Person person) {
        Access.SEE_CONNECTIONS.require(person);
        return connections.all();
    }

    @GetMapping("/{name}")
    ResponseEntity<Connections.Shown> connection(Person person, @PathVariable String name) {
        Access.SEE_CONNECTIONS.require(person);
        return tagged(connections.find(name).orElseThrow(() -> new NotFound("connection", name)));
    }

    @PutMapping("/{name}")
    ResponseEntity<Connections.Shown> put(
            Person person,
            @PathVariable String name,
            @RequestBody Connections.Settings body,
            Precondition precondition) {
        Access.SET_CONNECTIONS.require(person);
        return tagged(connections.put(name, body, person.id(), precondition));
    }

    private static ResponseEntity<Connections.Shown> tagged(Connections.Shown shown) {
        return ResponseEntity.ok().eTag(Precondition.tag(shown)).body(shown);
    }

    /** Forgets a connection that nothing in force goes out by. */
    @DeleteMapping("/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void delete(Person person, @PathVariable String name) {
        Access.SET_CONNECTIONS.require(person);
        List<String> users = editions.current()
                .map(edition -> edition.handbook().goingOutBy(name))
                .orElse(List.of());
        if (!users.isEmpty()) {
            throw new Conflict(
                    "It is in use",
                    "The edition in force goes out by ‘" + name + "’ (" + String.join(", ", users)
                            + "): publish one without, then delete it.");
        }
        if (!connections.delete(name, person.id())) {
            throw new NotFound("connection", name);
        }
    }

    /** Begins signing in there in the browser of whoever asks. Nothing is signed in yet. */
    @PostMapping("/{name}/sign-in")
    BrowserSignIns.Begun beginSignIn(Person person, @PathVariable String name) throws InterruptedException {
        Access.SET_CONNECTIONS.require(person);
        return signIns.begin(name, person.id()).orElseThrow(() -> new NotFound("connection", name));
    }

    /** Keeps what a browser came back with. */
    @PostMapping("/sign-ins")
    Connections.Shown finishSignIn(Person person, @RequestBody BrowserSignIns.Return body) throws InterruptedException {
        Access.SET_CONNECTIONS.require(person);
        return signIns.finish(body, person.id());
    }

    /** Reaches the system and signs in, changing nothing there. */
    @PostMapping("/{name}/test")
    Connections.Tested test(Person person, @PathVariable String name) throws InterruptedException {
        Access.SEE_CONNECTIONS.require(person);
        return test.of(name, person.id()).orElseThrow(() -> new NotFound("connection", name));
    }

    /** What a tool server offers. */
    @GetMapping("/{name}/tools")
    List<RemoteTools.Described> tools(Person person, @PathVariable String name) throws InterruptedException {
        Access.SEE_CONNECTIONS.require(person);
        return connections.remoteTools(name).orElseThrow(() -> new NotFound("connection", name));
    }

    /** Seals all credentials with a new key. */
    @PostMapping("/key")
    Map<String, Integer> renewKey(Person person) {
        Access.SET_CONNECTIONS.require(person);
        return Map.of("renewed", connections.renewKey(person.id()));
    }
}

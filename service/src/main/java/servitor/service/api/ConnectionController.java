package servitor.service.api;

import java.util.List;
import java.util.Map;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.connectors.mcp.RemoteTools;
import servitor.service.connections.Connections;
import servitor.service.dispatch.ConnectionTest;
import servitor.service.people.Access;
import servitor.service.people.Person;

/** Connections: admins set them, engineers see where they lead and whether they work. */
@RestController
@RequestMapping("/api/connections")
class ConnectionController {
    private final Connections connections;
    private final ConnectionTest test;

    ConnectionController(Connections connections, ConnectionTest test) {
        this.connections = connections;
        this.test = test;
    }

    @GetMapping
    List<Connections.Shown> connections(Person person) {
        Access.SEE_CONNECTIONS.require(person);
        return connections.all();
    }

    @PutMapping("/{name}")
    Connections.Shown put(Person person, @PathVariable String name, @RequestBody Connections.Settings body) {
        Access.SET_CONNECTIONS.require(person);
        return connections.put(name, body, person.id());
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

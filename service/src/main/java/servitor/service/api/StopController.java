package servitor.service.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import servitor.core.engine.Stop;
import servitor.service.people.Access;
import servitor.service.people.Person;
import servitor.service.runs.Stops;

/** Emergency stops: what stands still, stopping something at once, and letting it go on. */
@RestController
@RequestMapping("/api/stops")
class StopController {
    private final Stops stops;
    private final ViewMapper describe;

    StopController(Stops stops, ViewMapper describe) {
        this.stops = stops;
        this.describe = describe;
    }

    /** {@code mayLift} says whether whoever asks may let it go on. */
    record StopView(String what, String name, String reason, Views.Actor by, Instant at, boolean mayLift) {
        static StopView of(Stop stop, Person person, Stops stops, ViewMapper describe) {
            return new StopView(
                    stop.what().word(),
                    stop.name(),
                    stop.reason(),
                    describe.person(stop.by()),
                    stop.at(),
                    stops.may(person, stop.what(), stop.name()));
        }
    }

    record NewStop(
            @Nullable String what,
            @Nullable String name,
            @Nullable String reason) {}

    record Reason(@Nullable String reason) {}

    @GetMapping
    List<StopView> list(Person person) {
        Access.SEE_THE_HOUSE.require(person);
        return stops.all().stream()
                .map(stop -> StopView.of(stop, person, stops, describe))
                .toList();
    }

    /** Nothing new leaves by an agent, tool, connection or page from here on; runs wait and say why. */
    @PostMapping
    ResponseEntity<StopView> stop(Person person, @RequestBody NewStop body) {
        Stop.What what = Stop.What.of(String.valueOf(body.what()));
        Stop stopped = stops.stop(person, what, String.valueOf(body.name()), reason(body.reason()));
        return Made.at("/api/stops", StopView.of(stopped, person, stops, describe));
    }

    @PostMapping("/{what}/{name}/lift")
    List<StopView> lift(Person person, @PathVariable String what, @PathVariable String name, @RequestBody Reason body) {
        stops.lift(person, Stop.What.of(what), name, reason(body.reason()));
        return list(person);
    }

    private static String reason(@Nullable String reason) {
        if (reason == null || reason.isBlank() || reason.length() > 1_000) {
            throw new IllegalArgumentException("‘reason’ says why, in up to 1000 characters.");
        }
        return reason.strip();
    }
}

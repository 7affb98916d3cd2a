package servitor.service.api;

import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import servitor.service.connections.Callbacks;
import servitor.service.runs.RunSteering;

/** Where outside systems say that work is done. Whatever else they send along is left unread: the work is looked at instead. */
@RestController
class CallbackController {
    private final Callbacks callbacks;
    private final RunSteering runs;

    CallbackController(Callbacks callbacks, RunSteering runs) {
        this.callbacks = callbacks;
        this.runs = runs;
    }

    /** Whether a run waited for it; one that doesn't yet looks when it does. */
    record Heard(boolean awaited) {}

    private static String shortened(String token) {
        return token.length() <= 20 ? token : token.substring(0, 20) + "…";
    }

    @PostMapping(Callbacks.PATH + "{token}")
    @ResponseStatus(HttpStatus.ACCEPTED)
    Heard calledBack(@PathVariable String token) {
        String key =
                callbacks.keyOf(token).orElseThrow(() -> new NotFound("address to call back at", shortened(token)));
        return new Heard(runs.calledBack(key));
    }
}

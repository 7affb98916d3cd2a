package servitor.service.api;

import org.jspecify.annotations.Nullable;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;
import servitor.service.live.LiveHub;
import servitor.service.people.Person;

/** Server-sent events: that something has changed, for those who may see it. */
@RestController
class LiveController {
    private final LiveHub hub;

    LiveController(LiveHub hub) {
        this.hub = hub;
    }

    @GetMapping(path = "/api/live", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
    SseEmitter live(Person person, @RequestHeader(name = "Last-Event-ID", required = false) @Nullable String last) {
        return hub.watch(person, last);
    }
}

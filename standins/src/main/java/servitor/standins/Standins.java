package servitor.standins;

import com.sun.net.httpserver.HttpExchange;
import java.net.URI;
import java.nio.file.Path;
import java.util.Map;
import servitor.standins.JsonServer.Answer;
import tools.jackson.databind.JsonNode;

/** All stand-ins together, with a control address at which each can be told to be slow, to fail or to go away. */
public final class Standins implements AutoCloseable {
    private final Fares fares;
    private final Models models;
    private final Directory directory;
    private final KitStore kit;
    private final CrewRegister crew;
    private final PayDatabase pay;
    private final Board board;
    private final ChatRoom room;
    private final MailHouse mail;
    private final Kiosks kiosks;
    private final Tracker tracker;
    private final JsonServer control;

    /** Ports the stand-ins listen on; zero takes any free one. */
    public record Ports(
            int fares,
            int models,
            int control,
            int directory,
            int kit,
            int crew,
            int pay,
            int board,
            int imap,
            int smtp,
            int mails,
            int room,
            int kiosks,
            int tracker) {
        public static final Ports ANY = new Ports(0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0);

        /** The fourteen ports after {@code port}. */
        public static Ports after(int port) {
            return new Ports(
                    port + 1, port + 2, port + 3, port + 4, port + 5, port + 6, port + 7, port + 8, port + 9, port + 10,
                    port + 11, port + 12, port + 13, port + 14);
        }
    }

    public Standins(Ports ports, Path folder) {
        this.fares = new Fares(ports.fares(), folder);
        this.models = new Models(ports.models());
        this.directory = new Directory(ports.directory());
        this.kit = new KitStore(ports.kit(), folder);
        this.crew = new CrewRegister(ports.crew());
        this.pay = new PayDatabase(ports.pay());
        this.board = new Board(ports.board());
        this.room = new ChatRoom(ports.room());
        this.mail = new MailHouse(ports.imap(), ports.smtp(), ports.mails(), room);
        this.kiosks = new Kiosks(ports.kiosks());
        this.tracker = new Tracker(ports.tracker());
        this.control = new JsonServer(ports.control(), this::tell);
    }

    public Fares fares() {
        return fares;
    }

    public Models models() {
        return models;
    }

    public Directory directory() {
        return directory;
    }

    public KitStore kit() {
        return kit;
    }

    public CrewRegister crew() {
        return crew;
    }

    public PayDatabase pay() {
        return pay;
    }

    public Board board() {
        return board;
    }

    public ChatRoom room() {
        return room;
    }

    public Kiosks kiosks() {
        return kiosks;
    }

    public Tracker tracker() {
        return tracker;
    }

    public MailHouse mail() {
        return mail;
    }

    public URI control() {
        return control.url();
    }

    private Answer tell(HttpExchange exchange, JsonNode body) {
        if (!exchange.getRequestMethod().equals("POST")) {
            return new Answer(
                    200,
                    Map.of(
                            "fares",
                            fares.url().toString(),
                            "models",
                            models.url().toString(),
                            "refunds",
                            fares.refunds(),
                            "locked",
                            directory.isLocked("E-217"),
                            "supplied",
                            kit.supplied(),
                            "certificates",
                            crew.certificates(),
                            "tasks",
                            board.tasks(),
                            "kiosks",
                            kiosks.states(),
                            "tracker",
                            tracker.url().toString(),
                            "mail",
                            Map.of(
                                    "smtp", mail.smtp().toString(),
                                    "page", mail.page().toString())));
        }
        if (body.has("away-seconds")) {
            fares.goAwayFor(body.get("away-seconds").asLong());
        }
        if (body.has("slow-millis")) {
            fares.beSlow(body.get("slow-millis").asLong());
        }
        if (body.has("failing")) {
            fares.fail(body.get("failing").asBoolean());
        }
        if (body.has("lock")) {
            directory.lock(body.get("lock").asString());
        }
        if (body.has("kiosk")) {
            kiosks.set(body.get("kiosk").asString(), body.path("state").asString("up"));
        }
        if (body.has("box")) {
            mail.open(body.get("box").asString(), body.path("secret").asString("a-box-of-its-own"));
        }
        if (body.has("away")) {
            mail.setAway(body.get("away").asString(), body.path("words").asString(""));
        }
        if (body.has("model-lapses")) {
            models.lapse(body.get("model-lapses")
                    .valueStream()
                    .map(one -> Lapse.valueOf(
                            one.asString("").toUpperCase(java.util.Locale.ROOT).replace('-', '_')))
                    .toArray(Lapse[]::new));
        }
        if (body.has("model-failures")) {
            models.fail(body.get("model-failures").asInt());
        }
        if (body.has("model-holds")) {
            models.hold(body.get("model-holds").asBoolean());
        }
        return new Answer(200, Map.of("told", body));
    }

    @Override
    public void close() {
        control.close();
        tracker.close();
        kiosks.close();
        mail.close();
        room.close();
        board.close();
        pay.close();
        crew.close();
        kit.close();
        directory.close();
        models.close();
        fares.close();
    }
}

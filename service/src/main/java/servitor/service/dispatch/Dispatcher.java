package servitor.service.dispatch;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Semaphore;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Effect;
import servitor.core.handbook.Tool;
import servitor.core.json.Json;
import servitor.core.mandate.ProposedCall;
import servitor.core.prompt.Prompt;
import servitor.core.run.RunInput;
import servitor.core.trail.Happening;
import servitor.service.approvals.Approvals;
import servitor.service.editions.Editions;
import servitor.service.ledger.Ledger;
import servitor.service.ledger.Rows.CaseRow;
import servitor.service.ledger.Rows.CommandRow;
import servitor.service.ledger.Rows.NoteRow;
import servitor.service.ledger.Rows.RunRow;
import servitor.service.ledger.Writer;
import servitor.service.ledger.Writing;
import servitor.service.runs.Runs;

/**
 * Carries out commands. A command is taken, with a lease, in a durable write of its own before anything leaves the
 * process; what came of it is fed back in another. One thread looks for work; a fixed number do it.
 */
@Component
public class Dispatcher implements SmartLifecycle {
    private static final Logger LOG = LoggerFactory.getLogger(Dispatcher.class);
    private static final int WORKERS = 24;
    private static final int MOST_TRIES = 12;
    private static final Duration LEASE = Duration.ofMinutes(3);
    private static final Duration LONGEST_PAUSE = Duration.ofSeconds(30);
    private static final Duration IDLE = Duration.ofSeconds(1);

    private final Ledger ledger;
    private final Writer writer;
    private final Runs runs;
    private final Approvals approvals;
    private final Editions editions;
    private final ToolGate gate;
    private final ModelGateway models;
    private final Clock clock;
    private final String owner = UUID.randomUUID().toString();
    private final Semaphore wake = new Semaphore(0);
    private final Semaphore free = new Semaphore(WORKERS);
    private volatile boolean running;
    private volatile ExecutorService workers = Executors.newFixedThreadPool(1);
    private volatile Thread thread = new Thread(this::loop, "dispatcher");

    Dispatcher(
            Ledger ledger,
            Writer writer,
            Runs runs,
            Approvals approvals,
            Editions editions,
            ToolGate gate,
            ModelGateway models,
            Clock clock) {
        this.ledger = ledger;
        this.writer = writer;
        this.runs = runs;
        this.approvals = approvals;
        this.editions = editions;
        this.gate = gate;
        this.models = models;
        this.clock = clock;
        writer.onCommit(changes -> {
            if (!changes.isEmpty()) {
                wake.release();
            }
        });
    }

    @Override
    public void start() {
        running = true;
        workers = Executors.newFixedThreadPool(WORKERS);
        // The database file is open to one process only, so whoever held a lease before is gone.
        int left = writer.write(Writing::dropLeases);
        if (left > 0) {
            LOG.info("{} command(s) were being carried out when the service stopped; they are taken up again.", left);
        }
        thread = new Thread(this::loop, "dispatcher");
        thread.start();
    }

    @Override
    public void stop() {
        running = false;
        wake.release();
        workers.shutdown();
        try {
            thread.join(5_000);
            if (!workers.awaitTermination(10, TimeUnit.SECONDS)) {
                LOG.warn("Some calls are still going on; they are taken up again at the next start.");
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    @Override
    public boolean isRunning() {
        return running;
    }

    private void loop() {
        while (running) {
            try {
                approvals.expireOverdue();
                approvals.remind();
                recover();
                int taken = takeDue();
                if (taken == 0) {
                    pause();
                }
            } catch (InterruptedException e) {
                LOG.debug("woken while waiting");
            } catch (RuntimeException e) {
                LOG.error("Looking for work failed; trying again shortly.", e);
                sleepAfterTrouble();
            }
        }
    }

    private void pause() throws InterruptedException {
        Duration until = ledger.nextDue()
                .map(due -> Duration.between(clock.instant(), due))
                .orElse(IDLE);
        long millis = Math.max(5, Math.min(until.toMillis(), IDLE.toMillis()));
        if (wake.tryAcquire(millis, TimeUnit.MILLISECONDS)) {
            wake.drainPermits();
        }
    }

    private void sleepAfterTrouble() {
        try {
            TimeUnit.SECONDS.sleep(1);
        } catch (InterruptedException e) {
            LOG.debug("woken while waiting");
        }
    }

    /** Takes what is due, up to the number of free workers; returns how many were taken. */
    private int takeDue() throws InterruptedException {
        free.acquire(); // wait until somebody could do it, before it is taken
        free.release();
        List<CommandRow> due = ledger.dueCommands(clock.instant(), Math.max(1, free.availablePermits()));
        if (due.isEmpty()) {
            return 0;
        }
        List<CommandRow> taken = writer.write(writing -> take(writing, due));
        for (CommandRow command : taken) {
            free.acquire();
            workers.execute(() -> carryOut(command));
        }
        return taken.size();
    }

    private List<CommandRow> take(Writing writing, List<CommandRow> due) {
        List<CommandRow> taken = new ArrayList<>();
        for (CommandRow command : due) {
            if (writing.take(command.id(), owner, writing.now().plus(LEASE))) {
                taken.add(command);
                RunRow run = writing.ledger().run(command.runId()).orElseThrow();
                if (command.kind().equals(Runs.CALL)) {
                    ProposedCall call = Json.read(command.payload(), ProposedCall.class);
                    writing.trail(
                            run.caseId(),
                            run.id(),
                            new Happening(
                                    Happening.agent(call.agent()),
                                    "call-sent",
                                    run.step(),
                                    Json.object()
                                            .put("tool", call.tool())
                                            .put("key", command.id())
                                            .put("try", command.attempts() + 1)));
                }
            }
        }
        return taken;
    }

    private void carryOut(CommandRow command) {
        try {
            Outcome outcome = attempt(command);
            writer.write(writing -> {
                settle(writing, command, outcome);
                return null;
            });
        } catch (InterruptedException e) {
            LOG.info("Command {} was interrupted; it is taken up again when its lease runs out.", command.id());
        } catch (RuntimeException e) {
            LOG.error(
                    "Command {} failed in a way nobody foresaw; it is taken up again when its lease runs out.",
                    command.id(),
                    e);
        } finally {
            free.release();
        }
    }

    private Outcome attempt(CommandRow command) throws InterruptedException {
        if (command.kind().equals(Runs.TIMER)) {
            return new Outcome.Done(new RunInput.TimeUp(command.id()));
        }
        RunRow run = ledger.run(command.runId()).orElseThrow();
        Edition edition = editions.get(run.edition());
        if (command.kind().equals(Runs.ASK_MODEL)) {
            return models.ask(edition.handbook().house(), Json.read(command.payload(), Prompt.class), command.id());
        }
        ProposedCall call = Json.read(command.payload(), ProposedCall.class);
        return gate.call(edition.handbook().tools().get(call.tool()), call, command.id());
    }

    private void settle(Writing writing, CommandRow command, Outcome outcome) {
        Instant now = writing.now();
        RunRow run = writing.ledger().run(command.runId()).orElseThrow();
        if (outcome instanceof Outcome.TryAgain again) {
            int tries = command.attempts() + 1;
            if (tries < MOST_TRIES) {
                Instant next = now.plus(pauseAfter(tries));
                if (writing.release(command.id(), owner, "pending", next)) {
                    writing.trail(
                            run.caseId(),
                            run.id(),
                            new Happening(
                                    Happening.SYSTEM,
                                    "try-again",
                                    run.step(),
                                    Json.object()
                                            .put("problem", again.problem())
                                            .put("detail", again.detail())
                                            .put("try", tries)
                                            .put("next", next.toString())));
                    writing.ledger()
                            .findCase(run.caseId())
                            .ifPresent(row -> writing.changed(
                                    new Writing.Changed("case", row.id(), row.desk(), row.requester())));
                }
                return;
            }
            finish(writing, command, run, failure(command, again));
        } else if (outcome instanceof Outcome.WriteReply reply) {
            CaseRow row = writing.ledger().findCase(run.caseId()).orElseThrow();
            if (!writing.ledger().hasNote(reply.id())) {
                String agent = Happening.agent(
                        Json.read(command.payload(), ProposedCall.class).agent());
                writing.insertNote(new NoteRow(reply.id(), row.id(), now, agent, "requester", true, reply.text()), row);
            }
            finish(
                    writing,
                    command,
                    run,
                    new RunInput.ToolAnswered(command.id(), Json.object().put("note", reply.id())));
        } else {
            finish(writing, command, run, ((Outcome.Done) outcome).input());
        }
    }

    private void finish(Writing writing, CommandRow command, RunRow run, RunInput input) {
        if (!writing.release(
                command.id(), owner, input instanceof RunInput.ToolInDoubt ? "in-doubt" : "done", writing.now())) {
            return; // somebody else took it over after our lease; their result counts
        }
        logAnswer(writing, run, input);
        runs.feed(writing, run.id(), input);
    }

    private static void logAnswer(Writing writing, RunRow run, RunInput input) {
        if (input instanceof RunInput.ToolAnswered answered) {
            writing.trail(
                    run.caseId(),
                    run.id(),
                    new Happening(
                            Happening.SYSTEM,
                            "call-answered",
                            run.step(),
                            Json.object().put("key", answered.id()).set("answer", answered.answer())));
        } else if (input instanceof RunInput.ToolFailed failed) {
            writing.trail(
                    run.caseId(),
                    run.id(),
                    new Happening(
                            Happening.SYSTEM,
                            "call-failed",
                            run.step(),
                            Json.object()
                                    .put("key", failed.id())
                                    .put("problem", failed.problem())
                                    .put("detail", failed.detail())));
        }
    }

    private static RunInput failure(CommandRow command, Outcome.TryAgain again) {
        String detail = again.detail() + " (tried " + MOST_TRIES + " times)";
        return command.kind().equals(Runs.ASK_MODEL)
                ? new RunInput.ModelFailed(command.id(), again.problem(), detail, 0)
                : new RunInput.ToolFailed(command.id(), again.problem(), detail);
    }

    /** Doubles from one second to half a minute, with a fifth of jitter so that many don't come back together. */
    private static Duration pauseAfter(int tries) {
        long base = Math.min(LONGEST_PAUSE.toMillis(), 1_000L << Math.min(10, tries - 1));
        return Duration.ofMillis(base + ThreadLocalRandom.current().nextLong(base / 5));
    }

    /** Takes up commands whose taker is gone: repeats what may be repeated, asks people about the rest. */
    private void recover() {
        List<CommandRow> abandoned = ledger.abandoned(clock.instant(), 100);
        for (CommandRow command : abandoned) {
            writer.write(writing -> {
                takeUp(writing, command);
                return null;
            });
        }
    }

    private void takeUp(Writing writing, CommandRow command) {
        RunRow run = writing.ledger().run(command.runId()).orElseThrow();
        boolean mayRepeat = !command.kind().equals(Runs.CALL) || effectOf(command, run) != Effect.ONCE;
        String was = String.valueOf(command.owner());
        if (mayRepeat) {
            if (writing.release(command.id(), was, "pending", writing.now())) {
                writing.trail(
                        run.caseId(),
                        run.id(),
                        new Happening(
                                Happening.SYSTEM,
                                "taken-up-again",
                                run.step(),
                                Json.object()
                                        .put("key", command.id())
                                        .put("why", "the service stopped while this was being done")));
            }
        } else if (writing.release(command.id(), was, "in-doubt", writing.now())) {
            runs.feed(
                    writing,
                    run.id(),
                    new RunInput.ToolInDoubt(command.id(), "the service stopped after this may have been sent"));
        }
    }

    private Effect effectOf(CommandRow command, RunRow run) {
        Tool tool = editions.get(run.edition())
                .handbook()
                .tools()
                .get(Json.read(command.payload(), ProposedCall.class).tool());
        return tool.effect();
    }
}

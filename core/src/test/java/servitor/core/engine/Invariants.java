package servitor.core.engine;

import java.math.BigDecimal;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import servitor.core.approval.ApprovalState;
import servitor.core.engine.EngineStore.KeptRun;
import servitor.core.engine.History.Broken;
import servitor.core.handbook.Binding;
import servitor.core.handbook.Edition;
import servitor.core.handbook.Effect;
import servitor.core.handbook.Tool;
import servitor.core.run.Command;
import servitor.core.run.RunState;
import servitor.core.trail.RecordedEntry;
import servitor.core.trail.Verifier;

/** What must hold when a history has ended, whatever happened in it; told by the trail and by the world outside. */
final class Invariants {
    private final MemoryStore store;
    private final World world;
    private final Edition edition;

    Invariants(MemoryStore store, World world, Edition edition) {
        this.store = store;
        this.world = world;
        this.edition = edition;
    }

    /** Throws {@link Broken} for the first thing that doesn't hold. */
    void check(Set<String> acknowledgedEntries) {
        Set<String> there = new HashSet<>();
        Verifier verifier = new Verifier();
        for (RecordedEntry entry : store.trail) {
            there.add(entry.entry().hash());
            verifier.next(entry).ifPresent(fault -> {
                throw new Broken("the trail doesn't hold: " + fault);
            });
        }
        if (!there.containsAll(acknowledgedEntries)) {
            throw new Broken("an acknowledged entry is lost");
        }
        Map<String, RecordedEntry> sent = new HashMap<>();
        Map<String, Integer> verdicts = new HashMap<>();
        Map<String, Integer> calls = new HashMap<>();
        Set<String> stopped = new HashSet<>();
        for (RecordedEntry entry : store.trail) {
            String run = entry.entry().runId();
            if (entry.entry().what().equals("verdict")
                    && (entry.data().path("verdict").asString().equals("allow")
                            || entry.data().has("settled"))) {
                verdicts.merge(run, 1, Integer::sum);
            } else if (entry.entry().what().equals("stopped")) {
                stopped.add(entry.data().path("name").asString());
            } else if (entry.entry().what().equals("stop-lifted")) {
                stopped.remove(entry.data().path("name").asString());
            } else if (entry.entry().what().equals("call-sent")) {
                String key = entry.data().path("key").asString();
                if (stopped.contains(entry.data().path("tool").asString()) || stopped.contains("clerk")) {
                    throw new Broken("the call " + key + " was sent while it was stopped");
                }
                if (sent.put(key, entry) == null && calls.merge(run, 1, Integer::sum) > verdicts.getOrDefault(run, 0)) {
                    throw new Broken("the call " + key + " was sent without a verdict before it");
                }
            } else if (entry.entry().what().equals("transcript")) {
                String kept = "Material " + entry.data().path("material").asString();
                if (!sent.containsKey(entry.data().path("key").asString()) || !store.things.containsKey(kept)) {
                    throw new Broken("entry " + entry.entry().seq() + " refers to no transcript of a call before it");
                }
            } else if (entry.entry().what().equals("settled")
                    && !entry.data().path("happened").asBoolean()) {
                calls.merge(run, -1, Integer::sum);
                verdicts.merge(run, -1, Integer::sum);
            }
        }
        world.done().forEach((key, times) -> {
            if (times > 1) {
                throw new Broken("the call " + key + " was done " + times + " times");
            }
            if (!sent.containsKey(key)) {
                throw new Broken("the call " + key + " was done and is not on the trail");
            }
        });
        allowances(calls);
        for (KeptRun kept : store.all(KeptRun.class)) {
            RunState run = kept.state();
            if (!run.status().ended()) {
                throw new Broken(
                        "the run " + run.id() + " neither ends nor waits for something named: " + run.standing());
            }
            boolean open = store.all(KeptApproval.class).stream()
                    .anyMatch(approval -> approval.run().equals(run.id()) && approval.state() == ApprovalState.OPEN);
            if (open) {
                throw new Broken("people are still asked for the run " + run.id() + ", which has ended");
            }
        }
        onlyDoneWhenSaid();
        limits(sent);
    }

    /** A run and the pages it follows send no more calls than it was allowed. */
    private void allowances(Map<String, Integer> calls) {
        for (KeptRun kept : store.all(KeptRun.class)) {
            if (kept.state().parent() == null) {
                int all = total(kept.state().id(), calls);
                if (all > kept.state().allowance().calls()) {
                    throw new Broken("the run " + kept.state().id() + " may make "
                            + kept.state().allowance().calls() + " calls and made " + all);
                }
            }
        }
    }

    private int total(String run, Map<String, Integer> calls) {
        return calls.getOrDefault(run, 0)
                + store.all(KeptRun.class).stream()
                        .filter(kept -> kept.state().parent() != null
                                && kept.state().parent().run().equals(run))
                        .mapToInt(kept -> total(kept.state().id(), calls))
                        .sum();
    }

    /** Calls that nobody was asked about stay within the limits of their grant, added up by hand from what was sent. */
    private void limits(Map<String, RecordedEntry> sent) {
        Map<String, BigDecimal> perCase = new HashMap<>();
        BigDecimal perMonth = BigDecimal.ZERO;
        Set<String> alone = new HashSet<>();
        Set<String> free = new HashSet<>();
        for (RecordedEntry entry : store.trail) {
            if (entry.entry().what().equals("settled")
                    && !entry.data().path("happened").asBoolean()) {
                free.add(entry.data().path("key").asString());
            }
        }
        for (MemoryBooks.Charged charged : store.all(MemoryBooks.Charged.class)) {
            Work work = (Work) store.things.get("Work " + charged.work());
            if (charged.alone() && work != null && sent.containsKey(work.key()) && !free.contains(work.key())) {
                alone.add(charged.work());
            }
        }
        for (String id : alone) {
            Command.CallTool call = (Command.CallTool) ((Work) store.things.get("Work " + id)).command();
            if (call.call().tool().equals("shop.pay")) {
                BigDecimal amount = call.call().args().path("amount").decimalValue();
                perMonth = perMonth.add(amount);
                perCase.merge(sent.get(call.key()).entry().caseId(), BigDecimal.ONE, BigDecimal::add);
            }
        }
        perCase.forEach((id, calls) -> {
            if (calls.compareTo(RandomHandbook.PAYS_PER_CASE) > 0) {
                throw new Broken("the case " + id + " has " + calls + " payments that nobody was asked about");
            }
        });
        if (perMonth.compareTo(RandomHandbook.PAID_PER_MONTH) > 0) {
            throw new Broken(perMonth + " were paid that nobody was asked about");
        }
        for (MemoryBooks.Counter counter : store.all(MemoryBooks.Counter.class)) {
            if (counter.alone().signum() < 0 || counter.beside().signum() < 0) {
                throw new Broken("the counter " + counter + " is below zero");
            }
        }
    }

    /** A run was told that something was done exactly when it was, for what must not be repeated. */
    private void onlyDoneWhenSaid() {
        for (RecordedEntry entry : store.trail) {
            boolean answered = entry.entry().what().equals("call-answered")
                    || entry.entry().what().equals("settled")
                            && entry.data().path("happened").asBoolean();
            String key = entry.data() == null ? "" : entry.data().path("key").asString("");
            if (answered && acts(key) && !world.wasDone(key)) {
                throw new Broken("the call " + key + " is said to be done and wasn't");
            }
            if (entry.entry().what().equals("settled")
                    && !entry.data().path("happened").asBoolean()
                    && world.wasDone(key)) {
                throw new Broken("the call " + key + " was settled as not happened, and was done");
            }
        }
    }

    private boolean acts(String key) {
        Optional<Command.CallTool> known = store.all(Work.class).stream()
                .filter(work -> work.key().equals(key) && work.command() instanceof Command.CallTool)
                .map(work -> (Command.CallTool) work.command())
                .findFirst();
        if (known.isEmpty()) {
            return false;
        }
        Command.CallTool call = known.get();
        Tool tool = edition.handbook().tools().get(call.call().tool());
        return tool.effect() != Effect.READ && !(tool.binding() instanceof Binding.BuiltIn);
    }
}

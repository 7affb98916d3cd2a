package servitor.core.engine;

import java.math.BigDecimal;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import servitor.core.handbook.Agent;
import servitor.core.handbook.Handbook;
import servitor.core.handbook.House;
import servitor.core.handbook.Runbook;
import servitor.core.mandate.Charge;
import servitor.core.prompt.Prompt;
import servitor.core.run.Command;
import servitor.core.run.RunInput;
import servitor.core.run.RunState;

/**
 * What models may use for an agent in a day, and cost in a run. The most that a question can take is reserved in the transaction that
 * asks it, and replaced by what it took in the one that hears the answer: so it holds however many runs ask at once.
 */
public final class ModelAllowances {
    /** How many tokens an answer is reserved where its model has no longest one. */
    private static final int USUAL_ANSWER = 1_000;

    private static final BigDecimal MILLION = BigDecimal.valueOf(1_000_000);
    private static final int COST_DIGITS = 6;

    private ModelAllowances() {}

    /** One allowance: what it is of in words, the counter of what is used of it, and how much there is. */
    private record Allowed(String whose, String counter, BigDecimal most, boolean money) {}

    /** Reserves what a question may take; or says why it may not be asked. */
    static Optional<String> reserve(EngineStore store, Handbook handbook, Command.AskModel ask, RunState state) {
        List<Allowed> allowed = of(store, handbook, state);
        if (allowed.isEmpty()) {
            return Optional.empty();
        }
        House.Model model = handbook.house().models().get(ask.prompt().model());
        int asked = Prompt.tokens(ask.prompt().system().length()
                + ask.prompt().user().length()
                + ask.prompt().exchanges().stream()
                        .mapToInt(one -> one.result().length())
                        .sum());
        int longest = model == null ? 0 : model.settings().longest();
        int answer = longest > 0 ? longest : USUAL_ANSWER;
        BigDecimal cost = model == null ? null : cost(model.price(), asked, answer);
        List<Charge> charges = new ArrayList<>();
        for (Allowed one : allowed) {
            BigDecimal takes = one.money ? cost : BigDecimal.valueOf(asked + answer);
            if (takes == null) {
                return Optional.of(one.whose + " has a limit in money, and nobody says what the model ‘"
                        + ask.prompt().model() + "’ costs");
            }
            BigDecimal used = store.alone(one.counter);
            if (used.add(takes).compareTo(one.most) > 0) {
                return Optional.of(one.whose + " may use " + words(handbook, one, one.most) + "; "
                        + words(handbook, one, used) + " are used or reserved, and this could take "
                        + words(handbook, one, takes));
            }
            charges.add(new Charge(one.counter, takes));
        }
        store.charge(ask.id(), charges, true);
        return Optional.empty();
    }

    /** Counts what an answer took in place of what was reserved for it; anything but a model's answer counts nothing. */
    static void settle(EngineStore store, Handbook handbook, RunState state, RunInput input) {
        if (input instanceof RunInput.ModelAnswered answered) {
            settle(store, handbook, state, answered.id(), answered.tokens(), answered.cost());
        } else if (input instanceof RunInput.ModelCalled called) {
            settle(store, handbook, state, called.id(), called.tokens(), called.cost());
        } else if (input instanceof RunInput.ModelFailed failed) {
            settle(store, handbook, state, failed.id(), failed.tokens(), failed.cost());
        }
    }

    private static void settle(
            EngineStore store, Handbook handbook, RunState state, String id, int tokens, @Nullable BigDecimal cost) {
        List<Allowed> allowed = of(store, handbook, state);
        if (allowed.isEmpty()) {
            return;
        }
        store.refund(id);
        List<Charge> charges = allowed.stream()
                .map(one -> new Charge(
                        one.counter, one.money ? cost == null ? BigDecimal.ZERO : cost : BigDecimal.valueOf(tokens)))
                .filter(charge -> charge.amount().signum() > 0)
                .toList();
        store.charge(id, charges, true);
    }

    private static List<Allowed> of(EngineStore store, Handbook handbook, RunState state) {
        List<Allowed> allowed = new ArrayList<>();
        Runbook page = handbook.runbooks().get(state.page());
        Agent agent = page == null ? null : handbook.agents().get(page.agent());
        if (agent != null && agent.allowance().tokens() != null) {
            allowed.add(new Allowed(
                    agent.title() + " today",
                    tokensOf(handbook, agent, store),
                    BigDecimal.valueOf(agent.allowance().tokens()),
                    false));
        }
        if (agent != null && agent.allowance().cost() != null) {
            allowed.add(new Allowed(
                    agent.title() + " today",
                    costOf(handbook, agent, store),
                    agent.allowance().cost(),
                    true));
        }
        RunState first = Engine.outermost(store, state);
        Runbook whole = handbook.runbooks().get(first.page());
        if (whole != null && whole.limits().cost() != null) {
            allowed.add(new Allowed(
                    "this run", "model-cost run " + first.id(), whole.limits().cost(), true));
        }
        return allowed;
    }

    private static String tokensOf(Handbook handbook, Agent agent, EngineStore store) {
        return tokensOf(
                agent.name(), LocalDate.ofInstant(store.now(), handbook.house().timeZone()));
    }

    private static String costOf(Handbook handbook, Agent agent, EngineStore store) {
        return costOf(
                agent.name(), LocalDate.ofInstant(store.now(), handbook.house().timeZone()));
    }

    /** The counter of the tokens that models used for an agent on a day. */
    public static String tokensOf(String agent, LocalDate day) {
        return "model-tokens " + agent + " " + day;
    }

    /** The counter of what models cost for an agent on a day. */
    public static String costOf(String agent, LocalDate day) {
        return "model-cost " + agent + " " + day;
    }

    private static String words(Handbook handbook, Allowed one, BigDecimal amount) {
        return one.money
                ? amount.stripTrailingZeros().toPlainString() + " "
                        + handbook.house().currency()
                : amount.toBigInteger() + " model tokens";
    }

    private static @Nullable BigDecimal cost(House.@Nullable Price price, int asked, int answered) {
        return price == null
                ? null
                : price.asked()
                        .multiply(BigDecimal.valueOf(asked))
                        .add(price.answered().multiply(BigDecimal.valueOf(answered)))
                        .divide(MILLION, COST_DIGITS, java.math.RoundingMode.HALF_UP);
    }
}

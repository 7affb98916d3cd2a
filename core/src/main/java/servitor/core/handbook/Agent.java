package servitor.core.handbook;

import java.math.BigDecimal;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;

/**
 * A named role that works cases.
 *
 * @param model the name of a model declared in {@link House#models()}
 * @param works how much it is trusted with what acts
 * @param allowance what its models may use
 * @param samples what its steps are tried on
 */
public record Agent(
        String name,
        String title,
        String desk,
        String model,
        WayOfWorking works,
        Allowance allowance,
        Brief brief,
        List<Sample> samples,
        Places places) {
    public Agent {
        samples = List.copyOf(samples);
    }

    /** The same, with the model that a step says; its own when that says none. */
    public Agent at(Step step) {
        return step.model() == null
                ? this
                : new Agent(name, title, desk, step.model(), works, allowance, brief, samples, places);
    }

    /**
     * What an agent's models may use between midnights of the house.
     *
     * @param tokens how many tokens; null for no limit
     * @param cost how much money, in the currency of the house; null for no limit
     */
    public record Allowance(
            @Nullable Integer tokens, @Nullable BigDecimal cost) {
        public static final Allowance UNLIMITED = new Allowance(null, null);
    }

    /**
     * A request that a step is tried on.
     *
     * @param page with {@code step}: where it is tried
     * @param facts what earlier steps would have saved, by its name
     */
    public record Sample(
            String page, String step, String subject, String text, String language, Map<String, JsonNode> facts) {
        public Sample {
            facts = Map.copyOf(facts);
        }
    }

    /** The agent's standing instructions. */
    public record Brief(String job, String audience, Rules rules, List<Example> examples) {
        public Brief {
            examples = List.copyOf(examples);
        }

        /** Whether it says nothing of how the work is done. */
        public boolean isThin() {
            return rules.all().isEmpty() && examples.isEmpty();
        }
    }

    /** What it always and never does, and how it writes. */
    public record Rules(List<String> always, List<String> never, List<String> writing) {
        public Rules {
            always = List.copyOf(always);
            never = List.copyOf(never);
            writing = List.copyOf(writing);
        }

        /** All of them, each as a sentence of its own. */
        public List<String> all() {
            return java.util.stream.Stream.of(
                            always.stream(),
                            never.stream().map(rule -> "Never: " + rule),
                            writing.stream().map(rule -> "Writing: " + rule))
                    .flatMap(rules -> rules)
                    .toList();
        }
    }

    /**
     * Work as it should be, or shouldn't.
     *
     * @param asked what it answers; empty where that doesn't matter
     * @param output what is written
     * @param why what is wrong with it; empty for good work
     */
    public record Example(String asked, String output, String why) {
        public boolean isGood() {
            return why.isEmpty();
        }

        /** The example in a line of words. */
        public String words() {
            return (asked.isEmpty() ? "" : "Asked: " + asked.strip() + " – ")
                    + (isGood() ? output.strip() : "Not: " + output.strip() + " – Because: " + why.strip());
        }
    }
}

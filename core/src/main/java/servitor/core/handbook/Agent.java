package servitor.core.handbook;

import java.util.List;

/**
 * A named role that works cases.
 *
 * @param model the name of a model declared in {@link House#models()}
 * @param supervised whether every call that isn't a read is asked about, whatever the mandate allows
 */
public record Agent(
        String name, String title, String desk, String model, boolean supervised, Brief brief, Places places) {

    /** The agent's standing instructions. */
    public record Brief(String job, String audience, List<String> rules, List<String> examples) {
        public Brief {
            rules = List.copyOf(rules);
            examples = List.copyOf(examples);
        }
    }
}

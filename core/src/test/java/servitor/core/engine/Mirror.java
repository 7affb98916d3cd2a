package servitor.core.engine;

import tools.jackson.databind.JsonNode;

/** Another store that is to do everything a {@link MemoryStore} does, such as a real database. */
public interface Mirror {
    /** Runs a transaction of the memory, with one of its own around it that ends in the same way. */
    void transaction(Runnable memory);

    /** Books that do everything twice, and see that both say the same. */
    EngineStore over(EngineStore memory);

    void openCase(String id, String kind, JsonNode fields);

    /** Looks at what it holds when the history has ended, with so many entries on the trail. */
    void check(int entries);

    /** Nothing is mirrored. */
    Mirror NONE = new Mirror() {
        @Override
        public void transaction(Runnable memory) {
            memory.run();
        }

        @Override
        public EngineStore over(EngineStore memory) {
            return memory;
        }

        @Override
        public void openCase(String id, String kind, JsonNode fields) {}

        @Override
        public void check(int entries) {}
    };
}

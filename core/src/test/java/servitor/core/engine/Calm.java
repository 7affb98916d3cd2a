package servitor.core.engine;

/** Nothing goes wrong. */
final class Calm implements MemoryStore.Faults {
    @Override
    public MemoryStore.Fault broken() {
        return MemoryStore.Fault.NONE;
    }

    @Override
    public void beforeCommit() {}

    @Override
    public void afterCommit() {}
}

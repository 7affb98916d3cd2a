/** Hears what has changed on the service and tells whoever asked to be told. */
class Live {
  /** Whether changes are heard right now. */
  connected = $state(false);
  #listeners = new Set<() => void>();
  #source: EventSource | undefined;
  #waiting: ReturnType<typeof setTimeout> | undefined;

  start(): void {
    this.stop();
    const source = new EventSource('/api/live');
    this.#source = source;
    source.addEventListener('hello', () => {
      this.connected = true;
      this.#tell();
    });
    source.addEventListener('changed', () => this.#tell());
    source.addEventListener('error', () => (this.connected = false));
  }

  stop(): void {
    this.#source?.close();
    this.#source = undefined;
    this.connected = false;
  }

  /** Calls `listener` after changes; the returned function ends that. */
  on(listener: () => void): () => void {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  }

  /** Many changes come together; one look at the service is enough for them. */
  #tell(): void {
    if (this.#waiting) {
      return;
    }
    this.#waiting = setTimeout(() => {
      this.#waiting = undefined;
      this.#listeners.forEach((listener) => listener());
    }, 150);
  }
}

export const live = new Live();

import { ApiError } from '../api/client';
import { live } from '../api/live.svelte';

/**
 * Something asked of the service: its value, whether it is being asked for, and what went wrong. Asked again whenever
 * something has changed. A value once shown stays while it is asked for again.
 */
export class Loaded<T> {
  value = $state<T>();
  failure = $state<ApiError>();
  /** True once the first answer has been out for longer than people notice. */
  slow = $state(false);
  #asked = 0;

  constructor(private readonly ask: () => Promise<T>) {}

  /** Asks now and after every change; to be called in an effect, which ends it. */
  follow = (): (() => void) => {
    void this.refresh();
    return live.on(() => void this.refresh());
  };

  async refresh(): Promise<void> {
    const turn = ++this.#asked;
    const timer = setTimeout(() => (this.slow = this.value === undefined), 200);
    try {
      const value = await this.ask();
      if (turn === this.#asked) {
        this.value = value;
        this.failure = undefined;
      }
    } catch (error) {
      if (turn === this.#asked) {
        this.failure = error instanceof ApiError ? error : new ApiError(0, 'Something went wrong here', String(error));
      }
    } finally {
      clearTimeout(timer);
      this.slow = false;
    }
  }
}

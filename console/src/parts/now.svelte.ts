/** The time now, ticking once in ten seconds so that "3 min. ago" stays true. */
class Now {
  ms = $state(Date.now());

  constructor() {
    setInterval(() => (this.ms = Date.now()), 10_000);
  }
}

export const now = new Now();

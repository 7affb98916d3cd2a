import { api, type ApprovalSummary } from '../api/client';
import { live } from '../api/live.svelte';

const MOST = 100;
const WANTED = 'servitor-notices';

/** What waits for the person who is signed in, as it changes: for the count in the title and, where it is wanted, for notices. */
class Asked {
  items = $state<ApprovalSummary[]>([]);
  /** Whether the browser is to tell of what comes. */
  wanted = $state(typeof localStorage !== 'undefined' && localStorage.getItem(WANTED) === 'yes');
  #known: Set<string> | undefined;

  /** How many wait; as far as is counted. */
  get count(): string {
    return this.items.length === 0 ? '' : this.items.length >= MOST ? `${MOST}+` : String(this.items.length);
  }

  /** A title of a page with the count before it. */
  titled(title: string): string {
    return `${this.count ? `(${this.count}) ` : ''}${title} · Servitor`;
  }

  /** Whether this browser can tell of anything at all. */
  get possible(): boolean {
    return typeof Notification !== 'undefined';
  }

  /** Begins to look after changes; the returned function ends that. */
  follow(): () => void {
    void this.refresh();
    return live.on(() => void this.refresh());
  }

  async refresh(): Promise<void> {
    try {
      this.take((await api.approvals({ asked: true, limit: MOST })).items);
    } catch {
      // the page that is shown says what is wrong
    }
  }

  take(items: ApprovalSummary[]): void {
    const come = this.#known ? items.filter((item) => !this.#known!.has(item.id)) : [];
    this.#known = new Set(items.map((item) => item.id));
    this.items = items;
    if (this.wanted && this.possible && Notification.permission === 'granted') {
      come.forEach((item) => this.#tell(item));
    }
  }

  #tell(item: ApprovalSummary): void {
    const notice = new Notification(item.headline, { body: `${item.caseId}, ${item.requester.name}`, tag: item.id });
    notice.onclick = () => {
      window.focus();
      location.assign(`/approvals/${item.id}`);
    };
  }

  /** Asks the browser for leave where it is needed; what is wanted is kept in this browser. */
  async want(wanted: boolean): Promise<void> {
    this.wanted = wanted && this.possible && (await Notification.requestPermission()) === 'granted';
    localStorage.setItem(WANTED, this.wanted ? 'yes' : 'no');
  }
}

export const asked = new Asked();

import { api, type ApprovalSheet, ApiError } from '../api/client';

type Says = 'approve' | 'decline' | 'feedback';

/** One person's answer to a decision sheet, as it is being made. */
export class Decision {
  sheet = $state<ApprovalSheet>();
  /** The texts as the person wants them, by their keys. */
  texts = $state<Record<string, string>>({});
  /** What is filled in, as it is typed. */
  form = $state<Record<string, string>>({});
  reason = $state('');
  /** What the person is giving words for: a reason to decline, or feedback. */
  wording = $state<'decline' | 'feedback'>();
  /** True once the person said yes to a call that changes something, and is asked once more. */
  confirming = $state(false);
  busy = $state(false);
  failure = $state<ApiError>();
  /** True when the sheet on the service is no longer the one that is shown. */
  stale = $state(false);

  /** The text of `key` as it was shown. */
  original(key: string): string {
    return this.#shown()[key] ?? '';
  }

  get edited(): boolean {
    return Object.keys(this.#changed()).length > 0;
  }

  /** Whether this person can answer now. */
  get open(): boolean {
    return this.sheet?.summary.state === 'open' && this.sheet.summary.asked;
  }

  /** How many times it may still be sent back. */
  get rounds(): number {
    return this.sheet?.sheet.feedback?.left ?? 0;
  }

  #shown(): Record<string, string> {
    return Object.fromEntries((this.sheet?.sheet.edits ?? []).map((edit) => [edit.key, edit.text]));
  }

  #changed(): Record<string, string> {
    const shown = this.#shown();
    return Object.fromEntries(Object.entries(this.texts).filter(([key, text]) => key in shown && text !== shown[key]));
  }

  /** Takes a sheet from the service. An edit in progress is kept; the sheet it began on stays what is answered. */
  take(sheet: ApprovalSheet): void {
    const same = this.sheet?.summary.id === sheet.summary.id;
    if (same && this.sheet?.digest !== sheet.digest && this.edited) {
      this.stale = true;
      return;
    }
    const keep = same && this.edited;
    if (this.sheet?.digest !== sheet.digest) {
      this.confirming = false;
    }
    this.sheet = sheet;
    if (!keep) {
      this.texts = this.#shown();
    }
    if (!same) {
      this.form = {};
      this.reason = '';
      this.wording = undefined;
      this.failure = undefined;
      this.stale = false;
    }
  }

  /** Whether the texts of the sheet can be changed here: while it is answered, or sent late. */
  get writable(): boolean {
    return this.open || this.sheet?.maySendLate === true;
  }

  /** Approves; a call that changes something needs a second movement, {@link confirm}. */
  async approve(): Promise<void> {
    if (this.open && this.sheet?.confirm) {
      this.wording = undefined;
      this.confirming = true;
      return;
    }
    await this.#answer('approve');
  }

  /** The second movement: approves what was said once more. */
  async confirm(): Promise<void> {
    if (this.confirming) {
      await this.#answer('approve');
    }
  }

  /** Sends a text that lapsed, as a note of this person's own. */
  async sendLate(): Promise<void> {
    const sheet = this.sheet;
    if (sheet?.maySendLate) {
      await this.#send(() => api.sendLate(sheet.summary.id, sheet.digest, this.edited ? this.#changed() : undefined));
    }
  }

  /** Answers as somebody's words were read; a call that changes something still needs its second movement. */
  async inWords(says: Says | 'nothing', reason: string): Promise<void> {
    if (says === 'approve') {
      await this.approve();
    } else if (says !== 'nothing') {
      this.reason = reason;
      await this.#answer(says);
    }
  }

  /** Asks for words first; declines when there are some. */
  async decline(): Promise<void> {
    await this.#withWords('decline');
  }

  /** Asks for words first; sends the draft back with them when there are some. */
  async sendBack(): Promise<void> {
    await this.#withWords('feedback');
  }

  async #withWords(says: 'decline' | 'feedback'): Promise<void> {
    if (this.wording !== says || !this.reason.trim()) {
      this.wording = says;
      return;
    }
    await this.#answer(says);
  }

  /** What was typed into the form, in the types it asks for. */
  #filled(): Record<string, unknown> | undefined {
    const fields = this.sheet?.sheet.form?.fields;
    if (!fields?.length) {
      return undefined;
    }
    return Object.fromEntries(
      fields.flatMap(({ name, type }) => {
        const typed = this.form[name];
        if (typed === undefined || typed === '') {
          return [];
        }
        return [[name, type === 'yes/no' ? typed === 'yes' : type.endsWith('number') ? Number(typed) : typed]];
      }),
    );
  }

  async #answer(decision: Says): Promise<void> {
    const sheet = this.sheet;
    if (!sheet || !this.open) {
      return;
    }
    const more =
      decision === 'approve'
        ? { ...(this.edited ? { texts: this.#changed() } : {}), ...(this.#filled() ? { form: this.#filled() } : {}) }
        : {};
    await this.#send(() => api.answer(sheet.summary.id, { decision, digest: sheet.digest, reason: this.reason, ...more }));
  }

  async #send(how: () => Promise<ApprovalSheet>): Promise<void> {
    if (this.busy) {
      return;
    }
    this.busy = true;
    this.failure = undefined;
    try {
      this.sheet = await how();
      this.texts = this.#shown();
    } catch (error) {
      this.failure = error as ApiError;
    } finally {
      this.busy = false;
      this.confirming = false;
    }
  }
}

import { api, type ApprovalSheet, Trouble } from '../api/client';

/** One person's answer to a decision sheet, as it is being made. */
export class Decision {
  sheet = $state<ApprovalSheet>();
  text = $state('');
  reason = $state('');
  declining = $state(false);
  busy = $state(false);
  trouble = $state<Trouble>();
  /** True when the sheet on the service is no longer the one that is shown. */
  stale = $state(false);

  get original(): string {
    return this.sheet?.sheet.edit?.text ?? '';
  }

  get edited(): boolean {
    return this.text !== this.original;
  }

  /** Whether this person can answer now. */
  get open(): boolean {
    return this.sheet?.summary.state === 'open' && this.sheet.summary.asked;
  }

  /** Takes a sheet from the service. An edit in progress is kept; the sheet it began on stays what is answered. */
  take(sheet: ApprovalSheet): void {
    const same = this.sheet?.summary.id === sheet.summary.id;
    if (same && this.sheet?.digest !== sheet.digest && this.edited) {
      this.stale = true;
      return;
    }
    if (!same || !this.edited) {
      this.text = sheet.sheet.edit?.text ?? '';
    }
    if (!same) {
      this.reason = '';
      this.declining = false;
      this.trouble = undefined;
      this.stale = false;
    }
    this.sheet = sheet;
  }

  async approve(): Promise<void> {
    await this.#answer('approve');
  }

  /** Asks for a reason first; declines when there is one. */
  async decline(): Promise<void> {
    if (!this.declining || !this.reason.trim()) {
      this.declining = true;
      return;
    }
    await this.#answer('decline');
  }

  async #answer(decision: 'approve' | 'decline'): Promise<void> {
    if (!this.sheet || this.busy || !this.open) {
      return;
    }
    this.busy = true;
    this.trouble = undefined;
    try {
      const edited = decision === 'approve' && this.edited ? { text: this.text } : {};
      const answered = await api.answer(this.sheet.summary.id, { decision, digest: this.sheet.digest, reason: this.reason, ...edited });
      this.sheet = answered;
    } catch (error) {
      this.trouble = error as Trouble;
    } finally {
      this.busy = false;
    }
  }
}

import { api, type Assessment, type Draft, type Finding, ApiError } from '../api/client';

/** How long after the last key a text is kept and checked, in milliseconds. */
const PAUSE = 250;

/** What one person is working on in the handbook: the files, the one in hand, and what checking says. */
export class HandbookDraft {
  draft = $state<Draft>();
  path = $state('');
  text = $state('');
  published = $state<string | null>(null);
  assessment = $state<Assessment>();
  failure = $state<ApiError>();
  /** `kept` once the service has the text as it stands here. */
  kept = $state(true);
  /** Raised when the text was replaced from outside the editor. */
  replaced = $state(0);
  #timer: ReturnType<typeof setTimeout> | undefined;
  #turn = 0;

  /** The findings of one file. */
  findings(path: string): Finding[] {
    return this.assessment?.findings.filter((finding) => finding.place.file === path) ?? [];
  }

  get file() {
    return this.draft?.files.find((file) => file.path === this.path);
  }

  async load(): Promise<void> {
    await this.#try(async () => {
      this.draft = await api.draft();
      this.assessment = await api.assess(this.path);
    });
  }

  async open(path: string): Promise<void> {
    await this.flush();
    this.path = path;
    await this.#try(async () => {
      const file = await api.draftFile(path);
      if (this.path === path) {
        this.text = file.text;
        this.published = file.published ?? null;
        this.kept = true;
        this.replaced++;
        this.assessment = await api.assess(path);
      }
    });
  }

  /** Takes what was typed; it is kept and checked after a short pause. */
  edit(text: string): void {
    if (text === this.text) {
      return;
    }
    this.text = text;
    this.kept = false;
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => void this.flush(), PAUSE);
  }

  /** A text that came from a form rather than the editor. */
  replace(text: string): void {
    this.edit(text);
    this.replaced++;
  }

  /** Keeps what has been typed so far, now. */
  async flush(): Promise<void> {
    clearTimeout(this.#timer);
    if (this.kept || !this.path) {
      return;
    }
    const { path, text } = this;
    const turn = ++this.#turn;
    await this.#try(async () => {
      const assessment = text === this.published ? await api.dropDraft(path) : await api.putDraft(path, text);
      if (turn === this.#turn && this.path === path) {
        this.assessment = assessment;
        this.kept = this.text === text;
        this.draft = await api.draft();
      }
    });
  }

  async add(path: string, text: string): Promise<void> {
    await this.#try(async () => {
      await api.putDraft(path, text);
      this.draft = await api.draft();
    });
  }

  async remove(path: string): Promise<void> {
    await this.#try(async () => {
      this.assessment = await api.putDraft(path, null);
      this.draft = await api.draft();
    });
  }

  /** Gives up the change of a file. */
  async giveUp(path: string): Promise<void> {
    clearTimeout(this.#timer);
    this.kept = true;
    await this.#try(async () => {
      this.assessment = await api.dropDraft(path);
      this.draft = await api.draft();
    });
    if (path === this.path && this.published !== null) {
      await this.open(path);
    }
  }

  /** Keeps a change over what somebody else has published meanwhile. */
  async keepMine(path: string): Promise<void> {
    await this.#try(async () => {
      this.draft = await api.keepDraft(path);
    });
  }

  async #try(work: () => Promise<void>): Promise<void> {
    try {
      await work();
      this.failure = undefined;
    } catch (error) {
      this.failure = error instanceof ApiError ? error : new ApiError(0, 'Something went wrong here', String(error));
    }
  }
}

/** A path as it stands in an address: slashes would be taken for parts of it. */
export const inAddress = (path: string): string => path.replaceAll('/', '~');
export const fromAddress = (part: string): string => part.replaceAll('~', '/');

import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { api, type Assessment, type Draft, type Finding, ApiError } from '../api/client';
import { fromAddress, HandbookDraft, inAddress } from './draft.svelte';

const PAGE = 'runbooks/refund.md';

function finding(file: string, what: string): Finding {
  return { severity: 'error', code: 'unknown-name', what, remedy: 'Name one.', place: { file, line: 3, column: 1 } };
}

function assessment(...findings: Finding[]): Assessment {
  const outline = { steps: [], tools: {}, groups: [], desks: [], agents: [], kinds: [], pages: [], fields: {} };
  return { findings, outline } as unknown as Assessment;
}

const FILES = { edition: 1, files: [{ path: PAGE, change: 'same' }] } as unknown as Draft;

/** A promise that is kept when the test says so. */
function later<T>() {
  let keep!: (value: T) => void;
  const promise = new Promise<T>((resolve) => (keep = resolve));
  return { promise, keep };
}

describe('a draft of the handbook', () => {
  let draft: HandbookDraft;
  const put = vi.spyOn(api, 'putDraft');
  const drop = vi.spyOn(api, 'dropDraft');
  const read = vi.spyOn(api, 'draftFile');
  const assess = vi.spyOn(api, 'assess');

  beforeEach(async () => {
    vi.useFakeTimers();
    vi.spyOn(api, 'draft').mockResolvedValue(FILES);
    for (const mock of [put, drop, read, assess]) mock.mockReset();
    read.mockResolvedValue({ path: PAGE, text: 'one', published: 'one' } as Awaited<ReturnType<typeof api.draftFile>>);
    assess.mockResolvedValue(assessment());
    put.mockResolvedValue(assessment());
    drop.mockResolvedValue(assessment());
    draft = new HandbookDraft();
    await draft.load();
    await draft.open(PAGE);
  });

  afterEach(() => vi.useRealTimers());

  it('keeps what was typed once, after a pause', async () => {
    draft.edit('two');
    draft.edit('three');
    expect(draft.kept).toBe(false);
    expect(put).not.toHaveBeenCalled();
    await vi.runAllTimersAsync();
    expect(put.mock.calls).toEqual([[PAGE, 'three']]);
    expect(draft.kept).toBe(true);
  });

  it('gives the change up when the text is the published one again', async () => {
    draft.edit('two');
    await vi.runAllTimersAsync();
    draft.edit('one');
    await vi.runAllTimersAsync();
    expect(drop).toHaveBeenCalledWith(PAGE);
    expect(put).toHaveBeenCalledTimes(1);
  });

  it('keeps what was typed before it opens another file', async () => {
    draft.edit('two');
    await draft.open('desks.yaml');
    expect(put).toHaveBeenCalledWith(PAGE, 'two');
    expect(draft.path).toBe('desks.yaml');
  });

  it('does not call a text kept that was typed on while it was being kept', async () => {
    const slow = later<Assessment>();
    put.mockReturnValueOnce(slow.promise);
    draft.edit('two');
    const first = draft.flush();
    draft.edit('two and more');
    slow.keep(assessment(finding(PAGE, 'first')));
    await first;
    expect(draft.kept).toBe(false);
    await vi.runAllTimersAsync();
    expect(put).toHaveBeenLastCalledWith(PAGE, 'two and more');
    expect(draft.kept).toBe(true);
  });

  it('lets a late answer about an older text say nothing', async () => {
    const slow = later<Assessment>();
    put.mockReturnValueOnce(slow.promise);
    draft.edit('two');
    const first = draft.flush();
    draft.edit('three');
    put.mockResolvedValueOnce(assessment(finding(PAGE, 'newer')));
    await draft.flush();
    slow.keep(assessment(finding(PAGE, 'older')));
    await first;
    expect(draft.findings(PAGE).map((one) => one.what)).toEqual(['newer']);
  });

  it('keeps the text in hand when the service can’t be reached, and says so', async () => {
    put.mockRejectedValueOnce(new ApiError(0, 'No connection', 'The service can’t be reached.'));
    draft.edit('two');
    await vi.runAllTimersAsync();
    expect(draft.failure?.title).toBe('No connection');
    expect(draft.text).toBe('two');
    expect(draft.kept).toBe(false);
    await draft.flush();
    expect(put).toHaveBeenCalledTimes(2);
    expect(draft.failure).toBeUndefined();
    expect(draft.kept).toBe(true);
  });

  it('tells the editor about a text that came from a form', () => {
    const before = draft.replaced;
    draft.edit('typed');
    expect(draft.replaced).toBe(before);
    draft.replace('from a form');
    expect(draft.replaced).toBe(before + 1);
  });

  it('sorts findings by their file', async () => {
    assess.mockResolvedValueOnce(assessment(finding(PAGE, 'here'), finding('desks.yaml', 'there')));
    await draft.open(PAGE);
    expect(draft.findings(PAGE).map((one) => one.what)).toEqual(['here']);
  });

  it('takes the published text back when a change is given up', async () => {
    draft.edit('two');
    await draft.giveUp(PAGE);
    expect(drop).toHaveBeenCalledWith(PAGE);
    expect(put).not.toHaveBeenCalled();
    expect(draft.text).toBe('one');
    await vi.runAllTimersAsync();
    expect(put).not.toHaveBeenCalled();
  });
});

describe('a path in an address', () => {
  it('comes back as it was', () => {
    expect(inAddress(PAGE)).not.toContain('/');
    expect(fromAddress(inAddress(PAGE))).toBe(PAGE);
  });
});

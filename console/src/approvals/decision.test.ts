import { beforeEach, describe, expect, it, vi } from 'vitest';
import { api, type ApprovalSheet, ApiError } from '../api/client';
import { Decision } from './decision.svelte';

function sheet(digest: string, text: string): ApprovalSheet {
  const requester = { id: 'ines', name: 'Ines', sort: 'person' as const };
  return {
    summary: {
      id: 'R-1-6',
      headline: 'Send?',
      question: 'Send?',
      about: 'text',
      caseId: 'C-1',
      caseSubject: 's',
      desk: 'd',
      requester,
      of: ['d'],
      opened: '2026-11-24T12:00:00Z',
      state: 'open',
      asked: true,
      quorum: 'any one of',
      rounds: 2,
      asks: ['Osei'],
    },
    digest,
    sheet: { edits: [{ key: 'answer', text, written: true }], feedback: { left: 2 } },
    pageTitle: 'p',
    stepTitle: 's',
    agent: 'Purser',
    requestText: '',
    requestFields: {},
    proof: 'signed-in',
    documents: [],
    caseVisible: true,
    known: [],
    answers: [],
    earlier: [],
    mayHandTo: [],
    maySendLate: false,
  };
}

describe('a decision', () => {
  let decision: Decision;
  const answer = vi.spyOn(api, 'answer');

  beforeEach(() => {
    decision = new Decision();
    answer.mockReset();
  });

  it('answers with the digest of the sheet that is shown, and without a text when none was changed', async () => {
    decision.take(sheet('d1', 'Hello.'));
    answer.mockResolvedValue(sheet('d1', 'Hello.'));
    await decision.approve();
    expect(answer).toHaveBeenCalledWith('R-1-6', { decision: 'approve', digest: 'd1', reason: '' });
  });

  it('sends the text as the person changed it', async () => {
    decision.take(sheet('d1', 'Hello.'));
    decision.texts['answer'] = 'Hello there.';
    answer.mockResolvedValue(sheet('d1', 'Hello.'));
    await decision.approve();
    expect(answer.mock.calls[0]![1]).toMatchObject({ texts: { answer: 'Hello there.' } });
  });

  it('asks for a reason before it declines', async () => {
    decision.take(sheet('d1', 'Hello.'));
    await decision.decline();
    expect(decision.wording).toBe('decline');
    expect(answer).not.toHaveBeenCalled();
    decision.reason = 'Too short.';
    answer.mockResolvedValue(sheet('d1', 'Hello.'));
    await decision.decline();
    expect(answer.mock.calls[0]![1]).toMatchObject({ decision: 'decline', reason: 'Too short.' });
  });

  it('sends a draft back only with words', async () => {
    decision.take(sheet('d1', 'Hello.'));
    await decision.sendBack();
    expect(answer).not.toHaveBeenCalled();
    decision.reason = 'Name the ship.';
    answer.mockResolvedValue(sheet('d1', 'Hello.'));
    await decision.sendBack();
    expect(answer.mock.calls[0]![1]).toMatchObject({ decision: 'feedback', reason: 'Name the ship.' });
  });

  it('fills a form in the types it asks for, and leaves out what is empty', async () => {
    const form = sheet('d1', 'Hello.');
    form.sheet.form = {
      fields: [
        { name: 'cost', type: 'number', options: [] },
        { name: 'ok', type: 'yes/no', options: [] },
        { name: 'why', type: 'text', options: [] },
      ],
    };
    decision.take(form);
    decision.form = { cost: '12.5', ok: 'yes', why: '' };
    answer.mockResolvedValue(form);
    await decision.approve();
    expect(answer.mock.calls[0]![1]).toMatchObject({ form: { cost: 12.5, ok: true } });
    expect(answer.mock.calls[0]![1].form).not.toHaveProperty('why');
  });

  it('keeps an edit in progress when the sheet changes underneath, and says so', () => {
    decision.take(sheet('d1', 'Hello.'));
    decision.texts['answer'] = 'Hello there.';
    decision.take(sheet('d2', 'Something else.'));
    expect(decision.texts['answer']).toBe('Hello there.');
    expect(decision.stale).toBe(true);
    expect(decision.sheet?.digest).toBe('d1');
  });

  describe('about a call that changes something', () => {
    const acting = (digest: string) => ({ ...sheet(digest, 'Hello.'), confirm: 'fares.refund: amount 42.50 EUR; for Ines' });

    it('needs a second movement, and the first can be taken back', async () => {
      decision.take(acting('d1'));
      await decision.approve();
      await decision.approve();
      expect(decision.confirming).toBe(true);
      expect(answer).not.toHaveBeenCalled();
      decision.confirming = false;
      await decision.confirm();
      expect(answer).not.toHaveBeenCalled();
      await decision.approve();
      answer.mockResolvedValue(acting('d1'));
      await decision.confirm();
      expect(answer).toHaveBeenCalledOnce();
      expect(answer.mock.calls[0]![1]).toMatchObject({ decision: 'approve', digest: 'd1' });
    });

    it('asks anew when what is asked has changed', async () => {
      decision.take(acting('d1'));
      await decision.approve();
      decision.take(acting('d2'));
      expect(decision.confirming).toBe(false);
    });
  });

  it('sends a lapsed text late, with the changes, only where the service allows it', async () => {
    const late = vi.spyOn(api, 'sendLate').mockResolvedValue(sheet('d1', 'Hello.'));
    decision.take(sheet('d1', 'Hello.'));
    await decision.sendLate();
    expect(late).not.toHaveBeenCalled();
    decision.take({ ...sheet('d1', 'Hello.'), maySendLate: true });
    decision.texts['answer'] = 'Hello, and sorry.';
    await decision.sendLate();
    expect(late).toHaveBeenCalledWith('R-1-6', 'd1', { answer: 'Hello, and sorry.' });
  });

  it('shows what the service refused', async () => {
    decision.take(sheet('d1', 'Hello.'));
    answer.mockRejectedValue(new ApiError(409, 'Already decided', 'Too late.'));
    await decision.approve();
    expect(decision.failure?.title).toBe('Already decided');
    expect(decision.busy).toBe(false);
  });
});

import { render, screen } from '@testing-library/svelte';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { api, type ApprovalSheet } from '../api/client';
import AnswerForm from './answer-form.svelte';
import { Decision } from './decision.svelte';

const SHEET = {
  summary: { id: 'R-1-6', state: 'open', asked: true },
  digest: 'd1',
  sheet: {},
  answers: [],
  maySendLate: false,
  confirm: 'fares.refund: amount 42.50 EUR; for <b>Ines</b>',
  follows: {
    yes: 'The call is made at once.',
    no: 'People take the case over; nothing is sent.',
    silence: 'It stays open until somebody answers.',
  },
} as unknown as ApprovalSheet;

describe('the answer to an approval', () => {
  beforeEach(() => {
    vi.restoreAllMocks();
  });

  it('in words is read back first, and a call still needs its second movement', async () => {
    const read = vi.spyOn(api, 'readAnswer').mockResolvedValue({ said: 'go', decision: 'approve', reason: '', words: 'Say yes.' });
    const answer = vi.spyOn(api, 'answer').mockResolvedValue(SHEET);
    const decision = new Decision();
    decision.take(SHEET);
    render(AnswerForm, { decision, onDecline: vi.fn(), onSendBack: vi.fn() });
    await userEvent.type(screen.getByLabelText('Your answer in your own words'), 'go ahead');
    await userEvent.click(screen.getByRole('button', { name: 'Read it' }));
    expect(read).toHaveBeenCalledWith('R-1-6', 'go ahead');
    expect(screen.getByRole('status')).toHaveTextContent('go: Say yes.');
    await userEvent.click(screen.getByRole('button', { name: 'Yes, that is meant' }));
    expect(answer).not.toHaveBeenCalled();
    await userEvent.click(screen.getByRole('button', { name: 'Yes, do it' }));
    expect(answer).toHaveBeenCalledOnce();
  });

  it('in words that aren’t clear answers nothing', async () => {
    vi.spyOn(api, 'readAnswer').mockResolvedValue({ said: 'unclear', decision: 'nothing', reason: 'hm', words: 'That isn’t clear.' });
    const decision = new Decision();
    decision.take(SHEET);
    render(AnswerForm, { decision, onDecline: vi.fn(), onSendBack: vi.fn() });
    await userEvent.type(screen.getByLabelText('Your answer in your own words'), 'hm');
    await userEvent.click(screen.getByRole('button', { name: 'Read it' }));
    expect(screen.getByRole('status')).toHaveTextContent('That isn’t clear.');
    expect(screen.queryByRole('button', { name: 'Yes, that is meant' })).toBeNull();
  });

  it('says what follows each answer and silence', () => {
    const decision = new Decision();
    decision.take(SHEET);
    render(AnswerForm, { decision, onDecline: vi.fn(), onSendBack: vi.fn() });
    expect(screen.getByLabelText('What follows')).toHaveTextContent('Without an answer It stays open until somebody answers.');
  });

  it('says amount and person once more before a call, as words, and only then approves', async () => {
    const answer = vi.spyOn(api, 'answer').mockResolvedValue(SHEET);
    const decision = new Decision();
    decision.take(SHEET);
    render(AnswerForm, { decision, onDecline: vi.fn(), onSendBack: vi.fn() });
    await userEvent.click(screen.getByRole('button', { name: /^Approve/ }));
    expect(answer).not.toHaveBeenCalled();
    expect(screen.getByRole('alertdialog')).toHaveTextContent('amount 42.50 EUR; for <b>Ines</b>');
    await userEvent.click(screen.getByRole('button', { name: 'Yes, do it' }));
    expect(answer).toHaveBeenCalledOnce();
  });
});
